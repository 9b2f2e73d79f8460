import { type Rect, intersectRects } from '../geometry';
import { type Affine, type Box, compose, fromShares, invert, mapBox, pixelsUnder } from './affine';
import { Budget } from './budget';
import type {
  Drawing,
  DrawingNode,
  GroupNode,
  NodeList,
  Paint,
  Pattern,
  PictureNode,
  ShapeNode,
} from './drawing';
import { EdgeList } from './edgeList';
import { GradientColour } from './gradientColour';
import { type DrawingKernels, PLAIN_DRAWING_KERNELS } from './paintGradient';
import { PictureColour } from './samplePicture';
import { ScanRoom, keepSpans } from './scanEdges';
import { type Spans, allOf, intersectSpans, spansOf } from './spans';
import { strokeEdges } from './strokeEdges';
import {
  type Allowed,
  type Surface,
  applyMask,
  colourPaint,
  picturePaint,
  newSurface,
  paintSpans,
  surfacePaint,
} from './surface';

/** Layers, masks and patterns may stand inside each other this deep; files are refused before they come near it. */
const MOST_NESTED = 400;

/**
 * Draws a region of a drawing at a size, without smoothing: a pixel belongs to a shape when its centre does. The same pixel comes out the
 * same in whatever region it is drawn, on every machine: only sums, products, quotients and square roots are used.
 */
export class DrawingRenderer {
  private readonly drawing: Drawing;
  private readonly edges = new EdgeList();
  private readonly scanRoom = new ScanRoom();
  private budget = new Budget();
  private nested = 0;
  private readonly onSteps = (steps: number): void => this.budget.spend(steps);

  private readonly kernels: DrawingKernels;

  constructor(drawing: Drawing, kernels = PLAIN_DRAWING_KERNELS) {
    this.drawing = drawing;
    this.kernels = kernels;
  }

  /**
   * @param map from the drawing's units to device pixels.
   * @param words the region's pixels, all 0, row after row.
   * @returns the steps that it took.
   */
  draw(map: Affine, rect: Rect, words: Uint32Array, budget = new Budget()): number {
    this.budget = budget;
    this.nested = 0;
    const before = budget.remaining;
    const surface: Surface = { rect, words };
    this.list(this.drawing.root, map, surface, { rect, spans: null });
    return before - budget.remaining;
  }

  private list(list: NodeList, map: Affine, surface: Surface, allowed: Allowed): void {
    const { nodes, hulls } = list;
    const area = intersectRects(surface.rect, allowed.rect);
    if (area.width === 0 || area.height === 0) return;
    const back = invert(map);
    if (!back) return;
    this.budget.spend(nodes.length);
    // In the list's own coordinates, so that a shape far away costs four comparisons.
    const grown: Box = [area.x - 2, area.y - 2, area.x + area.width + 2, area.y + area.height + 2];
    const [x0, y0, x1, y1] = mapBox(back, grown);
    for (let k = 0; k < nodes.length; k++) {
      const at = 4 * k;
      if (hulls[at]! > x1 || hulls[at + 2]! < x0 || hulls[at + 1]! > y1 || hulls[at + 3]! < y0) continue;
      this.node(nodes[k]!, hulls.subarray(at, at + 4) as unknown as Box, map, surface, allowed);
    }
  }

  private node(node: DrawingNode, hull: Box, map: Affine, surface: Surface, allowed: Allowed): void {
    if (node.kind === 'shape') return this.shape(node, hull, map, surface, allowed);
    if (node.kind === 'picture') return this.picture(node, map, surface, allowed);
    this.group(node, hull, map, surface, allowed);
  }

