import { labFromRgb8, parseHexColour } from '../colour';
import { LEAST_TONE, type LabelTables, NO_PLATE } from '../raster';
import { mostTone } from '../stages';
import { type JobSheet, type Plate, isSimulated, keptOf, paletteOf, stagesOf } from '../sheet';

/** From this lightness (L*) down, an ink without base counts as dark: base may run under it unseen. */
const DARK_LIGHTNESS = 40;

/** What of a plate the plates before fit depend on. */
export interface DraftPlate {
  readonly id: string;
  readonly role: Plate['role'];
  /** How much base it wants, 0..65535. */
  readonly baseTone: number;
  /** Whether base may run under it unseen: a dark ink that has none of its own. */
  readonly isDark: boolean;
  /** The most that its colours may give it, 0..65535. */
  readonly most: number;
}

/** What of a job sheet the plates before fit depend on, beside the labels: their key in every cache is this. */
export interface DraftSetting {
  /** For each label the plate that prints it, and how much of it, 0..65535; null: none does. */
  readonly colours: readonly { readonly plateId: string | null; readonly tint: number }[];
  /** In print order. */
  readonly plates: readonly DraftPlate[];
}

export function draftSetting(sheet: Pick<JobSheet, 'layers' | 'plates'>): DraftSetting {
  const { plates } = sheet;
  const mostOf = (plate: Plate) => mostTone(stagesOf(plate));
  const base = plates.find(({ role }) => role === 'underbase');
  const mostBase = base ? mostOf(base) : 65535;
  return {
    colours: (isSimulated(sheet) ? keptOf(sheet) : paletteOf(sheet)).map(({ plateId, tint }) => {
      const plate = plates.find(({ id }) => id === plateId);
      return { plateId, tint: plate ? Math.min(mostOf(plate), Math.round(tint * 65535)) : 0 };
    }),
    plates: plates
      .filter(({ role }) => role !== 'special')
      .map((plate) => ({
        id: plate.id,
        role: plate.role,
        baseTone: Math.min(mostBase, Math.round(plate.baseStrength * 65535)),
        isDark: plate.baseStrength === 0 && labFromRgb8(parseHexColour(plate.ink.colour))[0] < DARK_LIGHTNESS,
        most: mostOf(plate),
      })),
  };
}

/** The plates but the base, in print order. */
export function colourPlates({ plates }: DraftSetting): readonly DraftPlate[] {
  return plates.filter(({ role }) => role !== 'underbase');
}

/** For each label what prints there. @param order the plates that count, as the tables number them. */
export function labelTables({ colours }: DraftSetting, order: readonly DraftPlate[]): LabelTables {
  const plateOf = new Int8Array(256).fill(NO_PLATE);
  const tintOf = new Uint16Array(256);
  const strengthOf = new Uint16Array(256);
  const darkOf = new Uint8Array(256);
  colours.forEach(({ plateId, tint }, label) => {
    const k = order.findIndex(({ id }) => id === plateId);
    if (k < 0 || tint < LEAST_TONE) return;
    plateOf[label] = k;
    tintOf[label] = tint;
    strengthOf[label] = order[k]!.baseTone;
    darkOf[label] = order[k]!.isDark ? 1 : 0;
  });
  return { plateOf, tintOf, strengthOf, darkOf };
}
