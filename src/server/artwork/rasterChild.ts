import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { type ErrorReport, toErrorReport } from '@/core/units';
import type { RasterLevel } from './artworkSource';
import { type RasterFacts, decodePixels, decodeRaster, readRasterFacts } from './decodeRaster';

/** What the program that decodes pictures is asked for. */
export type RasterOrder =
  /** Decodes a file into levels, in a folder. */
  | { readonly kind: 'decode'; readonly file: string; readonly folder: string }
  /** Decodes small pictures into files of pixels beside them, `NAME.rgba`. */
  | { readonly kind: 'pictures'; readonly files: readonly string[]; readonly mostPixels: number }
  /** Reads only what a file says of itself. */
  | { readonly kind: 'facts'; readonly file: string };

export type RasterAnswer =
  | { readonly kind: 'decoded'; readonly facts: RasterFacts; readonly levels: readonly RasterLevel[] }
  | {
      readonly kind: 'pictures';
      readonly sizes: readonly { readonly width: number; readonly height: number }[];
    }
  | { readonly kind: 'facts'; readonly facts: RasterFacts }
  | { readonly kind: 'failed'; readonly error: ErrorReport };

async function perform(order: RasterOrder): Promise<RasterAnswer> {
  if (order.kind === 'facts') return { kind: 'facts', facts: await readRasterFacts(order.file, false) };
  if (order.kind === 'decode') {
    const facts = await readRasterFacts(order.file);
    return { kind: 'decoded', facts, levels: await decodeRaster(order.file, facts, order.folder) };
  }
  const sizes: { width: number; height: number }[] = [];
  let pixels = 0;
  for (const file of order.files) {
    const picture = await decodePixels(readFileSync(file), order.mostPixels - pixels);
    pixels += picture.width * picture.height;
    writeFileSync(`${path.resolve(file)}.rgba`, picture.data);
    sizes.push({ width: picture.width, height: picture.height });
  }
  return { kind: 'pictures', sizes };
}

process.once('message', (order: RasterOrder) => {
  perform(order)
    .catch((thrown: unknown): RasterAnswer => ({ kind: 'failed', error: toErrorReport(thrown) }))
    .then((answer) => process.send!(answer, () => process.exit(0)))
    .catch(() => process.exit(1));
});
// The one that asked is gone.
process.once('disconnect', () => process.exit(1));
