import { type Rgb8, deltaE76, labFromRgb8 } from '../colour';
import { type ArtworkReader, EMPTY_ALPHA } from './rgbaPlane';

/**
 * Which parts of a background colour lie outside the drawing: they touch the artwork's edge, directly or
 * through more of the same colour. A letter in the colour of the background is enclosed, not outside.
 */
export interface OuterMap {
  readonly width: number;
  readonly height: number;
  /** 0 = another colour, 1 = background outside, 2 = the same colour enclosed. */
  readonly cells: Uint8Array;
}

export const OUTER = 1;
export const ENCLOSED = 2;
/** Longest side of the map; larger artwork is looked at on a coarser grid. */
const MAX_SIDE = 4096;

/** CIELAB distance within which a pixel is of the background. */
const LIKE = 12;

/** Builds the map of one background colour, by flooding from the artwork's edge. */
export function buildOuterMap(art: ArtworkReader, background: Rgb8): OuterMap {
  const step = Math.max(1, Math.ceil(Math.max(art.width, art.height) / MAX_SIDE));
  const width = Math.ceil(art.width / step);
  const height = Math.ceil(art.height / step);
  const cells = new Uint8Array(width * height);
  const like = colourTest(background);
  for (let row = 0; row < height; row++) {
    const y = Math.min(art.height - 1, row * step + (step >> 1));
    const line = art.read({ x: 0, y, width: art.width, height: 1 }).data;
    for (let column = 0; column < width; column++) {
      const x = Math.min(art.width - 1, column * step + (step >> 1));
      if (like(line, x * 4)) cells[row * width + column] = ENCLOSED;
    }
  }
  flood(cells, width, height);
  return { width, height, cells };
}

function colourTest(background: Rgb8): (data: Uint8Array, i: number) => boolean {
  const target = labFromRgb8(background);
  const known = new Map<number, boolean>();
  return (data, i) => {
    // Empty pixels let the outside through: a drawing may float in transparency over its background.
    if (data[i + 3]! <= EMPTY_ALPHA) return true;
    const key = (data[i]! << 16) | (data[i + 1]! << 8) | data[i + 2]!;
    let answer = known.get(key);
    if (answer === undefined) {
      answer = deltaE76(labFromRgb8([data[i]!, data[i + 1]!, data[i + 2]!]), target) <= LIKE;
      if (known.size < 1 << 16) known.set(key, answer);
    }
    return answer;
  };
}

function flood(cells: Uint8Array, width: number, height: number): void {
  const stack: number[] = [];
  const visit = (index: number): void => {
    if (cells[index] !== ENCLOSED) return;
    cells[index] = OUTER;
    stack.push(index);
  };
  for (let x = 0; x < width; x++) {
    visit(x);
    visit((height - 1) * width + x);
  }
  for (let y = 0; y < height; y++) {
    visit(y * width);
    visit(y * width + width - 1);
  }
  while (stack.length > 0) {
    const index = stack.pop()!;
    const x = index % width;
    if (x > 0) visit(index - 1);
    if (x + 1 < width) visit(index + 1);
    if (index >= width) visit(index - width);
    if (index + width < cells.length) visit(index + width);
  }
}

/**
 * Whether a pixel of the background's colour lies outside, for a position as a fraction (0..1) of the
 * artwork: the nearest cell of that colour within two cells decides.
 */
export function isOuter(map: OuterMap, u: number, v: number): boolean {
  const cx = Math.min(map.width - 1, Math.max(0, Math.floor(u * map.width)));
  const cy = Math.min(map.height - 1, Math.max(0, Math.floor(v * map.height)));
  const here = map.cells[cy * map.width + cx]!;
  if (here !== 0) return here === OUTER;
  let bestDistance = 9;
  let outer = false;
  for (let dy = -2; dy <= 2; dy++) {
    const y = cy + dy;
    if (y < 0 || y >= map.height) continue;
    for (let dx = -2; dx <= 2; dx++) {
      const x = cx + dx;
      if (x < 0 || x >= map.width) continue;
      const cell = map.cells[y * map.width + x]!;
      const distance = dx * dx + dy * dy;
      if (cell !== 0 && distance < bestDistance) {
        bestDistance = distance;
        outer = cell === OUTER;
      }
    }
  }
  return outer;
}

/** A colour along the artwork's border: a candidate background. */
export interface BorderColour {
  readonly rgb: Rgb8;
  /** Whether most of each of the four sides shows it. */
  readonly onAllSides: boolean;
}

/** From this share of the border on a colour may be a background; of each side, to reach it. */
const BORDER_SHARE = 0.5;

/** The colour that most of the artwork's border shows, where one does. */
export function findBackground(
  art: ArtworkReader,
  colours: readonly Rgb8[],
  purity: number,
): BorderColour | null {
  const labs = colours.map((rgb) => labFromRgb8(rgb));
  const sides = [0, 1, 2, 3].map(() => ({ total: 0, votes: new Uint32Array(colours.length) }));
  const vote = (side: number, data: Uint8Array, i: number): void => {
    sides[side]!.total++;
    if (data[i + 3]! <= EMPTY_ALPHA) return;
    const lab = labFromRgb8([data[i]!, data[i + 1]!, data[i + 2]!]);
    let best = 2 * purity;
    let index = -1;
    labs.forEach((each, k) => {
      const distance = deltaE76(each, lab);
      if (distance < best) {
        best = distance;
        index = k;
      }
    });
    if (index >= 0) sides[side]!.votes[index]!++;
  };
  for (const [side, y] of [0, art.height - 1].entries()) {
    const line = art.read({ x: 0, y, width: art.width, height: 1 }).data;
    for (let x = 0; x < art.width; x++) vote(side, line, x * 4);
  }
  for (let y = 0; y < art.height; y += 64) {
    const rows = Math.min(64, art.height - y);
    for (const [side, x] of [0, art.width - 1].entries()) {
      const line = art.read({ x, y, width: 1, height: rows }).data;
      for (let k = 0; k < rows; k++) vote(2 + side, line, k * 4);
    }
  }
  const total = sides.reduce((sum, side) => sum + side.total, 0);
  const votes = colours.map((_, k) => sides.reduce((sum, side) => sum + side.votes[k]!, 0));
  const most = votes.reduce((best, count, k) => (count > (votes[best] ?? -1) ? k : best), -1);
  if (most < 0 || votes[most]! < BORDER_SHARE * total) return null;
  const onAllSides = sides.every((side) => side.votes[most]! >= BORDER_SHARE * side.total);
  return { rgb: colours[most]!, onAllSides };
}
