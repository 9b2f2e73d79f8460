import type { JobSheet, Plate } from './jobSheet';
import type { Patch, PlateShare } from './layerSchema';

/** The changes of a plate's tones inside of outlines, in the order in which they are made. */
export function patchesOf({ sources }: Pick<Plate, 'sources'>): readonly Patch[] {
  return sources.flatMap((source) => (source.kind === 'colours' ? [] : source.patches));
}

/** What a plate takes of other plates' tones, or gives away for them. */
export function sharesOf({ sources }: Pick<Plate, 'sources'>): readonly PlateShare[] {
  return sources.flatMap((source) => (source.kind === 'tones' ? (source.shares ?? []) : []));
}

/** The sheet with a share of another plate in the tones of one, -1..1; null: none of it. */
export function withShare(
  sheet: JobSheet,
  plateId: string,
  { plateId: of, share }: { readonly plateId: string; readonly share: number | null },
): JobSheet {
  const plates = sheet.plates.map((plate) => {
    if (plate.id !== plateId || of === plateId) return plate;
    const known = sharesOf(plate);
    const others = known.filter((each) => each.plateId !== of);
    const place = known.findIndex((each) => each.plateId === of);
    const shares =
      share === null
        ? others
        : place < 0
          ? [...known, { plateId: of, share }]
          : known.with(place, { plateId: of, share });
    const sources = plate.sources.map((source) =>
      source.kind === 'tones' ? withShares(source, shares) : source,
    );
    return { ...plate, sources };
  });
  return { ...sheet, plates };
}

function withShares<T extends { readonly shares?: unknown }>(source: T, shares: readonly PlateShare[]) {
  const { shares: _, ...rest } = source;
  return shares.length === 0 ? rest : { ...rest, shares: [...shares] };
}

/** A patch as it begins: tones made fuller, with a soft border. */
const FIRST: Omit<Patch, 'id' | 'outline'> = { featherMm: 3, act: 'lift', amount: 0.5, on: true };

/** The sheet with one patch of a plate more. */
export function addPatch(sheet: JobSheet, plateId: string, outline: Patch['outline']): JobSheet {
  return withPatches(sheet, plateId, (patches) => {
    const taken = new Set(patches.map(({ id }) => id));
    let number = 1;
    while (taken.has(`p${number}`)) number++;
    return [...patches, { ...FIRST, id: `p${number}`, outline }];
  });
}

/** The sheet with other patches of a plate; a plate that prints flat colours has none. */
export function withPatches(
  sheet: JobSheet,
  plateId: string,
  change: (patches: readonly Patch[]) => readonly Patch[],
): JobSheet {
  const plates = sheet.plates.map((plate) =>
    plate.id === plateId
      ? {
          ...plate,
          sources: plate.sources.map((source) =>
            source.kind === 'colours' ? source : { ...source, patches: [...change(source.patches)] },
          ),
        }
      : plate,
  );
  return { ...sheet, plates };
}
