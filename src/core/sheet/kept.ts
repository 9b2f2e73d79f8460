import type { JobSheet } from './jobSheet';
import type { KeptColour, PlateSource } from './layerSchema';
import { fullToneLayer, withLayer } from './layers';

type Separated = Pick<JobSheet, 'layers' | 'plates'>;

/** A flat colour that is told from the tones of a job, with the plate that prints it solid; null: none does. */
export type KeptPrint = KeptColour & { readonly plateId: string | null; readonly tint: 1 };

const known = new WeakMap<JobSheet['layers'], WeakMap<JobSheet['plates'], readonly KeptPrint[]>>();

/** The flat colours that are told from the tones; none where a job is not printed by tones. */
export function keptOf({ layers, plates }: Separated): readonly KeptPrint[] {
  const byPlates = known.get(layers) ?? new WeakMap<JobSheet['plates'], readonly KeptPrint[]>();
  known.set(layers, byPlates);
  const read = byPlates.get(plates) ?? readKept({ layers, plates });
  byPlates.set(plates, read);
  return read;
}

function readKept({ layers, plates }: Separated): readonly KeptPrint[] {
  const layer = fullToneLayer({ layers });
  if (!layer) return [];
  const plateOf = (colourId: string) =>
    plates.find(({ sources }) =>
      sources.some(
        (source) =>
          source.kind === 'colours' &&
          source.layerId === layer.id &&
          source.colours.some((each) => each.colourId === colourId),
      ),
    );
  return layer.kept.map((colour) => ({ ...colour, plateId: plateOf(colour.id)?.id ?? null, tint: 1 }));
}

/** The sheet with other kept colours, or with the same on other plates. Of a plate that is not there nothing is kept. */
export function withKept<T extends Separated>(sheet: T, kept: readonly KeptPrint[]): T {
  const layer = fullToneLayer(sheet);
  if (!layer) return sheet;
  return {
    ...withLayer(sheet, {
      ...layer,
      kept: kept.map(({ plateId: _plate, tint: _tint, ...colour }) => colour),
    }),
    plates: sheet.plates.map((plate) => {
      const colours = kept.flatMap(({ id, plateId, as }) =>
        as === 'ink' && plateId === plate.id ? [{ colourId: id, tint: 1 }] : [],
      );
      const solid: PlateSource[] =
        colours.length > 0 ? [{ kind: 'colours', layerId: layer.id, colours }] : [];
      const others = plate.sources.filter(({ kind, layerId }) => kind !== 'colours' || layerId !== layer.id);
      return { ...plate, sources: [...others, ...solid] };
    }),
  };
}
