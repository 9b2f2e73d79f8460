import { type JobSheet, isSimulated, passes } from '../sheet';
import type { Finding } from './findings';

/** What of a job's screens and run its tones were not found for: they print otherwise than they were meant to. */
export function checkTones(sheet: JobSheet): Finding[] {
  if (!isSimulated(sheet)) return [];
  const findings: Finding[] = [];
  const names = (plates: JobSheet['plates']) => plates.map(({ ink }) => ink.name).join(', ');
  const locked = sheet.plates.filter(({ screen }) => screen.interlock !== null);
  if (locked.length > 1) {
    findings.push({
      code: 'tones-interlock',
      severity: 'severe',
      step: 'dots',
      message: `Dots of ${names(locked)} lie beside each other; their tones were found for dots that lie over each other by chance.`,
      remedy: 'Set them dispersed or 30° apart, or see in Difference what becomes of the colours.',
      plateId: locked[0]!.id,
    });
  }
  for (const plate of sheet.plates.filter(({ screen }) => screen.screening === 'solid')) {
    findings.push({
      code: 'tones-without-dots',
      severity: 'severe',
      step: 'dots',
      message: `${plate.ink.name} prints without dots: its tones below a half are lost, and the others are solid.`,
      remedy: 'Give it dots.',
      plateId: plate.id,
    });
  }
  const printed = passes(sheet);
  const twice = sheet.plates.filter(({ id }) => printed.filter((plate) => plate.id === id).length > 1);
  if (twice.length > 0) {
    findings.push({
      code: 'tones-printed-twice',
      severity: 'notice',
      step: 'plates',
      message: `The run prints ${names(twice)} more than once; tones were found for one pass.`,
      remedy: 'Lighten them by a tone curve, or let them print once.',
      plateId: twice[0]!.id,
    });
  }
  return findings;
}
