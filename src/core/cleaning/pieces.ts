import { BARE } from '../raster';
import type { WorkMap } from './workMap';

/** Pixels of one label beside each other in a row. */
export interface Run {
  /** Index of its first pixel, and of the one behind its last. */
  readonly from: number;
  readonly to: number;
}

/** A piece of one label, joined at the sides of pixels. */
export interface Piece {
  readonly label: number;
  readonly area: number;
  readonly left: number;
  readonly top: number;
  /** Last column and row. */
  readonly right: number;
  readonly bottom: number;
  /** From its first row to its last. */
  readonly runs: readonly Run[];
}

type Labels = Pick<WorkMap, 'label' | 'width' | 'height'>;

/** The pieces of a map, in the order of their first pixels. */
export function piecesOf({ label, width, height }: Labels): Piece[] {
  const runs: Run[] = [];
  const parent: number[] = [];
  const rootOf = (k: number): number => {
    let root = k;
    while (parent[root] !== root) root = parent[root]!;
    while (parent[k] !== root) [parent[k], k] = [root, parent[k]!];
    return root;
  };
  let above = 0;
  for (let y = 0; y < height; y++) {
    const end = (y + 1) * width;
    const first = runs.length;
    let up = above;
    for (let from = y * width; from < end;) {
      let to = from + 1;
      while (to < end && label[to] === label[from]) to++;
      const k = runs.length;
      runs.push({ from, to });
      parent.push(k);
      while (up < first && runs[up]!.to + width <= from) up++;
      for (let other = up; other < first && runs[other]!.from + width < to; other++) {
        if (label[runs[other]!.from] !== label[from]) continue;
        const [one, two] = [rootOf(other), rootOf(k)];
        parent[Math.max(one, two)] = Math.min(one, two);
      }
      from = to;
    }
    above = first;
  }
  const grouped = new Map<number, Run[]>();
  runs.forEach((run, k) => {
    const root = rootOf(k);
    const own = grouped.get(root);
    if (own) own.push(run);
    else grouped.set(root, [run]);
  });
  return [...grouped.values()].map((own): Piece => {
    let [left, right, area] = [width, 0, 0];
    for (const { from, to } of own) {
      left = Math.min(left, from % width);
      right = Math.max(right, (to - 1) % width);
      area += to - from;
    }
    const [top, bottom] = [own[0]!.from, own[own.length - 1]!.from].map((from) => Math.floor(from / width));
    return { label: label[own[0]!.from]!, area, left, right, top: top!, bottom: bottom!, runs: own };
  });
}

/** Labels beside a piece, each with how many sides of its pixels it touches. */
function neighboursOf({ label, width, height }: Labels, piece: Piece): Map<number, number> {
  const sides = new Map<number, number>();
  const look = (i: number): void => {
    const other = label[i]!;
    if (other !== piece.label) sides.set(other, (sides.get(other) ?? 0) + 1);
  };
  for (const { from, to } of piece.runs) {
    if (from % width > 0) look(from - 1);
    if (to % width > 0) look(to);
    for (let i = from; i < to; i++) {
      if (i >= width) look(i - width);
      if (i < width * (height - 1)) look(i + width);
    }
  }
  return sides;
}

/** Gives all of a piece to another label. */
function give(map: WorkMap, { runs }: Piece, label: number): void {
  for (const { from, to } of runs) {
    map.label.fill(label, from, to);
    map.margin.fill(255, from, to);
  }
}

/** Pieces that were given to what is round them. */
export interface Specks {
  readonly count: number;
  /** In pixels of the artwork. */
  readonly areaPx: number;
}

/** For a label that compression may have made of the edge between two others, the one of them that it is nearer to; else null. */
export type EdgeSide = (label: number, one: number, other: number) => number | null;

/** In pixels of the artwork, the largest bit that compression leaves of an edge between two colours. */
const EDGE_BIT_PX = 16;

/** Compression works on blocks of eight by eight pixels (JPEG, ITU-T T.81). */
const BLOCK_PX = 64;

const byMost = (sides: ReadonlyMap<number, number>): number[] =>
  [...sides].sort((p, q) => q[1] - p[1] || p[0] - q[0]).map(([label]) => label);

/**
 * Gives pieces smaller than a limit to the label that most of their outline touches; small holes are pieces of what shows through them. Pieces that touch the
 * artwork's edge may be cut off by it and count as they are.
 *
 * @param leastPx area in pixels of the artwork from which on a piece stays.
 * @param isNoise whether the colours of a piece and of what is round it differ by no more than compression does; such a piece stays from a block of compression on.
 * @param edgeSide such a bit of an edge goes to the side that it is nearer to, however small pieces stay.
 */
