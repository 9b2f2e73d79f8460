import {
  ciede2000,
  formatHexColour,
  labFromLinear,
  labFromRgb8,
  nameColour,
  parseHexColour,
  rgb8FromLinear,
} from '../colour';
import { predictFlat } from '../separation';
import { type JobSheet, garmentOf, printsTones, paletteOf } from '../sheet';
import { trimNumber } from '../units';
import type { ColourSurvey } from './colourFindings';
import type { Finding, PrintPlace } from './findings';

/** Lines that are too thin, and openings that are too narrow. */
export interface ThinSurvey {
  /** In the order of the plates. */
  readonly lines: readonly {
    /** About, of all of them together. */
    readonly lengthMm: number;
    /** In the longest of them; null where there are none. */
    readonly place: PrintPlace | null;
    /** What the plate's mesh, or the sheet's limit, asks for. */
    readonly limitMm: number;
  }[];
  /** Where the garment shows through the print. */
  readonly openings: { readonly lengthMm: number; readonly place: PrintPlace | null };
}

/** Tones of a plate's dots that do not come through the screen as they are. */
export interface HoldSurvey {
  /** Share of the print where its dots are smaller than the mesh holds, and coverage below which they are. */
  readonly lost: number;
  readonly lostBelow: number;
  /** Share of the print where they are so large that they plug. */
  readonly plugged: number;
}

/** Less than this is a tip or a serif. */
const LEAST_MM = 3;
const mm = (length: number) => `${trimNumber(length, 2)} mm`;
const long = (length: number) => `${trimNumber(length, length < 10 ? 1 : 0)} mm`;

/** Lines that break, and openings that fill. */
export function checkThin(sheet: JobSheet, { lines, openings }: ThinSurvey): Finding[] {
  const findings = sheet.plates.flatMap((plate, k): Finding[] => {
    const { lengthMm, place, limitMm } = lines[k]!;
    if (lengthMm < LEAST_MM || !place) return [];
    return [
      {
        code: 'line-thin',
        severity: 'notice',
        step: plate.role === 'underbase' ? 'fit' : 'plates',
        message: `${plate.ink.name} has about ${long(lengthMm)} of lines thinner than ${mm(limitMm)}, which break on mesh ${plate.mesh}.`,
        remedy:
          plate.role === 'underbase'
            ? 'Choke the base less, or let it keep thin lines at a width.'
            : 'Take a finer mesh, or thicken them in the artwork.',
        measured: Math.round(lengthMm * 10) / 10,
        limit: limitMm,
        plateId: plate.id,
        place,
        close: true,
      },
    ];
  });
  const { openingMm } = sheet.limits;
  if (openings.lengthMm < LEAST_MM || !openings.place) return findings;
  return [
    ...findings,
    {
      code: 'opening-fills',
      severity: 'notice',
      step: 'fit',
      message: `About ${long(openings.lengthMm)} of openings to ${garmentOf(sheet).name} are narrower than ${mm(openingMm)}: ink fills them.`,
      remedy: 'Guard openings where colours spread or trap, or make them wider in the artwork.',
      measured: Math.round(openings.lengthMm * 10) / 10,
      limit: openingMm,
      place: openings.place,
      close: true,
    },
  ];
}

/** From this share of the print on tones that do not hold are told. */
const LEAST_SHARE = 2e-3;
const percent = (share: number) => `${trimNumber(share * 100, share < 0.01 ? 2 : 1)} %`;

/** Tones below or above what holds. */
export function checkHolds(sheet: JobSheet, holds: readonly HoldSurvey[]): Finding[] {
  return sheet.plates.flatMap((plate, k): Finding[] => {
    const { lost, lostBelow, plugged } = holds[k]!;
    const findings: Finding[] = [];
    if (lost >= LEAST_SHARE) {
      findings.push({
        code: 'tones-lost',
        severity: 'notice',
        step: 'dots',
        message: `${plate.ink.name} has dots below ${percent(lostBelow)} on ${percent(lost)} of the print, which mesh ${plate.mesh} does not hold.`,
        remedy: 'Let such tones have fewer dots of the smallest size, or take a finer mesh.',
        measured: lost,
        limit: LEAST_SHARE,
        plateId: plate.id,
      });
    }
    if (plugged >= LEAST_SHARE) {
      findings.push({
        code: 'tones-plug',
        severity: 'notice',
        step: 'dots',
        message: `${plate.ink.name} has dots above ${percent(sheet.limits.plugging)} on ${percent(plugged)} of the print: their openings plug.`,
        remedy: 'Keep openings open from that tone on.',
        measured: plugged,
        limit: LEAST_SHARE,
        plateId: plate.id,
      });
    }
    return findings;
  });
}

/** From this share of the print on a colour that is hardly seen is told. */
const SEEN_SHARE = 2e-4;

/**
 * Colours that are printed and hardly seen on the garment: details of them vanish. Those that the artwork itself has in the garment's colour are meant.
 *
 * @param surveys in the order of the palette.
 */
export function checkVanishing(sheet: JobSheet, surveys: readonly ColourSurvey[]): Finding[] {
  if (printsTones(sheet)) return [];
  const garment = labFromRgb8(parseHexColour(garmentOf(sheet).colour));
  return paletteOf(sheet).flatMap((entry, k): Finding[] => {
    const { share, place } = surveys[k]!;
    if (entry.plateId === null || share < SEEN_SHARE || !place) return [];
    const { print } = predictFlat(sheet, entry);
    const apart = ciede2000(labFromLinear(print), garment);
    const wanted = ciede2000(labFromRgb8(parseHexColour(entry.colour)), garment);
    if (apart >= sheet.limits.vanishing || wanted < sheet.limits.vanishing) return [];
    return [
      {
        code: 'detail-vanishes',
        severity: 'notice',
        step: 'plates',
        message: `${nameColour(parseHexColour(entry.colour))} prints as ${formatHexColour(rgb8FromLinear(print))} and is hardly seen on ${garmentOf(sheet).name}, ${trimNumber(apart, 1)} from it.`,
        remedy: 'Give its ink a base or another colour, or leave it to the garment and save the ink.',
        measured: Math.round(apart * 10) / 10,
        limit: sheet.limits.vanishing,
        plateId: entry.plateId,
        colour: entry.colour,
        share,
        place,
      },
    ];
  });
}
