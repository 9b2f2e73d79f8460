import { createWriteStream } from 'node:fs';
import path from 'node:path';
import { Readable, type Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { promisify } from 'node:util';
import { gunzipSync } from 'node:zlib';
import yauzl, { type Entry, type ZipFile as OpenZip } from 'yauzl';
import { ZipFile } from 'yazl';
import { type JobSheet, artworkOf, parseJobSheet } from '@/core/sheet';
import { KerameusError } from '@/core/units';
import { findArtwork } from '../artworks/artworkStore';
import type { Database } from '../db/database';
import { readStored } from '../files/fileStore';
import { pngOfSamples, readTexture, samplesOfPng, texturePngName } from '../textures';

/** Entries carry this time, so that equal jobs give equal bundles. */
const ZIP_TIME = new Date(2000, 0, 1, 0, 0, 0);
const SHEET_NAME = 'job.json';
const MAX_SHEET_BYTES = 2e6;
const MAX_ARTWORK_BYTES = 500e6;

/** A job as one zip: its sheet, its artwork, and the picture of its texture. */
export async function bundleJob(database: Database, sheet: JobSheet): Promise<ReadableStream> {
  const artwork = await findArtwork(database, artworkOf(sheet).sha256);
  if (!artwork) {
    throw new KerameusError({
      code: 'artwork-missing',
      message: 'The artwork of this job is not here any more.',
      remedy: 'Drop the artwork again as a new job.',
    });
  }
  const zip = new ZipFile();
  const options = { mtime: ZIP_TIME, mode: 0o100644, compress: false };
  zip.addBuffer(Buffer.from(JSON.stringify(sheet, null, 2) + '\n'), SHEET_NAME, options);
  zip.addReadStream(Readable.from(readStored(database, artwork.fileId)), artworkOf(sheet).fileName, options);
  const picture = sheet.texture?.picture;
  if (picture) {
    const grey = gunzipSync(await readTexture(database, picture.sha256));
    zip.addBuffer(await pngOfSamples(grey), texturePngName(picture.sha256), options);
  }
  zip.end();
  return Readable.toWeb(zip.outputStream as Transform) as ReadableStream;
}

export interface OpenedBundle {
  readonly sheet: JobSheet;
  readonly artworkPath: string;
  /** Samples of the picture of its texture; null where it has none. */
  readonly texture: Uint8Array | null;
}

function refused(message: string): KerameusError {
  return new KerameusError({
    code: 'bundle',
    parameter: 'job',
    message,
    remedy: 'Export the job again, or drop its artwork as a new job.',
  });
}

/** Reads a bundle into a folder. Throws KerameusError `bundle` or `job-sheet`. */
export async function openBundle(file: string, folder: string): Promise<OpenedBundle> {
  let zip: OpenZip;
  try {
    zip = await promisify<string, yauzl.Options, OpenZip>(yauzl.open)(file, {
      lazyEntries: true,
      autoClose: false,
    });
  } catch {
    throw refused('The zip is damaged.');
  }
  try {
    const entries = await listEntries(zip);
    const sheetEntry = entries.find((entry) => entry.fileName === SHEET_NAME);
    if (!sheetEntry) throw refused(`The zip holds no ${SHEET_NAME}.`);
    if (sheetEntry.uncompressedSize > MAX_SHEET_BYTES) throw refused(`Its ${SHEET_NAME} is too large.`);
    const sheet = parseJobSheet(parseJson(await readEntry(zip, sheetEntry)));
    const artwork = entries.find((entry) => entry.fileName === artworkOf(sheet).fileName);
    if (!artwork) throw refused(`The zip does not hold its artwork ${artworkOf(sheet).fileName}.`);
    if (artwork.uncompressedSize > MAX_ARTWORK_BYTES) throw refused('Its artwork is too large.');
    const artworkPath = path.join(folder, 'bundled-artwork');
    await pipeline(await openEntry(zip, artwork), createWriteStream(artworkPath));
    return { sheet, artworkPath, texture: await bundledTexture(zip, entries, sheet) };
  } finally {
    zip.close();
  }
}

const MAX_TEXTURE_BYTES = 8e6;

async function bundledTexture(
  zip: OpenZip,
  entries: readonly Entry[],
  { texture }: JobSheet,
): Promise<Uint8Array | null> {
  if (!texture?.picture) return null;
  const name = texturePngName(texture.picture.sha256);
  const entry = entries.find(({ fileName }) => fileName === name);
  if (!entry) throw refused(`The zip does not hold the picture of its texture, ${name}.`);
  if (entry.uncompressedSize > MAX_TEXTURE_BYTES) throw refused('The picture of its texture is too large.');
  return samplesOfPng(await readBytes(zip, entry), texture.picture.sha256);
}

function listEntries(zip: OpenZip): Promise<Entry[]> {
  return new Promise((resolve, reject) => {
    const entries: Entry[] = [];
    zip.on('entry', (entry: Entry) => {
      entries.push(entry);
      if (entries.length > 20) reject(refused('The zip holds more than a job.'));
      else zip.readEntry();
    });
    zip.once('end', () => resolve(entries));
    zip.once('error', () => reject(refused('The zip is damaged.')));
    zip.readEntry();
  });
}

function openEntry(zip: OpenZip, entry: Entry): Promise<Readable> {
  return new Promise((resolve, reject) => {
    zip.openReadStream(entry, (error, stream) => {
      if (error) reject(refused('The zip is damaged.'));
      else resolve(stream);
    });
  });
}

async function readEntry(zip: OpenZip, entry: Entry): Promise<string> {
  return (await readBytes(zip, entry)).toString('utf8');
}

async function readBytes(zip: OpenZip, entry: Entry): Promise<Buffer> {
  const pieces: Buffer[] = [];
  for await (const piece of await openEntry(zip, entry)) pieces.push(piece as Buffer);
  return Buffer.concat(pieces);
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw refused(`Its ${SHEET_NAME} is not JSON.`);
  }
}
