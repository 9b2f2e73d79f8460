import {
  type JobSheet,
  LIMITS,
  SPECIALS,
  type SpecialKind,
  addSpecial,
  alignRun,
  changeSpecial,
} from '@/core/sheet';
import { parseLengthMm } from '@/core/units';
import { type Options, bad } from './arguments';

const HINT = `Write a list like "blocker, clear:0.2mm, adhesive:-0.1mm@Red+Gold"; kinds are ${SPECIALS.join(', ')}, or none.`;

/** The sheet with the special plates that `--special` names, in the place of any that it had. Throws KerameusError `argument`. */
export function withSpecials({ special: text }: Options, sheet: JobSheet): JobSheet {
  if (text === undefined) return sheet;
  const plain = alignRun({ ...sheet, plates: sheet.plates.filter((plate) => plate.special === null) });
  if (text.trim() === 'none') return plain;
  return text.split(',').reduce((now, part) => {
    const [head = '', names] = part.split('@');
    const [kind = '', reach] = head.split(':').map((each) => each.trim());
    if (!(SPECIALS as readonly string[]).includes(kind)) {
      throw bad('special', `--special has "${kind}", which is no special plate.`, HINT);
    }
    if (kind === 'halftone' && (reach ?? names) !== undefined) {
      throw bad('special', '--special: halftone is what of the base is dots, no more and no less.', HINT);
    }
    const next = addSpecial(now, kind as SpecialKind);
    const made = next.plates.find(({ id }) => !now.plates.some((plate) => plate.id === id))!;
    const rule = { parameter: 'special', minMm: -LIMITS.maxChokeMm, maxMm: LIMITS.maxChokeMm };
    return changeSpecial(next, made.id, {
      ...(reach === undefined ? {} : { growMm: parseLengthMm(reach, rule) }),
      ...(names === undefined ? {} : { over: names.split('+').map((name) => plateId(plain, name.trim())) }),
    });
  }, plain);
}

function plateId({ plates }: JobSheet, name: string): string {
  const found = plates.find(({ id, ink }) => id === name || ink.name.toLowerCase() === name.toLowerCase());
  if (found) return found.id;
  throw bad(
    'special',
    `--special names "${name}", which is no plate of this job.`,
    `Its plates are ${plates.map(({ ink }) => ink.name).join(', ')}.`,
  );
}
