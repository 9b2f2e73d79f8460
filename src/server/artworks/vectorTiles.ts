import { gzipSync } from 'node:zlib';
import { readSvg, releaseRenderings, renderSvgTile } from '../artwork';
import type { Database } from '../db/database';
import { readStored } from '../files/fileStore';
import { findArtwork } from './artworkStore';

type Svg = ReturnType<typeof readSvg>;

/** Drawings that were read last, by hash. */
const open = new Map<string, Promise<Svg | null>>();
const KEEP = 8;

async function readDrawing(database: Database, sha256: string): Promise<Svg | null> {
  const row = await findArtwork(database, sha256);
  if (row?.facts.kind !== 'vector') return null;
  const pieces: Uint8Array[] = [];
  for await (const piece of readStored(database, row.fileId)) pieces.push(piece);
  return readSvg(Buffer.concat(pieces));
}

/** Renders a tile of a drawing; gzipped, or null when there is no such drawing. */
export async function renderVectorTile(
  database: Database,
  sha256: string,
  width: number,
  height: number,
  row: number,
  column: number,
): Promise<Uint8Array | null> {
  let drawing = open.get(sha256);
  if (!drawing) {
    drawing = readDrawing(database, sha256);
    open.set(sha256, drawing);
    drawing.catch(() => open.delete(sha256));
    if (open.size > KEEP) open.delete(open.keys().next().value!);
  }
  const svg = await drawing;
  if (!svg) return null;
  await releaseRenderings();
  return gzipSync(renderSvgTile(svg, width, height, column, row), { level: 1 });
}