  private group(group: GroupNode, hull: Box, outer: Affine, surface: Surface, allowed: Allowed): void {
    const bounds = pixelsUnder(mapBox(outer, hull), intersectRects(surface.rect, allowed.rect));
    if (bounds.width === 0 || bounds.height === 0) return;
    if (++this.nested > MOST_NESTED) this.budget.spend(Infinity);
    const map = compose(outer, group.transform);
    let inside: Allowed = { rect: bounds, spans: allowed.spans };
    if (group.clip >= 0) {
      const clip = this.clip(group.clip, map, group.box, bounds);
      inside = { rect: clip.rect, spans: allowed.spans ? intersectSpans(clip, allowed.spans) : clip };
      if (inside.spans) inside = { rect: inside.spans.rect, spans: inside.spans };
    }
    const { children } = group;
    const apart = group.opacity < 1 || group.blend !== 'normal' || group.mask >= 0;
    if (!apart && !((group.isolated || group.clip >= 0) && children.blends)) {
      this.list(children, map, surface, inside);
    } else if (inside.rect.width > 0 && inside.rect.height > 0) {
      this.budget.spend((inside.rect.width * inside.rect.height) / 2);
      const layer = newSurface(inside.rect);
      this.list(children, map, layer, inside);
      if (group.mask >= 0) this.mask(group.mask, map, group.box, layer, inside);
      this.pixels(inside.rect, 4);
      paintSpans(
        inside.spans ?? allOf(inside.rect),
        inside,
        surface,
        surfacePaint(surface, layer, group.opacity, group.blend),
      );
    }
    this.nested--;
  }

  /** Spends for painting each pixel of a rectangle. */
  private pixels(rect: Rect, steps: number): void {
    this.budget.spend(rect.width * rect.height * steps);
  }

  private mask(index: number, map: Affine, box: Box, layer: Surface, allowed: Allowed): void {
    const mask = this.drawing.masks[index]!;
    if (++this.nested > MOST_NESTED) this.budget.spend(Infinity);
    this.pixels(layer.rect, 3);
    const through = newSurface(layer.rect);
    const space = mask.byBox ? compose(map, fromShares(box)) : map;
    const area = keepSpans(this.rectangle(mask.area, space, layer.rect));
    const content = mask.contentByBox ? compose(map, fromShares(box)) : map;
    const spans = allowed.spans ? intersectSpans(area, allowed.spans) : area;
    this.list(mask.children, content, through, { rect: spans.rect, spans });
    if (mask.mask >= 0) this.mask(mask.mask, map, box, through, { rect: layer.rect, spans: allowed.spans });
    applyMask(layer, through, mask.alphaOnly);
    this.nested--;
  }

  /** What a clip lets through of a rectangle. */
  private clip(index: number, map: Affine, box: Box, bounds: Rect): Spans {
    const clip = this.drawing.clips[index]!;
    if (++this.nested > MOST_NESTED) this.budget.spend(Infinity);
    const inner = clip.byBox ? compose(map, fromShares(box)) : map;
    const spans = this.outlines(clip.children, compose(inner, clip.transform), bounds);
    const result =
      clip.clip >= 0 && spans.rect.width > 0
        ? intersectSpans(spans, this.clip(clip.clip, map, box, bounds))
        : spans;
    this.nested--;
    return result;
  }

  /** The pixels inside any outline of a list. */
  private outlines(list: NodeList, map: Affine, bounds: Rect): Spans {
    const parts: Spans[] = [];
    for (const [k, node] of list.nodes.entries()) {
      const hull = list.hulls.subarray(4 * k, 4 * k + 4) as unknown as Box;
      const rect = pixelsUnder(mapBox(map, hull), bounds);
      this.budget.spend(4);
      if (rect.width === 0 || rect.height === 0) continue;
      if (node.kind === 'shape' && node.fill) {
        const { paths } = this.drawing;
        this.edges.begin(rect);
        this.edges.outline(paths, node.verbFrom, node.verbTo, node.coordFrom, compose(map, node.transform));
        parts.push(keepSpans(this.scan(rect, node.fill.evenOdd)));
      } else if (node.kind === 'group') {
        const inner = compose(map, node.transform);
        const spans = this.outlines(node.children, inner, rect);
        parts.push(
          node.clip < 0 ? spans : intersectSpans(spans, this.clip(node.clip, inner, node.box, rect)),
        );
      }
    }
    if (parts.length === 0) return allOf({ ...bounds, width: 0, height: 0 });
    if (parts.length === 1) return parts[0]!;
    const marks = new Uint8Array(bounds.width * bounds.height);
    this.pixels(bounds, 1);
    for (const { rect, rows, ends } of parts) {
      for (let y = 0; y < rect.height; y++) {
        const row = (rect.y + y - bounds.y) * bounds.width - bounds.x;
        for (let k = rows[y]!; k < rows[y + 1]!; k++)
          marks.fill(1, row + ends[2 * k]!, row + ends[2 * k + 1]!);
      }
    }
    return spansOf(marks, bounds);
  }

