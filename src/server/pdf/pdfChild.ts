// A program of its own: writes each plate of a page of a PDF as a PDF, and ends. What a damaged file does to it ends nothing else.
import { readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { type ErrorReport, toErrorReport } from '@/core/units';
import { type NamedPlate, PlatesOfPage } from './platesOfPage';

export interface WrittenPlates {
  readonly plates: readonly (NamedPlate & { readonly path: string })[];
  /** A page with a field of each named plate's ink; null: none is named. */
  readonly fields: { readonly path: string; readonly page: number } | null;
  readonly hasRgb: boolean;
  /** What of the page its plates do not keep, in words. */
  readonly unkept: readonly string[];
}

export type PdfAnswer = WrittenPlates | { readonly error: ErrorReport };

async function perform(file: string, page: number, folder: string): Promise<PdfAnswer> {
  const read = await PlatesOfPage.read(new Uint8Array(await readFile(file)), page);
  if (read.plates.every(({ isProcess }) => isProcess))
    return { plates: [], fields: null, hasRgb: read.hasRgb, unkept: [] };
  const plates: WrittenPlates['plates'][number][] = [];
  for (const [k, plate] of read.plates.entries()) {
    const target = path.join(folder, `plate-${k}.pdf`);
    await writeFile(target, await read.plate(plate.name));
    plates.push({ ...plate, path: target });
  }
  const fields = { path: path.join(folder, 'plate-inks.pdf'), page: read.pageCount + 1 };
  await writeFile(fields.path, await read.inkFields());
  return { plates, fields, hasRgb: read.hasRgb, unkept: read.unkept };
}

const [file, page, folder] = process.argv.slice(2);
perform(file!, Number(page), folder!)
  .catch((thrown: unknown): PdfAnswer => ({ error: toErrorReport(thrown) }))
  .then((answer) => process.stdout.write(JSON.stringify(answer)))
  .catch(() => process.exit(1));
