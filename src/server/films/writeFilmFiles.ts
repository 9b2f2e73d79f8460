import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import path from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { ZipFile } from 'yazl';
import { type FilmPage, filmPdf, tiffHead } from '@/core/formats';
import type { FilmSet, SpooledFilm } from './makeFilmSet';

/** A finished file of a film set. */
export interface FilmFile {
  readonly name: string;
  readonly type: string;
  readonly path: string;
}

/** Zip entries carry this time, so that equal films give equal archives. */
const ZIP_TIME = new Date(2000, 0, 1, 0, 0, 0);

/** Writes `films.pdf` and one TIFF for each film; they share the spooled streams. */
export async function writeFilmFiles(set: FilmSet, folder: string): Promise<FilmFile[]> {
  const files: FilmFile[] = [];
  const pdf = path.join(folder, 'films.pdf');
  await pipeline(Readable.from(pdfPieces(set)), createWriteStream(pdf));
  files.push({ name: 'films.pdf', type: 'application/pdf', path: pdf });
  for (const film of set.films) {
    const name = `${film.baseName}.tif`;
    const target = path.join(folder, name);
    await pipeline(Readable.from(tiffPieces(set, film)), createWriteStream(target));
    files.push({ name, type: 'image/tiff', path: target });
  }
  return files;
}

async function* tiffPieces(set: FilmSet, film: SpooledFilm): AsyncGenerator<Uint8Array> {
  const { layout, sheet } = set.plan;
  yield tiffHead({
    width: layout.widthPx,
    height: layout.heightPx,
    dpi: layout.dpi,
    length: film.streamLength,
    description: `${sheet.name}: ${film.number} of ${set.films.length}, ${film.plate.ink.name}`,
  });
  yield* createReadStream(film.streamPath) as AsyncIterable<Uint8Array>;
}

async function* pdfPieces(set: FilmSet): AsyncGenerator<Uint8Array> {
  const { layout, sheet } = set.plan;
  const pages = set.films.map((film): FilmPage => ({
    widthMm: layout.widthMm,
    heightMm: layout.heightMm,
    dpi: layout.dpi,
    widthPx: layout.widthPx,
    heightPx: layout.heightPx,
    length: film.streamLength,
  }));
  const id = createHash('md5');
  for (const film of set.films) id.update(film.streamSha256);
  for (const piece of filmPdf(pages, `${sheet.name}: films`, id.digest('hex').toUpperCase())) {
    if (piece instanceof Uint8Array) yield piece;
    else yield* createReadStream(set.films[piece.page]!.streamPath) as AsyncIterable<Uint8Array>;
  }
}

/** Packs finished files, uncompressed: they are compressed already. */
export async function writeZip(files: readonly FilmFile[], target: string): Promise<FilmFile> {
  const zip = new ZipFile();
  for (const file of files) {
    zip.addFile(file.path, file.name, { mtime: ZIP_TIME, mode: 0o100644, compress: false });
  }
  zip.end();
  await pipeline(zip.outputStream as unknown as Readable, createWriteStream(target));
  return { name: path.basename(target), type: 'application/zip', path: target };
}