  private scan(rect: Rect, evenOdd: boolean): Spans {
    const { edges } = this;
    return this.scanRoom.scan(edges.data, edges.count, rect, evenOdd, this.onSteps);
  }

  /** The pixels of a rectangle in any coordinates; good until the next scan. */
  private rectangle([x0, y0, x1, y1]: Box, map: Affine, bounds: Rect): Spans {
    const [a, b, c, d, e, f] = map;
    const at = (x: number, y: number): [number, number] => [a * x + c * y + e, b * x + d * y + f];
    const corners = [at(x0, y0), at(x1, y0), at(x1, y1), at(x0, y1)];
    this.edges.begin(bounds);
    corners.forEach((from, k) => this.edges.line(...from, ...corners[(k + 1) % 4]!));
    return this.scan(bounds, false);
  }

  private shape(shape: ShapeNode, hull: Box, outer: Affine, surface: Surface, allowed: Allowed): void {
    const rect = pixelsUnder(mapBox(outer, hull), intersectRects(surface.rect, allowed.rect));
    if (rect.width === 0 || rect.height === 0) return;
    const map = compose(outer, shape.transform);
    if (shape.strokeFirst) this.stroke(shape, map, rect, surface, allowed);
    if (shape.fill) {
      this.edges.begin(rect);
      this.edges.outline(this.drawing.paths, shape.verbFrom, shape.verbTo, shape.coordFrom, map);
      const spans = this.scan(rect, shape.fill.evenOdd);
      this.paint(spans, shape.fill.paint, shape.fill.opacity, shape.box, map, surface, allowed);
    }
    if (!shape.strokeFirst) this.stroke(shape, map, rect, surface, allowed);
  }

  private stroke(shape: ShapeNode, map: Affine, rect: Rect, surface: Surface, allowed: Allowed): void {
    const { stroke } = shape;
    if (!stroke) return;
    this.edges.begin(rect);
    const { verbFrom, verbTo, coordFrom } = shape;
    strokeEdges(this.edges, this.drawing.paths, verbFrom, verbTo, coordFrom, stroke, map, this.budget);
    this.paint(this.scan(rect, false), stroke.paint, stroke.opacity, shape.box, map, surface, allowed);
  }

  private paint(
    spans: Spans,
    paint: Paint,
    opacity: number,
    box: Box,
    map: Affine,
    surface: Surface,
    allowed: Allowed,
  ): void {
    if (spans.rows[spans.rect.height] === 0) return;
    this.budget.spend(spanned(spans) * (paint.kind === 'colour' ? (opacity < 1 ? 1 : 1 / 8) : 4));
    if (paint.kind === 'colour') {
      paintSpans(spans, allowed, surface, colourPaint(surface, paint.rgb, opacity));
    } else if (paint.kind === 'gradient') {
      const colour = new GradientColour(this.drawing.gradients[paint.index]!, map, box);
      const { words } = surface;
      paintSpans(spans, allowed, surface, (from, to, x, y) =>
        this.kernels.paintGradient(words, from, to, x, y, colour, opacity),
      );
    } else {
      const shape = keepSpans(spans);
      const inside = allowed.spans ? intersectSpans(shape, allowed.spans) : shape;
      const layer = this.pattern(this.drawing.patterns[paint.index]!, map, box, inside);
      if (layer) paintSpans(inside, allowed, surface, surfacePaint(surface, layer, opacity));
    }
  }

