import { createReadStream, createWriteStream } from 'node:fs';
import { open } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { promisify } from 'node:util';
import { createGunzip, createGzip, gunzip } from 'node:zlib';
import { and, asc, eq, isNull } from 'drizzle-orm';
import type { OuterMap } from '@/core/artwork';
import { levelCount, levelSide } from '@/core/pipeline';
import { KerameusError } from '@/core/units';
import { RASTER_TILE, tilePixels } from '@/protocol/tiles';
import {
  type ArtworkAnalysis,
  type ArtworkFacts,
  type ArtworkFiles,
  type RasterLevel,
  isWholeAnalysis,
  takeInArtwork,
} from '../artwork';
import type { Database, Reader } from '../db/database';
import { artworkTiles, artworks } from '../db/schema';
import { materialise, readStored, storeStream } from '../files/fileStore';
import { type PackedTiles, pack } from './packTiles';

const unpack = promisify(gunzip);

export interface NewArtwork {
  readonly fileId: string;
  readonly facts: ArtworkFacts;
  readonly analysis: ArtworkAnalysis;
  readonly outerMap: OuterMap | null;
  readonly files: ArtworkFiles;
  /** The tiles of a picture; null for a drawing. */
  readonly tiles: PackedTiles | null;
}

/** Stores decoded artwork with all its tiles, inside a transaction; false where the same artwork was stored by another import meanwhile. */
export async function storeArtwork(
  database: Pick<Database, 'insert' | 'update'>,
  artwork: NewArtwork,
  onProgress: (done: number) => void,
  signal?: AbortSignal,
): Promise<boolean> {
  const { facts, outerMap, files } = artwork;
  const values = {
    sha256: facts.sha256,
    fileId: artwork.fileId,
    facts,
    analysis: artwork.analysis,
    outerMap: outerMap ? await pack(outerMap.cells, { level: 6 }) : null,
    outerWidth: outerMap?.width ?? null,
    outerHeight: outerMap?.height ?? null,
  };
  // Waits for another import of the same artwork to end.
  const stored = await database
    .insert(artworks)
    .values(values)
    .onConflictDoNothing()
    .returning({ sha256: artworks.sha256 });
  if (stored.length === 0) return false;
  if (files.kind === 'vector') {
    const drawingFileId = await storeDrawingFile(database, files.path);
    await database.update(artworks).set({ drawingFileId }).where(eq(artworks.sha256, facts.sha256));
    return true;
  }
  await artwork.tiles!.store(database, facts.sha256, onProgress, signal);
  return true;
}

/** Whether stored artwork has all that a new job needs: earlier versions looked for less. */
export function isWhole({
  facts,
  analysis,
}: Pick<typeof artworks.$inferSelect, 'facts' | 'analysis'>): boolean {
  return isWholeAnalysis(analysis) && (facts.format !== 'pdf' || facts.plates !== undefined);
}

/** What a later version found in artwork that is stored. */
export async function renewArtwork(
  database: Pick<Database, 'insert' | 'update'>,
  { facts, analysis, outerMap, files }: LocalArtwork,
): Promise<void> {
  const { sha256 } = facts;
  const drawing =
    files.kind === 'vector' ? { drawingFileId: await storeDrawingFile(database, files.path) } : {};
  await database
    .update(artworks)
    .set({
      ...drawing,
      facts,
      analysis,
      outerMap: outerMap ? await pack(outerMap.cells, { level: 6 }) : null,
      outerWidth: outerMap?.width ?? null,
      outerHeight: outerMap?.height ?? null,
    })
    .where(eq(artworks.sha256, sha256));
}

async function storeDrawingFile(
  database: Pick<Database, 'insert' | 'update'>,
  file: string,
): Promise<string> {
  const packed = createReadStream(file).pipe(createGzip({ level: 6 }));
  const about = { name: 'artwork.drawing', type: 'application/gzip', limit: Number.MAX_SAFE_INTEGER };
  return (await storeStream(database, packed, about)).id;
}

export async function findArtwork(
  database: Reader,
  sha256: string,
): Promise<typeof artworks.$inferSelect | null> {
  const [row] = await database.select().from(artworks).where(eq(artworks.sha256, sha256));
  return row ?? null;
}

/** The gzipped bytes of a tile, or null. */
export async function readTile(
  database: Reader,
  sha256: string,
  level: number,
  row: number,
  column: number,
): Promise<Buffer | null> {
  const [tile] = await database
    .select({ bytes: artworkTiles.bytes })
    .from(artworkTiles)
    .where(
      and(
        eq(artworkTiles.sha256, sha256),
        eq(artworkTiles.level, level),
        eq(artworkTiles.row, row),
        eq(artworkTiles.column, column),
      ),
    );
  return tile?.bytes ?? null;
}

export interface LocalArtwork {
  readonly facts: ArtworkFacts;
  readonly analysis: ArtworkAnalysis;
  readonly files: ArtworkFiles;
  readonly outerMap: OuterMap | null;
}

