import { type Rgb8, deltaE76, labFromRgb8 } from '../colour';
import { isLossy } from './lossy';
import { type ArtworkReader, EMPTY_ALPHA } from './rgbaPlane';

/**
 * Which parts of a background colour lie outside the drawing: they touch the artwork's edge, directly or
 * through more of the same colour. A letter in the colour of the background is enclosed, not outside.
 */
export interface OuterMap {
  readonly width: number;
  readonly height: number;
  /**
   * 0 = another colour, 1 = background outside, 2 = the same colour enclosed, 3 = another colour that an edge parts from the outside: the background's
   * colour in its gradients belongs to the design. Maps of earlier versions have 0 in the place of 3.
   */
  readonly cells: Uint8Array;
}

export const OUTER = 1;
export const ENCLOSED = 2;
export const PARTED = 3;
/** Another colour that can be reached from the outside without an edge. */
export const FADING = 0;
/** Longest side of the map; larger artwork is looked at on a coarser grid. */
const MAX_SIDE = 4096;

/** CIELAB distance within which a pixel is of the background. */
const LIKE = 12;
/** From one cell to the next gradients, glows and shadows change by this many sRGB codes at most; edges by more. */
const SOFT_STEP = 12;

/** Compression leaves specks of the background's colour of at most so many cells (0.1 mm² at 300 dpi, which a press hardly holds) within this many cells of it. */
const SPECK = 16;
const SPECK_REACH = 4;

/**
 * Builds the map of one background colour, by flooding from the artwork's edge.
 *
 * @param purity of the artwork: where compression has damaged it, specks of the background along edges are outside too.
 */
export function buildOuterMap(art: ArtworkReader, background: Rgb8, purity: number): OuterMap {
  const { step, width, height } = gridOf(art);
  const cells = new Uint8Array(width * height);
  const colours = new Uint8Array(width * height * 3);
  const like = colourTest(background);
  for (let row = 0; row < height; row++) {
    const line = lineOf(art, row, step);
    for (let column = 0; column < width; column++) {
      const x = Math.min(art.width - 1, column * step + (step >> 1));
      const cell = row * width + column;
      cells[cell] = like(line, x * 4) ? ENCLOSED : PARTED;
      for (let c = 0; c < 3; c++) colours[cell * 3 + c] = line[x * 4 + c]!;
    }
  }
  flood(cells, width, height);
  if (isLossy(purity)) takeSpecks(cells, width);
  floodSoftly(cells, colours, width);
  return { width, height, cells };
}

function gridOf({ width, height }: Pick<ArtworkReader, 'width' | 'height'>) {
  const step = Math.max(1, Math.ceil(Math.max(width, height) / MAX_SIDE));
  return { step, width: Math.ceil(width / step), height: Math.ceil(height / step) };
}

/** The row of pixels that a row of cells looks at. */
function lineOf(art: ArtworkReader, row: number, step: number): Uint8Array {
  const y = Math.min(art.height - 1, row * step + (step >> 1));
  return art.read({ x: 0, y, width: art.width, height: 1 }).data;
}

/**
 * The share of an artwork's map that is of the background and enclosed, 0..1. A map takes shades near to the background for it, which may be colours of the design: what is nearer to one of
 * those is none.
 *
 * @param others the artwork's flat colours but the background. @param purity of the artwork: where compression has damaged it, specks are not counted.
 */
export function enclosedShare(
  art: ArtworkReader,
  { width, height, cells }: OuterMap,
  background: Rgb8,
  others: readonly Rgb8[],
  purity: number,
): number {
  const { step } = gridOf(art);
  const own = labFromRgb8(background);
  const labs = others.map((rgb) => labFromRgb8(rgb));
  const known = new Map<number, boolean>();
  const isOwn = (data: Uint8Array, i: number): boolean => {
    if (data[i + 3]! <= EMPTY_ALPHA) return false;
    const key = (data[i]! << 16) | (data[i + 1]! << 8) | data[i + 2]!;
    let answer = known.get(key);
    if (answer === undefined) {
      const lab = labFromRgb8([data[i]!, data[i + 1]!, data[i + 2]!]);
      const away = deltaE76(lab, own);
      answer = labs.every((each) => deltaE76(lab, each) >= away);
      known.set(key, answer);
    }
    return answer;
  };
  const enclosed = new Uint8Array(cells.length);
  for (let row = 0; row < height; row++) {
    const of = cells.subarray(row * width, (row + 1) * width);
    let column = of.indexOf(ENCLOSED);
    if (column < 0) continue;
    const line = lineOf(art, row, step);
    for (; column >= 0; column = of.indexOf(ENCLOSED, column + 1)) {
      if (isOwn(line, Math.min(art.width - 1, column * step + (step >> 1)) * 4))
        enclosed[row * width + column] = 1;
    }
  }
  const least = isLossy(purity) ? SPECK : 0;
  let count = 0;
  forEachPiece(enclosed, 1, width, (piece) => (count += piece.length > least ? piece.length : 0));
  return count / cells.length;
}

