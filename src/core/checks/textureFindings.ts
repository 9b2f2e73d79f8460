import { baseUnderPlate } from '../separation';
import type { JobSheet } from '../sheet';
import { sparedPlates } from '../texture';
import { trimNumber } from '../units';
import type { Finding, PrintPlace } from './findings';

/** From this part of the holes on it is told that they would fill. */
const FILLS = 0.1;

/** What a part of the print told of the job's texture. */
export interface WearSurvey {
  /** Share of the part that is worn away. */
  readonly share: number;
  /** Part of what is worn that is too narrow to stay open. */
  readonly filling: number;
  /** A place of that. */
  readonly place: PrintPlace | null;
}

const percent = (share: number) => `${trimNumber(share * 100, 0)} %`;

/** A texture through some of the plates: what then shows in its holes. */
export function checkTexture(sheet: JobSheet): Finding[] {
  if (!sheet.texture || !(sheet.texture.strength > 0)) return [];
  const spared = sparedPlates(sheet);
  const worn = sheet.plates.filter(({ id }) => !spared.has(id));
  const base = sheet.plates.find(({ role }) => role === 'underbase');
  if (worn.length === 0) {
    return [
      {
        code: 'texture-nowhere',
        severity: 'notice',
        step: 'fit',
        message: 'The texture wears no plate: all of them are left out of it.',
        remedy: 'Take the texture away, or let it wear some of them.',
      },
    ];
  }
  if (
    base &&
    spared.has(base.id) &&
    worn.some((plate) => plate.role === 'colour' && baseUnderPlate(sheet, plate) > 0)
  ) {
    return [
      {
        code: 'texture-shows-base',
        severity: 'severe',
        step: 'fit',
        message: `The texture does not wear ${base.ink.name}: it shows in the holes of the colours.`,
        remedy: 'Let the texture wear the base as well.',
        plateId: base.id,
      },
    ];
  }
  const unworn = sheet.plates.filter(
    (plate) => plate.role === 'colour' && spared.has(plate.id) && baseUnderPlate(sheet, plate) > 0,
  );
  if (base && !spared.has(base.id) && unworn.length > 0) {
    return [
      {
        code: 'texture-takes-base',
        severity: 'severe',
        step: 'fit',
        message: `The texture wears the base, and not ${unworn.map(({ ink }) => ink.name).join(', ')} on it: there these inks lie on the garment alone.`,
        remedy: 'Let the texture wear them as well, or leave the base out of it.',
        plateId: unworn[0]!.id,
      },
    ];
  }
  return [];
}

/** Holes that would fill. */
export function checkWear(
  { limits }: Pick<JobSheet, 'limits'>,
  { share, filling, place }: WearSurvey,
): Finding[] {
  if (filling < FILLS) return [];
  return [
    {
      code: 'texture-fills',
      severity: 'notice',
      step: 'fit',
      message: `Of what the texture wears away ${percent(filling)} is narrower than ${trimNumber(limits.openingMm, 2)} mm and would fill: about ${percent(share * (1 - filling))} of the print stays worn, and not ${percent(share)}.`,
      remedy: 'Make the texture larger, give it more contrast, or wear more.',
      measured: filling,
      limit: FILLS,
      ...(place ? { place } : {}),
    },
  ];
}
