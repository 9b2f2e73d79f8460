import { labFromRgb8, parseHexColour } from '../colour';
import { LEAST_TONE, type LabelTables, NO_PLATE } from '../raster';
import { baseUnder, baseUnderPlate, coloursOnBase } from '../separation';
import { mostTone } from '../stages';
import { type JobSheet, type Plate, printsTones, keptOf, paletteOf, stagesOf } from '../sheet';

/** From this lightness (L*) down, an ink without base counts as dark: base may run under it unseen. */
const DARK_LIGHTNESS = 40;

/** What of a plate the plates before fit depend on. */
export interface DraftPlate {
  readonly id: string;
  readonly role: Plate['role'];
  /** How much base the colours on it want at most, 0..65535. */
  readonly baseTone: number;
  /** The most that its colours may give it, 0..65535. */
  readonly most: number;
}

/** What a flat colour prints. */
export interface DraftColour {
  /** Null: no plate prints it. */
  readonly plateId: string | null;
  /** How much of it, 0..65535. */
  readonly tint: number;
  /** How much base it wants, 0..65535. */
  readonly base: number;
  /** Whether base may run under it unseen: a dark ink that has none of its own. */
  readonly isDark: boolean;
}

/** What of a job sheet the plates before fit depend on, beside the labels: their key in every cache is this. */
export interface DraftSetting {
  /** For each label what prints it. */
  readonly colours: readonly DraftColour[];
  /** In print order, and behind them the one that `isOfBase`. */
  readonly plates: readonly DraftPlate[];
}

/** A plate that is only there while the base is made: the colours that the base prints itself, behind the id of the base. */
const OWN_COLOURS = ' itself';

/** Whether a plate before fit stands for colours that the base prints itself. */
export function isOfBase({ id }: Pick<DraftPlate, 'id'>): boolean {
  return id.endsWith(OWN_COLOURS);
}

export function draftSetting(sheet: Pick<JobSheet, 'layers' | 'plates' | 'fit'>): DraftSetting {
  const { plates } = sheet;
  const mostOf = (plate: Plate) => mostTone(stagesOf(plate));
  const base = plates.find(({ role }) => role === 'underbase');
  const mostBase = base ? mostOf(base) : 65535;
  const toneOfBase = (share: number) => (base ? Math.min(mostBase, Math.round(share * 65535)) : 0);
  const onBase = coloursOnBase(sheet);
  const own: DraftPlate[] =
    base && onBase.length > 0
      ? [
          {
            id: base.id + OWN_COLOURS,
            role: 'colour',
            baseTone: toneOfBase(Math.max(...onBase.map(({ tint }) => tint))),
            most: mostBase,
          },
        ]
      : [];
  return {
    colours: (printsTones(sheet) ? keptOf(sheet) : paletteOf(sheet)).map((entry) => {
      const { plateId, tint } = entry;
      const plate = plates.find(({ id }) => id === plateId);
      const wanted = baseUnder(sheet, entry);
      const ink = plate && plate !== base ? plate.ink.colour : null;
      return {
        plateId: plate && plate === base ? plate.id + OWN_COLOURS : plateId,
        tint: plate ? Math.min(mostOf(plate), Math.round(tint * 65535)) : 0,
        base: toneOfBase(wanted),
        isDark: wanted === 0 && ink !== null && labFromRgb8(parseHexColour(ink))[0] < DARK_LIGHTNESS,
      };
    }),
    plates: [
      ...plates
        .filter(({ role }) => role !== 'special')
        .map((plate) => ({
          id: plate.id,
          role: plate.role,
          baseTone: toneOfBase(baseUnderPlate(sheet, plate)),
          most: mostOf(plate),
        })),
      // Behind the plates of the job: those keep their places.
      ...own,
    ],
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
  colours.forEach(({ plateId, tint, base, isDark }, label) => {
    const k = order.findIndex(({ id }) => id === plateId);
    if (k < 0 || tint < LEAST_TONE) return;
    plateOf[label] = k;
    tintOf[label] = tint;
    strengthOf[label] = base;
    darkOf[label] = isDark ? 1 : 0;
  });
  return { plateOf, tintOf, strengthOf, darkOf };
}
