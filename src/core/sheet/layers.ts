import { garmentOf } from './garments';
import type { JobGarment, JobSheet, Plate } from './jobSheet';
import type { Artwork, FlatLayer, FlatColour, FullToneLayer, Layer, PlateSource } from './layerSchema';
import type { METHODS } from './vocabulary';

/** A flat colour with what prints it: the plate and how much of it; without a plate the garment supplies it. */
export type PaletteColour = FlatColour & { readonly plateId: string | null; readonly tint: number };

type Layered = Pick<JobSheet, 'layers'>;
type Separated = Pick<JobSheet, 'layers' | 'plates'>;

/** What of the artwork prints. A sheet has exactly one layer so far. */
export function layerOf({ layers }: Layered): Layer {
  return layers[0]!;
}

/** A sheet that is shown while a hand drags: tones are found coarsely and at once. It is never stored. */
export function asDraft(sheet: JobSheet): JobSheet {
  const layer = fullToneLayer(sheet);
  return layer ? withLayer(sheet, { ...layer, draft: true }) : sheet;
}

/** The file that is printed. A sheet has exactly one so far. */
export function artworkOf({ artworks }: Pick<JobSheet, 'artworks'>): Artwork {
  return artworks[0]!;
}

/** Whether a job's plates are tones, and not flat colours: found for its inks, or those of the artwork's file. */
export function printsTones(sheet: Layered): boolean {
  return layerOf(sheet).kind !== 'flat';
}

/** Whether a job's tones are found for its inks, so that all of them together print the artwork. */
export function isSimulated(sheet: Layered): boolean {
  return layerOf(sheet).kind === 'full-tone';
}

/** Whether a job's plates are those of the artwork's file. */
export function isSupplied(sheet: Layered): boolean {
  return layerOf(sheet).kind === 'supplied';
}

/** The plate of the artwork's file that a plate prints as it is; null: none. */
export function channelOf({ sources }: Pick<Plate, 'sources'>): string | null {
  return sources.find((source) => source.kind === 'channel')?.channel ?? null;
}

/** Whether some plates are the file's own, edges and all. */
export function hasFilePlates({ plates }: { readonly plates: readonly Pick<Plate, 'sources'>[] }): boolean {
  return plates.some((plate) => channelOf(plate) !== null);
}

export function flatLayer(sheet: Layered): FlatLayer | null {
  const layer = layerOf(sheet);
  return layer.kind === 'flat' ? layer : null;
}

export function fullToneLayer(sheet: Layered): FullToneLayer | null {
  const layer = layerOf(sheet);
  return layer.kind === 'full-tone' ? layer : null;
}

/** What palettes were read from, so that a sheet that is asked often answers at once. */
const known = new WeakMap<JobSheet['layers'], WeakMap<JobSheet['plates'], readonly PaletteColour[]>>();

/** A garment that tones are found for, and the plates that do not run for it. */
export type TonedGarment = Pick<JobGarment, 'colour' | 'without'>;

/** What a job's tones are found for. */
export function tonedGarments(sheet: Pick<JobSheet, 'layers' | 'garments'>): readonly TonedGarment[] {
  const layer = fullToneLayer(sheet);
  if (layer?.together) return sheet.garments;
  return [{ colour: layer?.solvedFor ?? garmentOf(sheet).colour, without: [] }];
}

/** The flat colours with what prints each; none where plates are tones. */
export function paletteOf({ layers, plates }: Separated): readonly PaletteColour[] {
  const byPlates = known.get(layers) ?? new WeakMap<JobSheet['plates'], readonly PaletteColour[]>();
  known.set(layers, byPlates);
  const read = byPlates.get(plates) ?? readPalette(flatLayer({ layers }), plates);
  byPlates.set(plates, read);
  return read;
}

function readPalette(layer: FlatLayer | null, plates: readonly Plate[]): readonly PaletteColour[] {
  if (!layer) return [];
  const printed = new Map<string, { plateId: string; tint: number }>();
  for (const { id: plateId, sources } of plates) {
    for (const source of sources) {
      if (source.kind !== 'colours' || source.layerId !== layer.id) continue;
      for (const { colourId, tint } of source.colours) printed.set(colourId, { plateId, tint });
    }
  }
  return layer.colours.map((colour) => ({
    ...colour,
    ...(printed.get(colour.id) ?? { plateId: null, tint: 1 }),
  }));
}

/** How a job's plates are made of its artwork. */
export function methodOf(sheet: Layered): (typeof METHODS)[number] {
  if (isSupplied(sheet)) return 'supplied';
  return isSimulated(sheet) ? 'simulated' : 'spot';
}

/** The colours between which the artwork has wide transitions; null: any two. */
export function transitionsOf(sheet: Layered): FlatLayer['transitions'] {
  const layer = flatLayer(sheet);
  return layer ? layer.transitions : [];
}

/** The sheet with other colours, or with the same printed otherwise. Of a plate that is not there nothing is kept. */
export function withPalette<T extends Separated>(sheet: T, palette: readonly PaletteColour[]): T {
  const layer = flatLayer(sheet);
  if (!layer) return sheet;
  const next: FlatLayer = {
    ...layer,
    colours: palette.map(({ plateId: _plate, tint: _tint, ...colour }) => colour),
  };
  return {
    ...withLayer(sheet, next),
    plates: sheet.plates.map((plate) => ({
      ...plate,
      sources: [
        ...colourSources(layer.id, palette, plate.id),
        ...plate.sources.filter(({ kind, layerId }) => kind !== 'colours' || layerId !== layer.id),
      ],
    })),
  };
}

/** What a plate prints of a flat layer. */
function colourSources(layerId: string, palette: readonly PaletteColour[], plateId: string): PlateSource[] {
  const colours = palette.flatMap((each) =>
    each.plateId === plateId ? [{ colourId: each.id, tint: each.tint }] : [],
  );
  return colours.length > 0 ? [{ kind: 'colours', layerId, colours }] : [];
}

/** The sheet with the layer of the same id as it is given. */
export function withLayer<T extends Layered>(sheet: T, layer: Layer): T {
  return { ...sheet, layers: sheet.layers.map((each) => (each.id === layer.id ? layer : each)) };
}

/** The sheet with all of its artwork (null), or what lies inside of an outline, given as fractions of it. */
export function withMask(sheet: JobSheet, mask: Layer['mask']): JobSheet {
  return withLayer(sheet, { ...layerOf(sheet), mask });
}

/** The sheet with what its only layer drops of a background. */
export function withBackground(sheet: JobSheet, background: Layer['background']): JobSheet {
  const layer = layerOf(sheet);
  return layer.kind === 'supplied' ? sheet : withLayer(sheet, { ...layer, background });
}