export function dropSpecks(
  map: WorkMap,
  leastPx: number,
  isNoise: (label: number, around: number) => boolean = () => false,
  edgeSide: EdgeSide = () => null,
): Specks {
  const least = leastPx * map.scale * map.scale;
  const leastBlock = Math.max(leastPx, BLOCK_PX) * map.scale * map.scale;
  const edgeBit = EDGE_BIT_PX * map.scale * map.scale;
  let [count, area] = [0, 0];
  // One that lies in another small one goes with it in the next round.
  for (let round = 0; round < 3; round++) {
    const before = count;
    for (const piece of piecesOf(map)) {
      if (piece.area >= leastBlock) continue;
      const sides = neighboursOf(map, piece);
      const [most, other] = byMost(sides);
      if (most === undefined) continue;
      const side = piece.area <= edgeBit && other !== undefined ? edgeSide(piece.label, most, other) : null;
      if (piece.area >= least && side === null && !isNoise(piece.label, most)) continue;
      const into = side ?? most;
      give(map, piece, into);
      count++;
      area += piece.area;
    }
    if (count === before) break;
  }
  return { count, areaPx: area / (map.scale * map.scale) };
}

/** A line of one colour round the whole design. */
export interface Frame {
  readonly piece: Piece;
  /** The index of the colour inside of it that takes its place, or BARE. */
  readonly inside: number;
}

/** A frame reaches over this share of the artwork's width and height, and has this share of its own box at most. */
const FRAME_SPAN = 0.8;
const FRAME_FILL = 0.25;
/** A frame's line covers this share of each side of its box at least. */
const FRAME_SIDE = 0.9;

/** Finds a frame round the design: a thin ring of one colour along all four sides, with the whole design inside; null where there is none. */
export function findFrame(map: WorkMap): Frame | null {
  const frames = piecesOf(map).filter((piece) => {
    const [wide, tall] = [piece.right - piece.left + 1, piece.bottom - piece.top + 1];
    if (piece.label === BARE || wide < FRAME_SPAN * map.width || tall < FRAME_SPAN * map.height) return false;
    return piece.area <= FRAME_FILL * wide * tall && runsAlongAllSides(map, piece);
  });
  // The paper outside of a frame is a ring, too: the innermost one is meant.
  const [piece] = frames.sort((p, q) => q.left - p.left || q.top - p.top);
  return piece ? { piece, inside: insideOf(map, piece) } : null;
}

/** Whether a piece covers nearly all of lines a little inside of each side of its box. */
function runsAlongAllSides({ label, width, scale }: WorkMap, piece: Piece): boolean {
  const { left, right, top, bottom } = piece;
  // Its corners may be round, and its line may wobble.
  const deep = Math.min(2 * scale, (right - left) >> 3, (bottom - top) >> 3);
  const along = (from: number, to: number, at: (k: number) => number): boolean => {
    let count = 0;
    for (let k = from; k <= to; k++) if (label[at(k)] === piece.label) count++;
    return count >= FRAME_SIDE * (to - from + 1);
  };
  const reaches = (side: (inset: number) => boolean): boolean =>
    Array.from({ length: deep + 1 }, (_, inset) => inset).some(side);
  return (
    reaches((inset) => along(left, right, (x) => (top + inset) * width + x)) &&
    reaches((inset) => along(left, right, (x) => (bottom - inset) * width + x)) &&
    reaches((inset) => along(top, bottom, (y) => y * width + left + inset)) &&
    reaches((inset) => along(top, bottom, (y) => y * width + right - inset))
  );
}

/** The label that most of the frame's inner edge touches. */
function insideOf(map: WorkMap, piece: Piece): number {
  const { label, width, height } = map;
  const sides = new Map<number, number>();
  const [middleX, middleY] = [(piece.left + piece.right) / 2, (piece.top + piece.bottom) / 2];
  for (const { from, to } of piece.runs) {
    for (let i = from; i < to; i++) {
      const x = i % width;
      const y = (i - x) / width;
      // Towards the middle, on the axis on which the pixel is farther out.
      const byX = Math.abs(x - middleX) / width > Math.abs(y - middleY) / height;
      const inner = byX ? i + (x < middleX ? 1 : -1) : i + (y < middleY ? width : -width);
      const other = label[inner]!;
      if (other !== piece.label) sides.set(other, (sides.get(other) ?? 0) + 1);
    }
  }
  return byMost(sides)[0] ?? BARE;
}

/** Gives the frame, and everything outside of it, to the colour inside of it. */
export function removeFrame(map: WorkMap, { piece: frame, inside }: Frame): void {
  const { width, height } = map;
  const other = { width, height, label: new Uint8Array(map.label.length) };
  for (const { from, to } of frame.runs) other.label.fill(1, from, to);
  for (const piece of piecesOf(other)) {
    const atEdge =
      piece.left === 0 || piece.top === 0 || piece.right === width - 1 || piece.bottom === height - 1;
    if (piece.label === 1 || atEdge) give(map, piece, inside);
  }
}
