import type { Kernels } from '../kernels';
import type { Rect } from '../geometry';
import { LEAST_TONE } from '../raster';
import { type BitTarget, type LaidTone, type ThresholdTiles, type ToneLayer, weighTones } from '../screening';
import { type JobSheet, type Plate, stagesOf } from '../sheet';
import { type FilmTones, plateTile } from './filmTones';
import { groupOf, maskOffset, withThoseBefore } from './plateBits';
import { stageTable } from '../stages';
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

/**
 * What `platesBits` makes of the same plates at the film's resolution, made from their tones at the artwork's.
 *
 * @param targets where the bits of each plate go; they are clear.
 */
export function toneBits(
  request: ToneBitsRequest,
  wanted: readonly Plate[],
  targets: readonly BitTarget[],
): LaidTone[] {
  const { sheet, rect, planes, tiles, tones, kernels } = request;
  const printing = withThoseBefore(sheet, wanted).flatMap((plate) => {
    const own = planes.tonesOf(plate);
    return own ? [{ plate, own }] : [];
  });
  const layers = printing.map(({ plate, own }): ToneLayer => {
    const tile = plateTile(tiles, sheet.film.dpi, plate);
    const offset = maskOffset(plate, tile);
    const group = groupOf(plate);
    return {
      tones: own,
      tile: group === null ? tones.foldedTile(sheet, plate, tile) : tile,
      originX: rect.x + offset.x,
      originY: rect.y + offset.y,
      stack: group === null ? null : { group, onFilm: tones.filmTable(sheet, plate) },
      out: targets[wanted.findIndex(({ id }) => id === plate.id)] ?? null,
    };
  });
  const { stride, left, pixels, across, down } = planes;
  const laid = kernels.screenLayers({ stride, left, pixels, across, down, layers });
  return wanted.map(({ id }) => {
    const at = printing.findIndex(({ plate }) => plate.id === id);
    if (at < 0) return { sum: 0, screened: false };
    const { plate, own } = printing[at]!;
    const table = stageTable(stagesOf(plate));
    return table ? laidThrough(own, table, planes) : laid[at]!;
  });
}

/** What tones come to behind a table: at the artwork's pixels, which between them differ from the film's by as much as the table bends there. */
function laidThrough(own: Uint16Array, table: Uint16Array, planes: TonePlanes): LaidTone {
  const { stride, left, pixels, across, down } = planes;
  const tones = own.map((tone) => (tone < LEAST_TONE ? 0 : table[tone]!));
  return weighTones({ tones, stride, left, pixels, across, down });
}
