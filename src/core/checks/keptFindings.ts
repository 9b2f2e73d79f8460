import type { FoundColour } from '../artwork';
import { formatHexColour } from '../colour';
import { keptOffers } from '../separation';
import { type JobSheet, isSimulated, keptOf } from '../sheet';
import { trimNumber } from '../units';
import type { Finding } from './findings';

/** From this share of the artwork on a flat area that is made of dots is told. */
const LARGE_AREA = 0.005;
/** Colours that are named. */
const NAMED = 4;

/** Flat areas and lettering in artwork that prints by its tones, and what became of those that were to be solid. */
export function checkKept(sheet: JobSheet, keepable: readonly FoundColour[]): Finding[] {
  if (!isSimulated(sheet)) return [];
  const findings: Finding[] = [];
  const large = keptOffers(sheet, keepable).filter(({ area }) => area >= LARGE_AREA);
  if (large.length > 0) {
    const share = large.reduce((sum, { area }) => sum + area, 0);
    const names = large.slice(0, NAMED).map(({ rgb }) => formatHexColour(rgb));
    const more = large.length > NAMED ? ` and ${large.length - NAMED} more` : '';
    findings.push({
      code: 'flat-as-dots',
      severity: 'notice',
      step: 'plates',
      message: `${trimNumber(share * 100, 1)} % of the artwork is flat and made of dots: ${names.join(', ')}${more}.`,
      remedy:
        'Lettering and plain areas print sharper as solids: see Kept solid, or leave them as dots there.',
    });
  }
  const lost = keptOf(sheet).filter(({ as, plateId }) => as === 'ink' && plateId === null);
  if (lost.length > 0) {
    findings.push({
      code: 'kept-without-ink',
      severity: 'notice',
      step: 'plates',
      message: `${lost.map(({ colour }) => colour).join(', ')} ${lost.length === 1 ? 'was' : 'were'} to be solid, but no ink is near: dots print ${lost.length === 1 ? 'it' : 'them'}.`,
      remedy: 'Choose an ink for it in Kept solid, or add one.',
    });
  }
  return findings;
}
