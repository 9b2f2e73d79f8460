import { type JobSheet, artworkOf } from '@/core/sheet';
import type { Reader } from '../db/database';
import { fetchTexture } from '../textures';
import { artworkShelf } from './artworkShelf';
import type { LocalArtwork } from './artworkStore';

/**
 * Runs work on everything that a job prints: its artwork, and the picture of its texture where it has one. Throws KerameusError `artwork-missing` or `texture-missing`.
 *
 * @param folder where the texture lies meanwhile.
 */
export function useJobArtwork<R>(
  database: Reader,
  sheet: JobSheet,
  folder: string,
  work: (local: LocalArtwork) => R | Promise<R>,
): Promise<R> {
  return artworkShelf.use(database, artworkOf(sheet).sha256, async (local) => {
    const texture = await fetchTexture(database, sheet, folder);
    return work(texture ? { ...local, files: { ...local.files, texture } } : local);
  });
}
