import type { JobSheet, Plate } from '../sheet';
import { trimNumber } from '../units';
import type { Finding, PrintPlace, PrintSurvey } from './findings';
import { adviseScreen, beatsOfPlates, describeBeat, shows } from './screenAdvice';

/** What a survey of the whole print found out about one plate. */
export interface PlateSurvey {
  /** Share of the print that it covers, 0..1. */
  readonly coverage: number;
  /** Share of the print where it prints as dots. */
  readonly toned: number;
  /** A place where it prints, in millimetres; null when it prints nothing. */
  readonly place: PrintPlace | null;
}

/** @param surveys in the order of the plates. */
export function checkCoverage(
  { plates, limits: { emptyShare } }: Pick<JobSheet, 'plates' | 'limits'>,
  surveys: readonly PlateSurvey[],
): Finding[] {
  return plates.flatMap((plate, index): Finding[] => {
    const { coverage: share, place } = surveys[index]!;
    if (share >= emptyShare) return [];
    return [
      {
        code: share === 0 ? 'plate-empty' : 'plate-nearly-empty',
        severity: 'notice',
        step: 'plates',
        message:
          share === 0
            ? `${plate.ink.name} prints nothing.`
            : `${plate.ink.name} covers ${trimNumber(share * 100, 3)} % of the print.`,
        remedy: 'Merge its colour with another ink, or leave it out.',
        measured: share,
        limit: emptyShare,
        plateId: plate.id,
        ...(place ? { place } : {}),
      },
    ];
  });
}

/** Angles nearer than this, in degrees, are one angle. */
const SAME_ANGLE = 5;
/** From this share of the print on dots that meet are told. */
const SEEN_SHARE = 5e-4;

/**
 * Plates whose dots lie over each other at one angle.
 * @param overlap share of the print where both have dots, for each pair of plates in the order of the plates.
 */
export function checkAngles(
  plates: JobSheet['plates'],
  overlap: (one: number, other: number) => { share: number; place: PrintPlace | null },
): Finding[] {
  const findings: Finding[] = [];
  plates.forEach((one, k) => {
    plates.slice(k + 1).forEach((other, offset) => {
      // Dots without a grid have no angle.
      if (one.screen.screening !== 'grid' || other.screen.screening !== 'grid') return;
      // Dots that lie beside each other want one angle.
      if (one.screen.interlock !== null && one.screen.interlock === other.screen.interlock) return;
      const apart = Math.abs(one.screen.angleDeg - other.screen.angleDeg) % 90;
      const { share, place } = overlap(k, k + 1 + offset);
      if (Math.min(apart, 90 - apart) >= SAME_ANGLE || share < SEEN_SHARE) return;
      findings.push({
        code: 'same-angle',
        severity: 'notice',
        step: 'dots',
        message: `Dots of ${one.ink.name} and ${other.ink.name} overlap at one angle, on ${trimNumber(share * 100, 1)} % of the print.`,
        remedy: 'A small shift changes their colour: set one of them 30° apart.',
        measured: apart,
        limit: SAME_ANGLE,
        plateId: other.id,
        otherId: one.id,
        ...(place ? { place } : {}),
      });
    });
  });
  return findings;
}

/** Screens of plates that have dots: whether mesh and film carry them, and what beats. */
export function checkScreens(sheet: JobSheet, survey: PrintSurvey): Finding[] {
  const count = sheet.plates.length;
  const dotted = sheet.plates.filter(
    (plate, k) => plate.screen.screening === 'grid' && survey.plates[k]!.toned >= SEEN_SHARE,
  );
  const findings = dotted.flatMap((plate): Finding[] =>
    adviseScreen(plate, sheet.film.dpi).warnings.map(({ message, remedy }): Finding => ({
      code: 'screen-fails',
      severity: 'notice',
      step: 'dots',
      message: `${plate.ink.name}: ${message}`,
      remedy,
      plateId: plate.id,
      ...placeOf(survey.plates[sheet.plates.indexOf(plate)]!),
    })),
  );
  const overlap = (one: Plate, other: Plate) => {
    const [p, q] = [sheet.plates.indexOf(one), sheet.plates.indexOf(other)].sort((x, y) => x - y) as [
      number,
      number,
    ];
    return survey.overlaps[p * count + q]!;
  };
  const worst = beatsOfPlates(dotted, (one, other) => overlap(one, other).share >= SEEN_SHARE)[0];
  if (worst && shows(worst.beat)) {
    const { place } = overlap(worst.plates[0]!, worst.plates[1]!);
    findings.push({
      code: 'plates-beat',
      severity: 'notice',
      step: 'dots',
      message: `${worst.plates.map((plate) => plate.ink.name).join(' and ')} make a pattern of ${describeBeat(worst.beat)}.`,
      remedy: 'Let Dots find angles, or set them 30° apart.',
      measured: worst.beat.periodMm,
      plateId: worst.plates[0]!.id,
      ...(place ? { place } : {}),
    });
  }
  return findings;
}

/** The place of a finding about a plate, where it prints anywhere. */
export function placeOf({ place }: PlateSurvey): { place?: PrintPlace } {
  return place ? { place } : {};
}
