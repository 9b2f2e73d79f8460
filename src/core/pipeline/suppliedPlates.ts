import type { RgbaPlane } from '../artwork';
import { type Allocator, TONED } from '../raster';
import { BARE, type PixelShares, type PlateFields } from '../separation';
import { mostTone } from '../stages';
import { type JobSheet, type Patch, channelOf, isInk, patchesOf, stagesOf, withoutSpecials } from '../sheet';
import { type TonePlace, applyPatches } from './patches';

/** What plates that the artwork's file names depend on, beside the file. */
export interface SuppliedSetting {
  readonly plates: readonly {
    readonly id: string;
    /** The plate of the file; null: a base that is made of what prints on it. */
    readonly channel: string | null;
    /** How much of a base that is made lies under this plate, 0..65535. */
    readonly base: number;
    /** The most that it may print, 0..65535. */
    readonly most: number;
    readonly patches: readonly Patch[];
  }[];
}

export function suppliedSetting(sheet: JobSheet): SuppliedSetting {
  return {
    plates: withoutSpecials(sheet).plates.map((plate) => ({
      id: plate.id,
      channel: channelOf(plate),
      base: isInk(plate) ? Math.round(plate.baseStrength * 65535) : 0,
      most: mostTone(stagesOf(plate)),
      patches: patchesOf(plate),
    })),
  };
}

/** The plates of the file that a job prints, each once. */
export function wantedChannels(sheet: Pick<JobSheet, 'plates'>): string[] {
  return [...new Set(sheet.plates.flatMap((plate) => channelOf(plate) ?? []))];
}

/**
 * What each plate prints at the artwork's own pixels, 0..65535, by its id: what the file says, to the pixel. A base that the file has not is full, or as
 * strong as the plate on it wants, wherever any of that plate prints, be it a light tint.
 *
 * @param art with the channels that the job prints.
 * @param masked the same artwork, transparent where it does not count.
 */
export function suppliedFields(
  { plates }: SuppliedSetting,
  art: RgbaPlane,
  masked: RgbaPlane,
  place: Omit<TonePlace, 'rect'>,
  memory: Allocator,
): { readonly shares: PixelShares; readonly fields: PlateFields } {
  const { width, height } = art.rect;
  const count = width * height;
  const label = memory.bytes(count, 'any').fill(BARE);
  const printing = memory.bytes(count);
  const planes = plates.map(() => memory.words(count));
  const cut = masked === art ? null : masked.data;
  plates.forEach(({ channel }, k) => {
    const coverage = channel === null ? undefined : art.channels?.get(channel);
    const plane = planes[k]!;
    for (let i = 0; coverage && i < count; i++) {
      if (coverage[i] === 0 || (cut && cut[i * 4 + 3] === 0 && art.data[i * 4 + 3] !== 0)) continue;
      plane[i] = coverage[i]! * 257;
      printing[i] = 1;
      label[i] = TONED;
    }
  });
  plates.forEach(({ channel }, k) => {
    if (channel !== null) return;
    plates.forEach(({ base, channel: other }, on) => {
      if (base === 0 || other === null) return;
      const [plane, above] = [planes[k]!, planes[on]!];
      for (let i = 0; i < count; i++) if (above[i]! > 0 && plane[i]! < base) plane[i] = base;
    });
  });
  plates.forEach(({ most, patches }, k) => {
    const plane = planes[k]!;
    applyPatches(plane, patches, printing, { ...place, rect: art.rect });
    if (most < 65535) for (let i = 0; i < count; i++) if (plane[i]! > most) plane[i] = most;
  });
  const none = memory.ints(0);
  const shares: PixelShares = {
    width,
    height,
    label,
    mixed: none,
    mixAt: none,
    mixLabels: memory.bytes(0),
    mixShares: memory.words(0),
    tone: memory.bytes(count),
  };
  return { shares, fields: new Map(plates.map(({ id }, k) => [id, planes[k]!])) };
}
