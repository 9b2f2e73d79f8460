import { availableParallelism } from 'node:os';
import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import pLimit from 'p-limit';
import { RunTile } from '@/core/artwork';
import { PACKED_TYPE, RUN_TILE_TYPE } from '@/protocol/tiles';
import { type TilePlace, readSvg, releaseRenderings, renderSvgTileAside } from '../artwork';
import type { Database } from '../db/database';
import { readStored } from '../files/fileStore';
import { findArtwork } from './artworkStore';

const pack = promisify(gzip);

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

/** More at once would only keep each other from the processors. */
const rendering = pLimit(availableParallelism());

/** Collecting what renderings leave takes as long as several of them: it waits until nobody does, or for so many. */
const MOST_LEFT = 24;
const QUIET_MS = 300;
let quiet: ReturnType<typeof setTimeout> | undefined;

async function tidy(): Promise<void> {
  clearTimeout(quiet);
  quiet = setTimeout(() => void releaseRenderings(1), QUIET_MS).unref();
  await releaseRenderings(MOST_LEFT);
}

/** A tile as it is sent, and its type. */
export interface SentTile {
  readonly bytes: Uint8Array;
  readonly type: string;
}

/** Renders a tile of a drawing, or null when there is no such drawing. */
export async function renderVectorTile(
  database: Database,
  sha256: string,
  place: TilePlace,
): Promise<SentTile | null> {
  let drawing = open.get(sha256);
  if (!drawing) {
    drawing = readDrawing(database, sha256);
    open.set(sha256, drawing);
    drawing.catch(() => open.delete(sha256));
    if (open.size > KEEP) open.delete(open.keys().next().value!);
  }
  const svg = await drawing;
  if (!svg) return null;
  await tidy();
  const tile = await rendering(() => renderSvgTileAside(svg, place));
  return tile instanceof RunTile
    ? { bytes: tile.bytes(), type: RUN_TILE_TYPE }
    : { bytes: await pack(tile.bytes(), { level: 1 }), type: PACKED_TYPE };
}
