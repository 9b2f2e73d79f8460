import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { KerameusError } from '@/core/units';
import { rasterFactsApart } from '@/server/artwork';
import { IppPrinter, printFilm } from '@/server/printing';
import { type Options, bad, readNumber, required } from './arguments';
import { checkFile } from './workFiles';

const FORMATS: Readonly<Record<string, string>> = {
  '.tif': 'image/tiff',
  '.tiff': 'image/tiff',
  '.png': 'image/png',
  '.pdf': 'application/pdf',
};

/** `send FILE --printer URI`: prints one film over IPP and waits until it lies there. Returns what the printer calls itself. */
export async function send(file: string, options: Options): Promise<string> {
  const uri = required(options, 'printer');
  await checkFile(file, 'film');
  const format = FORMATS[path.extname(file).toLowerCase()];
  if (!format) {
    throw bad(
      'film',
      `${path.basename(file)} is no film.`,
      'Send a TIFF, a PNG or a PDF that was made here.',
    );
  }
  const data = await readFile(file);
  const dpi = readNumber(options, 'dpi', 72, 5080) ?? (await resolutionOf(file, format));
  if (dpi === null) {
    throw bad('dpi', 'The film does not tell its resolution.', 'Give it with --dpi.');
  }
  const printer = new IppPrinter(uri);
  const facts = await printer.facts();
  if (facts.resolutions.length > 0 && !facts.resolutions.includes(dpi)) {
    throw new KerameusError({
      code: 'printer-resolution',
      parameter: 'dpi',
      message: `The film has ${dpi} dpi; ${facts.name} prints ${facts.resolutions.join(', ')} dpi.`,
      remedy: "Make the film at the printer's resolution: a scaled film has other dots.",
    });
  }
  const stop = new AbortController();
  const onInterrupt = () => stop.abort();
  process.once('SIGINT', onInterrupt);
  let told = '';
  try {
    await printFilm(printer, { name: path.basename(file), format, dpi, data }, stop.signal, (words) => {
      if (words === told) return;
      told = words;
      process.stderr.write(`${facts.name} ${words}\n`);
    });
  } finally {
    process.off('SIGINT', onInterrupt);
  }
  return facts.name;
}

/** Dots per inch that a bitmap tells of itself; null for a PDF, whose bitmaps have sizes but which has none itself. */
async function resolutionOf(file: string, format: string): Promise<number | null> {
  if (format === 'application/pdf') return null;
  const { ownDpi } = await rasterFactsApart(file);
  return ownDpi ? Math.round(ownDpi) : null;
}
