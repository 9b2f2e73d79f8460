import type { Kernels } from '../kernels';
import type { Expansion } from '../raster';
import type { Rect } from '../geometry';
import type { ThresholdTiles, ToneLayer } from '../screening';
import type { JobSheet, Plate } from '../sheet';
import { type FilmTones, plateTile } from './filmTones';
import { groupOf, maskOffset, withThoseBefore } from './plateBits';
import type { TonePlanes } from './toneBlocks';

/** How the plates of a region that is nothing but tone are to be screened for film. */
export interface ToneBitsRequest {
  readonly sheet: JobSheet;
  /** Of the print; its width is a multiple of 8. */
  readonly rect: Rect;
  readonly planes: TonePlanes;
  readonly tiles: ThresholdTiles;
  readonly tones: FilmTones;
  readonly kernels: Kernels;
}

/** What `platesBits` makes of the same plates at the film's resolution, made from their tones at the artwork's. */
export function toneBits(request: ToneBitsRequest, wanted: readonly Plate[]): Uint8Array[] {
  const { sheet, rect, planes, tiles, tones, kernels } = request;
  const made = new Map<string, Uint8Array>();
  const layers = withThoseBefore(sheet, wanted).map((plate): ToneLayer => {
    const tile = plateTile(tiles, sheet.film.dpi, plate);
    const offset = maskOffset(plate, tile);
    const group = groupOf(plate);
    const out = new Uint8Array((rect.width * rect.height) / 8);
    made.set(plate.id, out);
    return {
      tones: planes.tonesOf(plate),
      tile: group === null ? tones.foldedTile(sheet, plate, tile) : tile,
      originX: rect.x + offset.x,
      originY: rect.y + offset.y,
      stack: group === null ? null : { group, onFilm: tones.filmTable(sheet, plate) },
      out,
    };
  });
  kernels.screenLayers({ pixels: planes.pixels, across: planes.across, down: planes.down, layers });
  return wanted.map(({ id }) => made.get(id)!);
}

/** Coverage of a plate that is nothing but tone, as a sum over device pixels, and whether any of them is neither bare nor solid. */
export function countTones(planes: TonePlanes, plate: Plate): { sum: number; screened: boolean } {
  const tones = planes.tonesOf(plate);
  const across = weightsOf(planes.across, planes.pixels);
  const down = weightsOf(planes.down, tones.length / planes.pixels);
  let sum = 0;
  let [bare, between, solid] = [false, false, false];
  for (const [y, weight] of down.entries()) {
    if (weight === 0) continue;
    let line = 0;
    for (let x = 0; x < planes.pixels; x++) {
      if (across[x] === 0) continue;
      const tone = tones[y * planes.pixels + x]!;
      line += across[x]! * tone;
      if (tone === 0) bare = true;
      else if (tone === 65535) solid = true;
      else between = true;
    }
    sum += weight * line;
  }
  return { sum: sum / 65535, screened: between || (bare && solid) };
}

/** How many device pixels each pixel stands for, in parts where they lie between two. */
function weightsOf({ from, part }: Expansion, pixels: number): Float64Array {
  const weights = new Float64Array(pixels);
  from.forEach((at, k) => {
    const next = (part?.[k] ?? 0) / 256;
    weights[at]! += 1 - next;
    if (next > 0) weights[at + 1]! += next;
  });
  return weights;
}
