import { type NamedPlate, missingChannels, unusedChannels } from '../separation';
import { type JobSheet, isSupplied } from '../sheet';
import type { Finding } from './findings';

/** The plates of a page of a PDF that names inks of its own. */
export interface PagePlates {
  /** Those that print anything. */
  readonly plates: readonly NamedPlate[];
  /** Whether colours of RGB became process inks. */
  readonly hasRgb: boolean;
  /** What of the page its plates do not keep, in words. */
  readonly unkept: readonly string[];
  /** Effects that cannot be kept as shapes and became pictures, of all plates. */
  readonly pictures: number;
  /** Set: why its plates cannot be taken. */
  readonly refused: string | null;
}

function listed(names: readonly string[]): string {
  return names.join(', ');
}

/** What is to be told of plates that the artwork's file names, whether they are taken or not. */
export function checkSupplied(sheet: JobSheet, page: PagePlates | null): Finding[] {
  const findings: Finding[] = [];
  const say = (finding: Omit<Finding, 'step'>) => findings.push({ step: 'plates', ...finding });
  if (page?.refused) {
    say({
      code: 'plates-refused',
      severity: 'notice',
      message: `${page.refused} Its colours are taken as they are shown.`,
      remedy:
        'Export it again with its inks as spot colours, and without a password, where its own plates are wanted.',
    });
  }
  if (!isSupplied(sheet)) {
    if (page && page.plates.length > 0) {
      say({
        code: 'plates-named',
        severity: 'notice',
        message: `The file names plates of its own: ${listed(page.plates.map(({ name }) => name))}. They are not used; overprinting in it is not seen in its colours.`,
        remedy: 'Take them as they are, where they were made for this print.',
        named: page.plates,
      });
    }
    return findings;
  }
  const named = page?.plates ?? [];
  for (const plate of missingChannels(sheet, named)) {
    say({
      code: 'plate-missing',
      severity: 'severe',
      message: `The file has no plate of the name of ${plate.ink.name}: nothing prints of it.`,
      remedy: 'Take the plate out, or drop a file that has it.',
      plateId: plate.id,
    });
  }
  const unused = unusedChannels(sheet, named);
  if (unused.length > 0) {
    say({
      code: 'plate-unused',
      severity: 'notice',
      message: `The file has plates that the job leaves out: ${listed(unused.map(({ name }) => name))}.`,
      remedy: 'Add them again under Separation, where they are to print.',
    });
  }
  if (page?.hasRgb) {
    say({
      code: 'plates-of-rgb',
      severity: 'notice',
      message:
        'Parts of the page have colours of RGB, which no plate is named for: they print on the process inks, converted without a profile.',
      remedy: 'Look at those plates; a file whose colours are all inks says exactly what prints.',
    });
  }
  if (page && page.unkept.length > 0) {
    say({
      code: 'plates-unkept',
      severity: 'notice',
      message: `Not all of the page may be on its plates as it is meant: ${page.unkept.join('; ')}.`,
      remedy: 'Look at those parts on each plate, or export it again without them.',
    });
  }
  if (page && page.pictures > 0) {
    say({
      code: 'plates-of-pictures',
      severity: 'notice',
      message: `${page.pictures} effects in its plates are pictures, since they cannot be kept as shapes.`,
      remedy: 'Look at their edges.',
    });
  }
  for (const plate of sheet.plates.filter(({ screen }) => screen.screening === 'solid')) {
    say({
      code: 'tones-without-dots',
      severity: 'notice',
      message: `${plate.ink.name} prints without dots: what the file prints of it at less than a half is lost, and the rest is solid.`,
      remedy: 'Give it dots, unless it is solid everywhere.',
      plateId: plate.id,
    });
  }
  return findings;
}
