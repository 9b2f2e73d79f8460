import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { rename } from 'node:fs/promises';
import path from 'node:path';
import { type FilmPage, filmPdf, tiffHead } from '@/core/formats';
import { writeHalftones, writeInkPdf, writeInkTiff } from './inkFiles';
import type { SpooledBitmap } from './filmSink';
import type { FilmSet, SpooledFilm } from './makeFilmSet';
import { writeWhole } from './writeWhole';

/** A finished file of a film set. */
export interface FilmFile {
  readonly name: string;
  readonly type: string;
  readonly path: string;
}

const PDF = 'application/pdf';
const TIFF = 'image/tiff';

/** Writes the files that the job asks for; films as PDF and TIFF share the spooled streams. */
export async function writeFilmFiles(set: FilmSet, folder: string): Promise<FilmFile[]> {
  const { formats } = set.plan.sheet.film;
  const partial = set.films.length < set.plan.printing.length;
  const files: FilmFile[] = [];
  const at = (name: string, type: string): string => {
    const target = path.join(folder, name);
    files.push({ name, type, path: target });
    return target;
  };
  const has = (format: (typeof formats)[number]) => formats.includes(format);
  if (has('pdf') && !partial) await writePdf(set, set.films, at('films.pdf', PDF));
  for (const film of set.films) {
    // One film made again has a page of its own: the document of the set is not touched.
    if (has('pdf-each') || (has('pdf') && partial))
      await writePdf(set, [film], at(`${film.baseName}.pdf`, PDF));
    const told = `${film.number} of ${set.plan.printing.length}, ${film.plate.ink.name}`;
    if (has('tiff')) await writeTiff(set, film, told, at(`${film.baseName}.tif`, TIFF));
    if (film.direct) await writeTiff(set, film.direct, `${told}, no film`, at(screenFileName(film), TIFF));
    if (film.pngPath) await rename(film.pngPath, at(`${film.baseName}.png`, 'image/png'));
  }
  if (has('gang-pdf') && set.gangs.length > 0) await writePdf(set, set.gangs, at('gang.pdf', PDF));
  if (has('gang-tiff')) {
    for (const [k, gang] of set.gangs.entries()) {
      await writeTiff(set, gang, `films ${k + 1} of ${set.gangs.length}`, at(`gang-${k + 1}.tif`, TIFF));
    }
  }
  if (has('pdf-inks')) await writeInkPdf(set, at('inks.pdf', PDF), false);
  if (has('pdf-inks-each')) await writeInkPdf(set, at('inks-each.pdf', PDF), true);
  if (has('tiff-inks')) await writeInkTiff(set, at('inks.tif', TIFF));
  if (has('pdf-inks') || has('pdf-inks-each') || has('tiff-inks')) {
    const target = await writeHalftones(set, folder);
    files.push({ name: path.basename(target), type: 'application/json', path: target });
  }
  return files;
}

/** A plate for exposing its screen without film. */
export function screenFileName({ baseName }: SpooledFilm): string {
  return `${baseName}.screen.tif`;
}

function writePdf(set: FilmSet, bitmaps: readonly SpooledBitmap[], target: string): Promise<void> {
  return writeWhole(target, pdfPieces(set, bitmaps));
}

function writeTiff(set: FilmSet, bitmap: SpooledBitmap, told: string, target: string): Promise<void> {
  return writeWhole(target, tiffPieces(set, bitmap, told));
}

async function* tiffPieces(set: FilmSet, bitmap: SpooledBitmap, told: string): AsyncGenerator<Uint8Array> {
  const { layout, sheet } = set.plan;
  yield tiffHead({
    width: bitmap.widthPx,
    height: bitmap.heightPx,
    dpi: layout.dpi,
    length: bitmap.streamLength,
    description: `${sheet.name}: ${told}`,
  });
  yield* createReadStream(bitmap.streamPath) as AsyncIterable<Uint8Array>;
}

async function* pdfPieces(set: FilmSet, bitmaps: readonly SpooledBitmap[]): AsyncGenerator<Uint8Array> {
  const { layout, sheet } = set.plan;
  const pages = bitmaps.map((bitmap): FilmPage => ({
    widthMm: bitmap.widthMm,
    heightMm: bitmap.heightMm,
    dpi: layout.dpi,
    widthPx: bitmap.widthPx,
    heightPx: bitmap.heightPx,
    length: bitmap.streamLength,
  }));
  const id = createHash('md5');
  for (const bitmap of bitmaps) id.update(bitmap.streamSha256);
  for (const piece of filmPdf(pages, `${sheet.name}: films`, id.digest('hex').toUpperCase())) {
    if (piece instanceof Uint8Array) yield piece;
    else yield* createReadStream(bitmaps[piece.page]!.streamPath) as AsyncIterable<Uint8Array>;
  }
}
