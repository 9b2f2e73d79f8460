import { mkdir, rename } from 'node:fs/promises';
import path from 'node:path';
import type { RasterLevel } from '../artwork';
import { type LocalArtwork, fetchArtwork } from './artworkStore';
import { Shelf } from './shelf';

/**
 * The last few artworks that were brought to the disk: the pictures, the films and the approval of a job come soon after each other. Artwork never
 * changes under its hash.
 */
export class ArtworkShelf extends Shelf<LocalArtwork> {
  constructor(most = 3, fetch = fetchArtwork) {
    super(most, fetch);
  }

  /** Takes over artwork that lies on the disk already: its files move here. Nothing where it is here, or cannot be moved. */
  adopt(local: LocalArtwork): Promise<void> {
    return this.take(local.facts.sha256, (folder) => moveArtwork(local, folder));
  }
}

async function moveArtwork(local: LocalArtwork, folder: string): Promise<LocalArtwork> {
  await mkdir(folder, { recursive: true });
  const move = async (from: string): Promise<string> => {
    const to = path.join(folder, path.basename(from));
    await rename(from, to);
    return to;
  };
  const { files } = local;
  if (files.kind === 'vector') return { ...local, files: { kind: 'vector', path: await move(files.path) } };
  const levels: RasterLevel[] = [];
  for (const level of files.levels) levels.push({ ...level, path: await move(level.path) });
  return { ...local, files: { kind: 'raster', levels } };
}

/** The one of this process. */
export const artworkShelf = new ArtworkShelf();
