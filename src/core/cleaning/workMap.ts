import type { ArtworkReader } from '../artwork';
import { BARE, MIXED } from '../raster';
import type { Rgb8 } from '../colour';
import { DUST_HALO, EDGE_LABELS_HALO } from '../separation';
import { AREA_COLOURS_HALO, AreaColours } from './areaColours';
import { BLUR_REACH, VOTE_REACH, blurLabels, nearOthers, vote } from './smoothLabels';
import { LANCZOS_REACH, Upsampler } from './upsample';

/** Artwork as areas: each working pixel has the index of its colour, or BARE. */
export interface WorkMap {
  readonly width: number;
  readonly height: number;
  /** Working pixels to a pixel of the artwork, in each direction. */
  readonly scale: number;
  readonly label: Uint8Array;
  /** How clearly a working pixel has its label, 1..255. */
  readonly margin: Uint8Array;
}

/** Working pixels to one of the artwork at most, and altogether. */
const MOST_SCALE = 4;
const MOST_WORK_PIXELS = 24e6;
/** Pixels of the artwork on a side of the tiles that are looked at one after the other. */
const TILE = 64;
/** From this opacity on (0..255) a place is artwork. */
const HALF = 128;
/** How far from a pixel the colours that it may be made of are looked for, in pixels of the artwork; and where these do not explain it, since compression smeared an edge. */
const NEAR = 2;
const AROUND = 4;

/** Into how many working pixels artwork of a size is divided. */
export function workScale(width: number, height: number): number {
  let scale = MOST_SCALE;
  while (scale > 1 && width * height * scale * scale > MOST_WORK_PIXELS) scale--;
  return scale;
}

/**
 * Cleans artwork into areas of given colours: it is made finer (Lanczos), each place named by the colours that stand near it, single pixels outvoted twice, and
 * the areas' edges smoothed.
 *
 * @param purity CIELAB distance within which a pixel is one of the colours.
 * @param heard told how much is done, 0..1.
 */
export function makeWorkMap(
  art: ArtworkReader,
  colours: readonly Rgb8[],
  purity: number,
  heard: (done: number) => void,
): WorkMap {
  const scale = workScale(art.width, art.height);
  const palette = new AreaColours(colours, purity);
  const [width, height] = [art.width * scale, art.height * scale];
  const map = {
    width,
    height,
    scale,
    label: new Uint8Array(width * height),
    margin: new Uint8Array(width * height),
  };
  for (let top = 0; top < art.height; top += TILE) {
    for (let left = 0; left < art.width; left += TILE) fillTile(art, palette, left, top, map);
    heard(Math.min(1, (top + TILE) / art.height));
  }
  return map;
}

function fillTile(art: ArtworkReader, palette: AreaColours, left: number, top: number, map: WorkMap): void {
  const { scale } = map;
  const smoothing = Math.ceil((2 * VOTE_REACH + BLUR_REACH) / scale);
  const halo = smoothing + Math.max(LANCZOS_REACH, AROUND + EDGE_LABELS_HALO + DUST_HALO + AREA_COLOURS_HALO);
  const x = Math.max(0, left - halo);
  const y = Math.max(0, top - halo);
  const width = Math.min(art.width, left + TILE + halo) - x;
  const height = Math.min(art.height, top + TILE + halo) - y;
  const { data } = art.read({ x, y, width, height });
  const named = nameTile(data, width, height, scale, palette);
  const wide = width * scale;
  const tall = height * scale;
  const smooth =
    typeof named === 'number' ? null : blurLabels(vote(vote(named, wide, tall), wide, tall), wide, tall);
  const columns = Math.min(TILE, art.width - left) * scale;
  const rows = Math.min(TILE, art.height - top) * scale;
  for (let row = 0; row < rows; row++) {
    const to = (top * scale + row) * map.width + left * scale;
    if (!smooth) {
      map.label.fill(named as number, to, to + columns);
      map.margin.fill(255, to, to + columns);
      continue;
    }
    const from = ((top - y) * scale + row) * wide + (left - x) * scale;
    map.label.set(smooth.label.subarray(from, from + columns), to);
    map.margin.set(smooth.margin.subarray(from, from + columns), to);
  }
}

/** The names of a tile's working pixels, or the only name that there is. */
function nameTile(
  data: Uint8Array,
  width: number,
  height: number,
  scale: number,
  palette: AreaColours,
): Uint8Array | number {
  const pure = palette.surely(data, width, height);
  const only = pure[0]!;
  if (only !== MIXED && pure.every((each) => each === only)) return only;
  const picture = Float32Array.from(data, (value, i) => (i % 4 === 3 ? value : (value * data[i | 3]!) / 255));
  const wide = width * scale;
  const label = new Uint8Array(wide * height * scale);
  const finer = new Upsampler(scale);
  const places = new Float64Array(scale * scale * 4);
  const busy = nearOthers(pure, width, height, LANCZOS_REACH);
  const near = new ColoursNear(pure, width, height);
  for (let i = 0; i < pure.length; i++) {
    const x = i % width;
    const y = (i - x) / width;
    const at = y * scale * wide + x * scale;
    if (!busy[i] && pure[i] !== MIXED) {
      for (let row = 0; row < scale; row++) label.fill(pure[i]!, at + row * wide, at + row * wide + scale);
      continue;
    }
    finer.pixel(picture, width, height, x, y, places);
    const candidates = near.at(x, y, NEAR);
    const around = () => near.at(x, y, AROUND);
    for (let place = 0; place < scale * scale; place++) {
      const to = at + Math.floor(place / scale) * wide + (place % scale);
      label[to] = nameOf(places, place * 4, candidates, around, palette);
    }
  }
  return label;
}

/** The name of a place by its colour, which is multiplied by its opacity. */
function nameOf(
  places: Float64Array,
  at: number,
  candidates: readonly number[],
  around: () => readonly number[],
  palette: AreaColours,
): number {
  const alpha = places[at + 3]!;
  if (alpha < HALF) return BARE;
  const code = (value: number): number => Math.min(255, Math.max(0, (value * 255) / alpha));
  return palette.largest(code(places[at]!), code(places[at + 1]!), code(places[at + 2]!), candidates, around);
}

/** The colours that pixels near a place surely have. */
class ColoursNear {
  private readonly known = new Map<string, readonly number[]>();

  constructor(
    private readonly pure: Uint8Array,
    private readonly width: number,
    private readonly height: number,
  ) {}

  /** Indexes of those within so many pixels, in ascending order; the same list for the same colours. */
  at(x: number, y: number, reach: number): readonly number[] {
    const { pure, width, height, known } = this;
    const found: number[] = [];
    for (let row = Math.max(0, y - reach); row <= Math.min(height - 1, y + reach); row++) {
      for (let column = Math.max(0, x - reach); column <= Math.min(width - 1, x + reach); column++) {
        const here = pure[row * width + column]!;
        if (here < BARE && !found.includes(here)) found.push(here);
      }
    }
    found.sort((p, q) => p - q);
    const key = found.join();
    const before = known.get(key);
    if (!before) known.set(key, found);
    return before ?? found;
  }
}
