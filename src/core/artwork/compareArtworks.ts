import { type Lab, deltaE76, labFromRgb8 } from '../colour';
import type { ArtworkReader } from './rgbaPlane';

/** Artwork as one pixel for each place of a coarse grid, red lowest, alpha highest. */
export interface ArtworkSamples {
  readonly columns: number;
  readonly rows: number;
  readonly pixels: Uint32Array;
}

/** Takes the pixel in the middle of each cell of a grid that is laid over the whole artwork. */
export function sampleArtwork(art: ArtworkReader, columns: number, rows: number): ArtworkSamples {
  const pixels = new Uint32Array(columns * rows);
  for (let row = 0; row < rows; row++) {
    const y = Math.min(art.height - 1, Math.floor(((row + 0.5) * art.height) / rows));
    const { data } = art.read({ x: 0, y, width: art.width, height: 1 });
    for (let column = 0; column < columns; column++) {
      const x = Math.min(art.width - 1, Math.floor(((column + 0.5) * art.width) / columns));
      const [r, g, b, a] = data.subarray(x * 4, x * 4 + 4) as unknown as [number, number, number, number];
      pixels[row * columns + column] = (r | (g << 8) | (b << 16) | (a << 24)) >>> 0;
    }
  }
  return { columns, rows, pixels };
}

/** A place where two artworks differ: its box as fractions of the artwork, and its area as a share of it. */
export interface ChangedPlace {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
  readonly share: number;
}

export interface ArtworkChanges {
  /** Share of the grid that differs, 0..1, single cells left out. */
  readonly share: number;
  /** The largest first, MOST_PLACES at most, and how many there are. */
  readonly places: readonly ChangedPlace[];
  readonly placeCount: number;
  /** 1 for each cell that differs. */
  readonly mask: Uint8Array;
}

/** Colours this far apart (CIELAB) differ; compression and another rendering stay below. */
const DIFFERENT = 12;
/** Transparent by less than this (0..255) is nothing, whatever colour it has. */
const SEEN = 128;
/** Cells that differ this near to each other are one place. */
const REACH = 2;
const MOST_PLACES = 40;

/**
 * Where two artworks of one grid differ. A cell is unchanged where each of them has its colour in the other one too, there or one cell on: edges that another rendering
 * shifts by less do not count.
 */
export function compareArtworks(before: ArtworkSamples, after: ArtworkSamples): ArtworkChanges {
  const { columns, rows } = before;
  const labs = new Map<number, Lab>();
  const labOf = (pixel: number): Lab => {
    const key = pixel & 0xffffff;
    let lab = labs.get(key);
    if (!lab) labs.set(key, (lab = labFromRgb8([key & 255, (key >> 8) & 255, key >> 16])));
    return lab;
  };
  const alike = (p: number, q: number): boolean => {
    if (p === q) return true;
    const [one, other] = [p >>> 24 >= SEEN, q >>> 24 >= SEEN];
    return one && other ? deltaE76(labOf(p), labOf(q)) < DIFFERENT : one === other;
  };
  const has = (pixels: Uint32Array, pixel: number, x: number, y: number): boolean => {
    for (let v = Math.max(0, y - 1); v <= Math.min(rows - 1, y + 1); v++) {
      for (let u = Math.max(0, x - 1); u <= Math.min(columns - 1, x + 1); u++) {
        if (alike(pixels[v * columns + u]!, pixel)) return true;
      }
    }
    return false;
  };
  const mask = new Uint8Array(columns * rows);
  for (let i = 0; i < mask.length; i++) {
    const [x, y] = [i % columns, Math.floor(i / columns)];
    const [was, is] = [before.pixels[i]!, after.pixels[i]!];
    if (alike(was, is)) continue;
    if (!has(after.pixels, was, x, y) || !has(before.pixels, is, x, y)) mask[i] = 1;
  }
  dropSingle(mask, columns, rows);
  const places = placesOf(mask, columns, rows);
  const share = mask.reduce((sum, each) => sum + each, 0) / mask.length;
  return { share, places: places.slice(0, MOST_PLACES), placeCount: places.length, mask };
}

