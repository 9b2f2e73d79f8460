import { slug } from '../separation';
import type { JobSheet, Plate } from '../sheet';
import { KerameusError, trimNumber } from '../units';

/** What can stand in a pattern, and what it becomes. */
const FIELDS: Readonly<Record<string, (sheet: JobSheet, plate: Plate) => string>> = {
  n: (_, plate) => String(plate.number).padStart(2, '0'),
  ink: (_, plate) => slug(plate.ink.name),
  job: (sheet) => slug(sheet.name),
  role: (_, plate) => plate.role,
  lpi: (_, plate) => trimNumber(plate.screen.lpi, 1),
  angle: (_, plate) => trimNumber(plate.screen.angleDeg, 1),
  mesh: (_, plate) => String(plate.mesh),
  date: (sheet) => sheet.film.date,
};

export const NAME_FIELDS: readonly string[] = Object.keys(FIELDS);

/** Files that stand beside the films. */
const OTHER_FILES = ['films', 'gang', 'inks', 'inks-each', 'halftones', 'print', 'preview', 'report', 'job'];

/** Throws KerameusError `name-pattern` for a field that is not known. */
export function checkNamePattern(pattern: string): void {
  for (const [, field] of pattern.matchAll(/\{([^{}]*)\}/g)) {
    if (field! in FIELDS) continue;
    throw new KerameusError({
      code: 'name-pattern',
      parameter: 'names',
      message: `The name pattern has {${field}}, which is not known.`,
      remedy: `Use ${NAME_FIELDS.map((each) => `{${each}}`).join(', ')}.`,
    });
  }
}

/** Letters of any script are spelled out or left out, so that names are safe on every system. */
function safe(text: string): string {
  const plain = text
    .normalize('NFKD')
    .replace(/[^a-zA-Z0-9._-]+/g, '-')
    .replace(/^[-.]+|[-.]+$/g, '')
    .slice(0, 100);
  return plain || 'film';
}

/**
 * File names of films without their endings, in the order of the plates: by the job's pattern, safe, and each once.
 *
 * Throws what `checkNamePattern` throws.
 */
export function filmBaseNames(sheet: JobSheet, plates: readonly Plate[]): string[] {
  checkNamePattern(sheet.film.names);
  const taken = new Set<string>([...OTHER_FILES, ...plates.map((_, k) => `gang-${k + 1}`)]);
  return plates.map((plate) => {
    const wanted = safe(
      sheet.film.names.replace(/\{([^{}]*)\}/g, (_, field: string) => FIELDS[field]!(sheet, plate)),
    );
    let name = wanted;
    for (let k = 2; taken.has(name.toLowerCase()); k++) name = `${wanted}-${k}`;
    taken.add(name.toLowerCase());
    return name;
  });
}
