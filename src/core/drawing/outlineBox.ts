import { type Affine, type Box, EMPTY_BOX, compose, mapBox, unionBoxes } from './affine';
import { type DrawingNode, type DrawingPicture, type NodeList, type PathStore, VERB } from './drawing';
import { strokeReach } from './strokeEdges';

/** The bounds of an outline as it is, curves included, not of its control points. Empty where there are no points. */
export function outlineBox(
  paths: PathStore,
  from: number,
  to: number,
  coordFrom: number,
  map: Affine | null = null,
): Box {
  const { verbs, coords } = paths;
  let [x0, y0, x1, y1] = EMPTY_BOX;
  const take = (x: number, y: number): void => {
    x0 = Math.min(x0, x);
    y0 = Math.min(y0, y);
    x1 = Math.max(x1, x);
    y1 = Math.max(y1, y);
  };
  const [a, b, c, d, e, f] = map ?? [1, 0, 0, 1, 0, 0];
  let at = coordFrom;
  let [x, y, sx, sy] = [0, 0, 0, 0];
  const point = (): [number, number] => {
    const [u, v] = [coords[at]!, coords[at + 1]!];
    at += 2;
    return [a * u + c * v + e, b * u + d * v + f];
  };
  for (let k = from; k < to; k++) {
    const verb = verbs[k]!;
    if (verb === VERB.close) {
      [x, y] = [sx, sy];
      continue;
    }
    const [px, py] = point();
    if (verb === VERB.move || verb === VERB.line) {
      take(px, py);
      if (verb === VERB.move) [sx, sy] = [px, py];
      [x, y] = [px, py];
      continue;
    }
    const [qx, qy] = point();
    // A quadratic curve is a cubic one with its handles at two thirds.
    const cubic = verb === VERB.cubic;
    const [ex, ey] = cubic ? point() : [qx, qy];
    const [ux, uy, vx, vy] = cubic
      ? [px, py, qx, qy]
      : [x + (2 / 3) * (px - x), y + (2 / 3) * (py - y), qx + (2 / 3) * (px - qx), qy + (2 / 3) * (py - qy)];
    take(ex, ey);
    for (const t of turningPoints(x, ux, vx, ex)) take(cubicAt(x, ux, vx, ex, t), cubicAt(y, uy, vy, ey, t));
    for (const t of turningPoints(y, uy, vy, ey)) take(cubicAt(x, ux, vx, ex, t), cubicAt(y, uy, vy, ey, t));
    [x, y] = [ex, ey];
  }
  return [x0, y0, x1, y1];
}

function cubicAt(p: number, q: number, r: number, s: number, t: number): number {
  const u = 1 - t;
  return u * u * u * p + 3 * u * u * t * q + 3 * u * t * t * r + t * t * t * s;
}

/** Where the derivative of one coordinate of a cubic curve is 0, inside it. */
function turningPoints(p: number, q: number, r: number, s: number): number[] {
  const a = -p + 3 * q - 3 * r + s;
  const b = 2 * (p - 2 * q + r);
  const c = q - p;
  const inside = (t: number): boolean => t > 0 && t < 1;
  // a t^2 * 3 / 3: the derivative over 3 is a t^2 + b t + c.
  if (Math.abs(a) < 1e-12) return b === 0 ? [] : [-c / b].filter(inside);
  const root = b * b - 4 * a * c;
  if (root < 0) return [];
  const w = Math.sqrt(root);
  return [(-b + w) / (2 * a), (-b - w) / (2 * a)].filter(inside);
}

/** What a node can touch at most, in the coordinates of its list. */
export function hullOf(node: DrawingNode, paths: PathStore, pictures: readonly DrawingPicture[]): Box {
  if (node.kind === 'picture') {
    const { width, height } = pictures[node.picture]!;
    return mapBox(node.transform, [0, 0, width, height]);
  }
  if (node.kind === 'group') return mapBox(node.transform, listHull(node.children));
  const { stroke } = node;
  const grow = stroke ? strokeReach(stroke.width, stroke.miterLimit, stroke.join, stroke.cap) : 0;
  const [x0, y0, x1, y1] = node.box;
  return mapBox(node.transform, [x0 - grow, y0 - grow, x1 + grow, y1 + grow]);
}

export function listHull({ hulls }: NodeList): Box {
  let box = EMPTY_BOX;
  for (let k = 0; k < hulls.length; k += 4) {
    box = unionBoxes(box, [hulls[k]!, hulls[k + 1]!, hulls[k + 2]!, hulls[k + 3]!]);
  }
  return box;
}

/** Bounds of the outlines and pictures of a list, without strokes, in other coordinates: what clips and masks are measured by. */
export function geometryBox(
  nodes: readonly DrawingNode[],
  paths: PathStore,
  pictures: readonly DrawingPicture[],
  map: Affine,
): Box {
  let box = EMPTY_BOX;
  for (const node of nodes) {
    if (node.kind === 'shape') {
      const { verbFrom, verbTo, coordFrom } = node;
      box = unionBoxes(box, outlineBox(paths, verbFrom, verbTo, coordFrom, compose(map, node.transform)));
    } else if (node.kind === 'picture') {
      const { width, height } = pictures[node.picture]!;
      box = unionBoxes(box, mapBox(compose(map, node.transform), [0, 0, width, height]));
    } else {
      box = unionBoxes(box, geometryBox(node.children.nodes, paths, pictures, compose(map, node.transform)));
    }
  }
  return box;
}

/** A list of nodes with what finding and blending them need. */
export function listOf(
  nodes: readonly DrawingNode[],
  paths: PathStore,
  pictures: readonly DrawingPicture[],
): NodeList {
  const hulls = new Float32Array(nodes.length * 4);
  nodes.forEach((node, k) => {
    const [x0, y0, x1, y1] = hullOf(node, paths, pictures);
    // Rounded outwards: these numbers have less digits.
    const slack = 1e-6 * Math.max(Math.abs(x0), Math.abs(y0), Math.abs(x1), Math.abs(y1));
    hulls.set([x0 - slack, y0 - slack, x1 + slack, y1 + slack], 4 * k);
  });
  const blends = nodes.some(
    (node) =>
      node.kind === 'group' && (node.blend !== 'normal' || (!standsApart(node) && node.children.blends)),
  );
  return { nodes, hulls, blends };
}

/** Whether what blends inside a group blends only with what is in it. */
function standsApart({ opacity, mask, clip, isolated }: Extract<DrawingNode, { kind: 'group' }>): boolean {
  return opacity < 1 || mask >= 0 || clip >= 0 || isolated;
}