/** A cell that differs alone is an edge that was drawn otherwise. */
function dropSingle(mask: Uint8Array, columns: number, rows: number): void {
  const before = mask.slice();
  for (let i = 0; i < mask.length; i++) {
    if (!before[i]) continue;
    const [x, y] = [i % columns, Math.floor(i / columns)];
    let count = 0;
    for (let v = Math.max(0, y - 1); v <= Math.min(rows - 1, y + 1); v++)
      for (let u = Math.max(0, x - 1); u <= Math.min(columns - 1, x + 1); u++)
        count += before[v * columns + u]!;
    if (count < 3) mask[i] = 0;
  }
}

function placesOf(mask: Uint8Array, columns: number, rows: number): ChangedPlace[] {
  const seen = new Uint8Array(mask.length);
  const places: ChangedPlace[] = [];
  for (let first = 0; first < mask.length; first++) {
    if (!mask[first] || seen[first]) continue;
    const cells = [first];
    seen[first] = 1;
    let [left, right, top, bottom] = [columns, 0, rows, 0];
    for (let k = 0; k < cells.length; k++) {
      const [x, y] = [cells[k]! % columns, Math.floor(cells[k]! / columns)];
      [left, right, top, bottom] = [
        Math.min(left, x),
        Math.max(right, x),
        Math.min(top, y),
        Math.max(bottom, y),
      ];
      for (let v = Math.max(0, y - REACH); v <= Math.min(rows - 1, y + REACH); v++) {
        for (let u = Math.max(0, x - REACH); u <= Math.min(columns - 1, x + REACH); u++) {
          const i = v * columns + u;
          if (!mask[i] || seen[i]) continue;
          seen[i] = 1;
          cells.push(i);
        }
      }
    }
    places.push({
      left: left / columns,
      top: top / rows,
      width: (right - left + 1) / columns,
      height: (bottom - top + 1) / rows,
      share: cells.length / mask.length,
    });
  }
  return places.sort((p, q) => q.share - p.share);
}

/** Below this share of a colour's area another one does not take its place. */
const MOSTLY = 0.6;

/**
 * For each colour of the new artwork, the colour of the old one that stood on most of its area; null where none did, or the colour stands nowhere.
 *
 * @param purity CIELAB distance within which a pixel is a colour.
 */
export function coloursBefore(
  before: ArtworkSamples,
  after: ArtworkSamples,
  oldColours: readonly Lab[],
  newColours: readonly Lab[],
  purity: number,
): (number | null)[] {
  const nearest = (colours: readonly Lab[]) => {
    const known = new Map<number, number>();
    return (pixel: number): number => {
      if (pixel >>> 24 < SEEN) return -1;
      const key = pixel & 0xffffff;
      let name = known.get(key);
      if (name !== undefined) return name;
      const lab = labFromRgb8([key & 255, (key >> 8) & 255, key >> 16]);
      name = -1;
      let least = purity;
      colours.forEach((each, k) => {
        const distance = deltaE76(lab, each);
        if (distance <= least) [least, name] = [distance, k];
      });
      known.set(key, name);
      return name;
    };
  };
  const [was, is] = [nearest(oldColours), nearest(newColours)];
  const counts = newColours.map(() => new Float64Array(oldColours.length + 1));
  after.pixels.forEach((pixel, i) => {
    const now = is(pixel);
    if (now >= 0) counts[now]![was(before.pixels[i]!) + 1]!++;
  });
  return counts.map((row) => {
    const all = row.reduce((sum, count) => sum + count, 0);
    const best = row.slice(1).reduce((most, count, k, rest) => (count > rest[most]! ? k : most), 0);
    return all > 0 && row[best + 1]! >= MOSTLY * all ? best : null;
  });
}
