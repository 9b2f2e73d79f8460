import path from 'node:path';
import { KerameusError } from '@/core/units';
import { materialise } from '../files/fileStore';
import { findArtwork } from './artworkStore';
import { Shelf } from './shelf';

/** Files of artwork as they came, on the disk: the pages of a PDF are looked at one after another. Throws KerameusError `artwork-missing`. */
export const originalShelf = new Shelf<string>(2, async (database, sha256, folder) => {
  const row = await findArtwork(database, sha256);
  if (!row) {
    throw new KerameusError({
      code: 'artwork-missing',
      message: 'This artwork is not here any more.',
      remedy: 'Drop it again as a new job.',
    });
  }
  const target = path.join(folder, 'original');
  await materialise(database, row.fileId, target);
  return target;
});
