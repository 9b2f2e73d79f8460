import { existsSync } from 'node:fs';
import { readFile, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { formatHexColour } from '@/core/colour';
import { KerameusError } from '@/core/units';
import { distFolder } from '../projectRoot';
import type { PdfAnswer, WrittenPlates } from './pdfChild';
import { type DrawnPage, pdfPageAsSvg } from './pdfPages';
import { INK_FIELD } from './platesOfPage';
import { platesRefused } from './platesRefused';
import { type Limits, runLimited } from './runLimited';

/** A plate of a page that was drawn, in gray: black where it prints solid. */
export interface DrawnPlate extends DrawnPage {
  readonly name: string;
  readonly isProcess: boolean;
  /** Of a named ink as the file shows it; null: a process ink. */
  readonly colour: string | null;
}

/** What taking a page apart may take; the parts of its pages are read at once. */
const APART: Limits = { seconds: 30, memory: 2_000_000_000, fileSize: 200_000_000, answer: 1_000_000 };
const SHOWING: Limits = { seconds: 20, memory: 1_000_000_000, fileSize: 1_000_000, answer: 4_000_000 };

/**
 * Has each plate of a page drawn as SVG, one after another; none where the page names no ink of its own. Throws KerameusError `pdf-plates` where they cannot be told, and what
 * `pdfPageAsSvg` throws.
 *
 * @param whole the page as it was drawn itself.
 * @param draw given a plate whose drawing is there until it resolves.
 * @returns what was made of the plates, in their order: the named ones before those of process colour.
 */
export async function drawPlates<T>(
  file: string,
  page: number,
  whole: DrawnPage & { readonly areaIn2: number },
  folder: string,
  draw: (plate: DrawnPlate) => Promise<T>,
  signal?: AbortSignal,
): Promise<{ readonly made: readonly T[] } & Pick<WrittenPlates, 'hasRgb' | 'unkept'>> {
  const { plates, fields, hasRgb, unkept } = await takeApart(file, page, folder, signal);
  const made: T[] = [];
  try {
    const colours = fields ? await inkColours(fields, signal) : [];
    for (const [k, { name, isProcess, path: written }] of plates.entries()) {
      const drawn = await pdfPageAsSvg(written, page, whole.areaIn2, folder, signal, 'plate.svg');
      // Names that are written in a way which is not read here are not found any more.
      if (drawn.faults > whole.faults)
        throw platesRefused('Parts of the page are lost when it is taken apart into its plates.');
      // Where the file does not ask for it, nothing stands between the pixels of a picture: a plate that is a bitmap has no greys at its edges.
      await writeFile(drawn.path, withOwnPixels(await readFile(drawn.path, 'utf8')));
      made.push(await draw({ ...drawn, name, isProcess, colour: isProcess ? null : colours[k]! }));
    }
  } finally {
    const written = [...plates, ...(fields ? [fields] : [])].map((each) => each.path);
    for (const each of [...written, path.join(folder, 'plate.svg')]) await rm(each, { force: true });
  }
  return { made, hasRgb, unkept };
}

async function takeApart(
  file: string,
  page: number,
  folder: string,
  signal?: AbortSignal,
): Promise<WrittenPlates> {
  const entry = path.join(/* turbopackIgnore: true */ distFolder(), 'pdfChild.mjs');
  if (!existsSync(entry)) {
    throw new KerameusError({
      code: 'not-built',
      message: 'The program that reads the plates of PDFs is not built.',
      remedy: 'Run npm run build:worker.',
    });
  }
  const args = ['--max-old-space-size=1000', entry, path.resolve(file), String(page), path.resolve(folder)];
  const { code, over, stdout } = await runLimited(process.execPath, args, APART, signal);
  if (over === 'time') throw platesRefused('The plates inside of the PDF take too long to read.');
  if (code !== 0)
    throw platesRefused('The plates inside of the PDF take more memory to read than is allowed.');
  const answer = JSON.parse(stdout.toString('utf8')) as PdfAnswer;
  if ('error' in answer) throw new KerameusError(answer.error);
  return answer;
}

/** Pictures are drawn by their own pixels, as the format has it where nothing else is said (ISO 32000-1, 8.9.5.3). */
export function withOwnPixels(svg: string): string {
  return svg.replaceAll('<image ', '<image image-rendering="optimizeSpeed" ');
}

/** What the file's own colour spaces make of each named ink where it is solid. */
async function inkColours(
  { path: file, page }: NonNullable<WrittenPlates['fields']>,
  signal?: AbortSignal,
): Promise<string[]> {
  const args = ['-r', '72', '-f', String(page), '-l', String(page), '-singlefile', file];
  const { code, stdout } = await runLimited('pdftoppm', args, SHOWING, signal);
  const head = /^P6\s+(\d+)\s+(\d+)\s+255\s/.exec(stdout.subarray(0, 64).toString('latin1'));
  if (code !== 0 || !head) throw platesRefused('The colours of the inks inside of the PDF cannot be read.');
  const [width, height] = [Number(head[1]), Number(head[2])];
  const middle = Math.floor(height / 2) * width;
  return Array.from({ length: Math.floor(width / INK_FIELD) }, (_, k) => {
    const at = head[0].length + 3 * (middle + k * INK_FIELD + INK_FIELD / 2);
    return formatHexColour([stdout[at]!, stdout[at + 1]!, stdout[at + 2]!]);
  });
}
