import { createHash } from 'node:crypto';
import { createReadStream, readFileSync } from 'node:fs';
import { open, stat } from 'node:fs/promises';
import path from 'node:path';
import { MM_PER_INCH } from '@/core/units';
import type { ArtworkFiles } from './artworkSource';
import { decodeRaster, readRasterFacts } from './decodeRaster';
import { readSvg } from './readSvg';
import { sniffArtwork } from './sniffArtwork';

/** Facts about artwork as the user is told them. */
export interface ArtworkFacts {
  readonly sha256: string;
  readonly fileName: string;
  readonly format: string;
  readonly kind: 'raster' | 'vector';
  /** Pixels, or user units of a drawing. */
  readonly widthPx: number;
  readonly heightPx: number;
  /** What it measures at its own resolution; null when it states none. */
  readonly ownWidthMm: number | null;
  readonly ownHeightMm: number | null;
  readonly hasAlpha: boolean;
  readonly colourSpace: string;
  readonly bits: number;
  readonly missingFonts: readonly string[];
}

export async function hashFile(file: string): Promise<string> {
  const hash = createHash('sha256');
  for await (const piece of createReadStream(file)) hash.update(piece as Buffer);
  return hash.digest('hex');
}

/** The first bytes of a file, enough to tell what it is. */
export async function readHead(file: string): Promise<Uint8Array> {
  const handle = await open(file);
  try {
    const buffer = Buffer.alloc(65536);
    const { bytesRead } = await handle.read(buffer, 0, buffer.length, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await handle.close();
  }
}

/**
 * Reads what a file of artwork is, without decoding it. Throws what the readers throw: each KerameusError says
 * what is wrong and what to do.
 */
export async function inspectArtwork(file: string, fileName: string): Promise<ArtworkFacts> {
  const format = sniffArtwork(await readHead(file));
  const common = { sha256: await hashFile(file), fileName: path.basename(fileName).slice(-200), format };
  if (format === 'svg') {
    const { size } = await stat(file);
    const svg = readSvg(size > 50e6 ? new Uint8Array(50e6) : readFileSync(file));
    for (const picture of svg.pictures) await readRasterFacts(picture);
    return {
      ...common,
      kind: 'vector',
      widthPx: svg.width,
      heightPx: svg.height,
      ownWidthMm: svg.widthMm,
      ownHeightMm: svg.heightMm,
      hasAlpha: true,
      colourSpace: 'RGB',
      bits: 8,
      missingFonts: svg.missingFonts,
    };
  }
  const facts = await readRasterFacts(file);
  const toMm = (pixels: number) => (facts.ownDpi ? (pixels / facts.ownDpi) * MM_PER_INCH : null);
  return {
    ...common,
    kind: 'raster',
    widthPx: facts.widthPx,
    heightPx: facts.heightPx,
    ownWidthMm: toMm(facts.widthPx),
    ownHeightMm: toMm(facts.heightPx),
    hasAlpha: facts.hasAlpha,
    colourSpace: facts.colourSpace,
    bits: facts.bits,
    missingFonts: [],
  };
}

/** Decodes artwork into a folder: raster levels, or for a drawing the file itself. */
export async function decodeArtwork(
  file: string,
  facts: ArtworkFacts,
  folder: string,
): Promise<ArtworkFiles> {
  if (facts.kind === 'vector') return { kind: 'vector', path: file };
  return { kind: 'raster', levels: await decodeRaster(file, folder) };
}