  /** The cells of a pattern under a shape. */
  private pattern(pattern: Pattern, map: Affine, box: Box, shape: Spans): Surface | null {
    const outer = compose(map, pattern.transform);
    const back = invert(outer);
    if (!back || shape.rect.width === 0 || shape.rect.height === 0) return null;
    if (++this.nested > MOST_NESTED) this.budget.spend(Infinity);
    const cell = pattern.byBox ? mapBox(fromShares(box), pattern.cell) : pattern.cell;
    const [width, height] = [cell[2] - cell[0], cell[3] - cell[1]];
    const { x, y } = shape.rect;
    const [x0, y0, x1, y1] = mapBox(back, [x, y, x + shape.rect.width, y + shape.rect.height]);
    const columns = [Math.floor((x0 - cell[0]) / width), Math.floor((x1 - cell[0]) / width)] as const;
    const rows = [Math.floor((y0 - cell[1]) / height), Math.floor((y1 - cell[1]) / height)] as const;
    this.budget.spend((columns[1] - columns[0] + 1) * (rows[1] - rows[0] + 1) * 40);
    this.pixels(shape.rect, 1);
    const layer = newSurface(shape.rect);
    const content = contentMap(pattern, cell, box);
    for (let j = rows[0]; j <= rows[1]; j++) {
      for (let i = columns[0]; i <= columns[1]; i++) {
        // A neighbour's first edge is this one's last, by the same sum: cells meet exactly.
        const place: Box = [
          cell[0] + i * width,
          cell[1] + j * height,
          cell[0] + (i + 1) * width,
          cell[1] + (j + 1) * height,
        ];
        const rect = pixelsUnder(mapBox(outer, place), shape.rect);
        if (rect.width === 0 || rect.height === 0) continue;
        const spans = intersectSpans(this.rectangle(place, outer, rect), shape);
        if (spans.rows[spans.rect.height] === 0) continue;
        const shifted = compose(outer, compose([1, 0, 0, 1, i * width, j * height], content));
        this.list(pattern.children, shifted, layer, { rect: spans.rect, spans });
      }
    }
    this.nested--;
    return layer;
  }

  private picture(node: PictureNode, outer: Affine, surface: Surface, allowed: Allowed): void {
    const picture = this.drawing.pictures[node.picture]!;
    const map = compose(outer, node.transform);
    const whole: Box = [0, 0, picture.width, picture.height];
    const rect = pixelsUnder(mapBox(map, whole), intersectRects(surface.rect, allowed.rect));
    if (rect.width === 0 || rect.height === 0) return;
    let spans = keepSpans(this.rectangle(whole, map, rect));
    if (node.shown) spans = intersectSpans(spans, this.rectangle(node.shown, outer, rect));
    const colour = new PictureColour(picture, map, node.smooth);
    this.budget.spend(spanned(spans) * 12);
    paintSpans(spans, allowed, surface, picturePaint(surface, colour));
  }
}

/** Pixels of a set. */
function spanned({ rect, rows, ends }: Spans): number {
  let sum = 0;
  for (let k = 0; k < rows[rect.height]!; k++) sum += ends[2 * k + 1]! - ends[2 * k]!;
  return sum;
}

/** From the content of a pattern to the coordinates of its cells, for the first one: the content's origin is the cell's corner. */
function contentMap(pattern: Pattern, cell: Box, box: Box): Affine {
  const { viewBox } = pattern;
  if (viewBox) return viewMap(viewBox.box, cell, viewBox);
  const [sx, sy] = pattern.contentByBox ? [box[2] - box[0], box[3] - box[1]] : [1, 1];
  return [sx, 0, 0, sy, cell[0], cell[1]];
}

/** From a view box to the place that it is shown in, as `preserveAspectRatio` wants it. */
export function viewMap(
  from: Box,
  to: Box,
  how: {
    readonly stretch: boolean;
    readonly alignX: number;
    readonly alignY: number;
    readonly slice: boolean;
  },
): Affine {
  const [w, h] = [to[2] - to[0], to[3] - to[1]];
  let sx = w / (from[2] - from[0]);
  let sy = h / (from[3] - from[1]);
  if (!how.stretch) sx = sy = how.slice ? Math.max(sx, sy) : Math.min(sx, sy);
  const restX = w - sx * (from[2] - from[0]);
  const restY = h - sy * (from[3] - from[1]);
  return [sx, 0, 0, sy, to[0] + restX * how.alignX - sx * from[0], to[1] + restY * how.alignY - sy * from[1]];
}