/** Visits the pieces, joined at sides, of all cells that have a value. */
function forEachPiece(
  cells: Uint8Array,
  value: number,
  width: number,
  visit: (piece: readonly number[]) => void,
): void {
  const seen = new Uint8Array(cells.length);
  let piece: number[] = [];
  const take = (next: number): void => {
    if (cells[next] !== value || seen[next]) return;
    seen[next] = 1;
    piece.push(next);
  };
  for (let first = cells.indexOf(value); first >= 0; first = cells.indexOf(value, first + 1)) {
    piece = [];
    take(first);
    for (let k = 0; k < piece.length; k++) forEachBeside(piece[k]!, width, cells.length, take);
    if (piece.length > 0) visit(piece);
  }
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
  while (stack.length > 0) forEachBeside(stack.pop()!, width, cells.length, visit);
}

/** Enclosed specks near the outside become outside. */
function takeSpecks(cells: Uint8Array, width: number): void {
  const specks: number[] = [];
  forEachPiece(cells, ENCLOSED, width, (piece) => {
    if (piece.length <= SPECK && piece.some((cell) => isNearOuter(cells, width, cell))) specks.push(...piece);
  });
  for (const cell of specks) cells[cell] = OUTER;
}

function isNearOuter(cells: Uint8Array, width: number, cell: number): boolean {
  const x = cell % width;
  const [first, last] = [Math.max(0, x - SPECK_REACH), Math.min(width - 1, x + SPECK_REACH)];
  for (let dy = -SPECK_REACH; dy <= SPECK_REACH; dy++) {
    const row = cell - x + dy * width;
    if (row < 0 || row >= cells.length) continue;
    if (cells.subarray(row + first, row + last + 1).includes(OUTER)) return true;
  }
  return false;
}

/** Cells that can be reached from the outside without crossing an edge are not parted from it. */
function floodSoftly(cells: Uint8Array, colours: Uint8Array, width: number): void {
  const stack: number[] = [];
  let here = 0;
  const visit = (next: number): void => {
    if (cells[next] !== PARTED) return;
    for (let c = 0; c < 3; c++) {
      if (Math.abs(colours[here * 3 + c]! - colours[next * 3 + c]!) > SOFT_STEP) return;
    }
    cells[next] = FADING;
    stack.push(next);
  };
  for (here = cells.indexOf(OUTER); here >= 0; here = cells.indexOf(OUTER, here + 1)) {
    forEachBeside(here, width, cells.length, visit);
  }
  while (stack.length > 0) {
    here = stack.pop()!;
    forEachBeside(here, width, cells.length, visit);
  }
}

function forEachBeside(index: number, width: number, count: number, visit: (next: number) => void): void {
  const x = index % width;
  if (x > 0) visit(index - 1);
  if (x + 1 < width) visit(index + 1);
  if (index >= width) visit(index - width);
  if (index + width < count) visit(index + width);
}

/**
 * Whether a pixel of the background's colour lies outside, for a position as a fraction (0..1) of the
 * artwork: the nearest cell of that colour within two cells decides.
 */
export function isOuter(map: OuterMap, u: number, v: number): boolean {
  const cx = Math.min(map.width - 1, Math.max(0, Math.floor(u * map.width)));
  const cy = Math.min(map.height - 1, Math.max(0, Math.floor(v * map.height)));
  const here = map.cells[cy * map.width + cx]!;
  if (here === OUTER || here === ENCLOSED) return here === OUTER;
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
      if ((cell === OUTER || cell === ENCLOSED) && distance < bestDistance) {
        bestDistance = distance;
        outer = cell === OUTER;
      }
    }
  }
  return outer;
}

/** Whether an edge parts a position, as a fraction (0..1) of the artwork, from the outside. */
export function isParted(map: OuterMap, u: number, v: number): boolean {
  const x = Math.min(map.width - 1, Math.max(0, Math.floor(u * map.width)));
  const y = Math.min(map.height - 1, Math.max(0, Math.floor(v * map.height)));
  const cell = map.cells[y * map.width + x];
  return cell === PARTED || cell === ENCLOSED;
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
