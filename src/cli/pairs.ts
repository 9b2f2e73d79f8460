import { readFile } from 'node:fs/promises';
import { z } from 'zod';
import { type JobSheet, LIMITS, type TrapPairSetting, withPairSetting } from '@/core/sheet';
import { parseLengthMm } from '@/core/units';
import { type Options, bad } from './arguments';

/** One pair of a file: two inks by their names or ids, which of them grows, and how far. */
const pairSchema = z.strictObject({
  between: z.tuple([z.string(), z.string()]),
  grows: z.string().default('model'),
  width: z.string().optional(),
  clear: z.string().optional(),
});

const HINT =
  'Write a list like [{ "between": ["Yellow", "Red"], "grows": "Yellow", "width": "0.2mm" }]; grows may be model, none, gap or over, too.';

/** The sheet with the pairs of the file that `--pairs` names. Throws KerameusError `argument`. */
export async function withPairs({ pairs: file }: Options, sheet: JobSheet): Promise<JobSheet> {
  if (file === undefined) return sheet;
  const read = z.array(pairSchema).safeParse(await parsed(file));
  if (!read.success) {
    const { path, message } = read.error.issues[0]!;
    throw bad('pairs', `--pairs: ${path.length > 0 ? `${path.join('.')}: ` : ''}${message}.`, HINT);
  }
  return read.data.reduce((now, { between, grows, width, clear }) => {
    const [one, other] = [plateId(sheet, between[0]), plateId(sheet, between[1])];
    if (one === other) throw bad('pairs', `--pairs sets ${between[0]} against itself.`, HINT);
    const way: TrapPairSetting['grows'] =
      grows === 'model' || grows === 'none' || grows === 'gap' || grows === 'over'
        ? grows
        : { plateId: plateId(sheet, grows) };
    if (typeof way === 'object' && way.plateId !== one && way.plateId !== other) {
      throw bad('pairs', `--pairs lets ${grows} grow, which is neither of the two.`, HINT);
    }
    if (clear !== undefined && way !== 'gap') {
      throw bad('pairs', `--pairs: "clear" stands at ${between.join(' and ')}, which have no gap.`, HINT);
    }
    const lengthOf = (text: string) =>
      parseLengthMm(text, { parameter: 'pairs', minMm: 0, maxMm: LIMITS.maxOutlineMm });
    const mm = width === undefined ? null : lengthOf(width);
    const clearMm = clear === undefined ? 0 : lengthOf(clear);
    return withPairSetting(now, { plateIds: [one, other], grows: way, mm, clearMm });
  }, sheet);
}

async function parsed(file: string): Promise<unknown> {
  let text: string;
  try {
    text = await readFile(file, 'utf8');
  } catch {
    throw bad('pairs', `--pairs: ${file} cannot be read.`, 'Give the path of a JSON file.');
  }
  try {
    return JSON.parse(text);
  } catch {
    throw bad('pairs', `--pairs: ${file} is no JSON.`, HINT);
  }
}

function plateId({ plates }: JobSheet, name: string): string {
  const found = plates.find(({ id, ink }) => id === name || ink.name.toLowerCase() === name.toLowerCase());
  if (found) return found.id;
  throw bad(
    'pairs',
    `--pairs names "${name}", which is no plate of this job.`,
    `Its plates are ${plates.map(({ ink }) => ink.name).join(', ')}.`,
  );
}