/** Brings stored artwork to the disk, from its tiles; memory stays bounded by a row of tiles. */
export async function fetchArtwork(database: Reader, sha256: string, folder: string): Promise<LocalArtwork> {
  const row = await findArtwork(database, sha256);
  if (!row) {
    throw new KerameusError({
      code: 'artwork-missing',
      message: 'The artwork of this job is not here any more.',
      remedy: 'Drop the artwork again as a new job.',
    });
  }
  const { facts } = row;
  const outerMap =
    row.outerMap && row.outerWidth && row.outerHeight
      ? { width: row.outerWidth, height: row.outerHeight, cells: new Uint8Array(await unpack(row.outerMap)) }
      : null;
  const common = { facts, analysis: row.analysis, outerMap };
  if (facts.kind === 'vector') return { ...common, files: await fetchDrawing(database, row, folder) };
  const levels: RasterLevel[] = [];
  for (let level = 0; level < levelCount(facts.widthPx, facts.heightPx); level++) {
    levels.push(await fetchLevel(database, facts, level, folder));
  }
  return { ...common, files: { kind: 'raster', levels } };
}

async function fetchDrawing(
  database: Reader,
  row: Pick<typeof artworks.$inferSelect, 'drawingFileId' | 'fileId' | 'facts'>,
  folder: string,
): Promise<ArtworkFiles> {
  const target = path.join(folder, 'artwork.drawing');
  if (row.drawingFileId === null) {
    const original = path.join(folder, 'artwork.svg');
    await materialise(database, row.fileId, original);
    const { facts, files } = await takeInArtwork(original, row.facts.fileName, folder, {
      page: row.facts.page?.number ?? 1,
    });
    // Its page is measured otherwise than it was: what jobs say in shares of it would lie elsewhere.
    if (Math.abs((facts.widthPx * row.facts.heightPx) / (facts.heightPx * row.facts.widthPx) - 1) > 0.01) {
      throw new KerameusError({
        code: 'artwork-outdated',
        message: 'The drawing was read by an earlier installation that measured its page otherwise.',
        remedy: 'Drop the artwork again as a new job.',
      });
    }
    return files;
  }
  await pipeline(
    Readable.from(readStored(database, row.drawingFileId)),
    createGunzip(),
    createWriteStream(target),
  );
  return { kind: 'vector', path: target };
}

/** Makes the stored form of a drawing that came in before there was one; nothing where it is there. */
export async function completeDrawing(database: Database, sha256: string, folder: string): Promise<void> {
  const row = await findArtwork(database, sha256);
  if (row?.facts.kind !== 'vector' || row.drawingFileId !== null) return;
  const files = await fetchDrawing(database, row, folder);
  if (files.kind !== 'vector') return;
  await database.transaction(async (transaction) => {
    const drawingFileId = await storeDrawingFile(transaction, files.path);
    await transaction
      .update(artworks)
      .set({ drawingFileId })
      .where(and(eq(artworks.sha256, sha256), isNull(artworks.drawingFileId)));
  });
}

/** Drawings that wait for their stored form. */
export async function incompleteDrawings(database: Reader): Promise<string[]> {
  const rows = await database
    .select({ sha256: artworks.sha256, facts: artworks.facts })
    .from(artworks)
    .where(isNull(artworks.drawingFileId));
  return rows.filter(({ facts }) => facts.kind === 'vector').map(({ sha256 }) => sha256);
}

async function fetchLevel(
  database: Reader,
  facts: ArtworkFacts,
  level: number,
  folder: string,
): Promise<RasterLevel> {
  const width = levelSide(facts.widthPx, level);
  const height = levelSide(facts.heightPx, level);
  const target = path.join(folder, `level-${level}.rgba`);
  const output = await open(target, 'w');
  try {
    for (let row = 0; row * RASTER_TILE < height; row++) {
      const tiles = await database
        .select({ column: artworkTiles.column, bytes: artworkTiles.bytes })
        .from(artworkTiles)
        .where(
          and(
            eq(artworkTiles.sha256, facts.sha256),
            eq(artworkTiles.level, level),
            eq(artworkTiles.row, row),
          ),
        )
        .orderBy(asc(artworkTiles.column));
      const rows = Math.min(RASTER_TILE, height - row * RASTER_TILE);
      const band = Buffer.alloc(width * rows * 4);
      const words = new Uint32Array(band.buffer, band.byteOffset, width * rows);
      for (const tile of tiles) {
        const pixels = tilePixels(await unpack(tile.bytes));
        const x = tile.column * RASTER_TILE;
        const tileWidth = Math.min(RASTER_TILE, width - x);
        for (let y = 0; y < rows; y++) {
          words.set(pixels.subarray(y * tileWidth, (y + 1) * tileWidth), y * width + x);
        }
      }
      await output.write(band);
    }
  } finally {
    await output.close();
  }
  return { width, height, path: target };
}
