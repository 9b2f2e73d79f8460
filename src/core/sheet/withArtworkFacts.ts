import type { JobSheet } from './jobSheet';
import type { Artwork } from './layerSchema';
import { artworkOf } from './layers';

/** What stored artwork says of itself, as far as a sheet repeats it. */
export type SheetArtworkFacts = Pick<Artwork, 'sha256' | 'kind' | 'widthPx' | 'heightPx'>;

/** A sheet whose artwork is told as it is stored: what a sheet that comes from outside says of its size is not believed. */
export function withArtworkFacts(sheet: JobSheet, facts: SheetArtworkFacts): JobSheet {
  const { sha256, kind, widthPx, heightPx } = facts;
  return { ...sheet, artworks: [{ ...artworkOf(sheet), sha256, kind, widthPx, heightPx }] };
}
