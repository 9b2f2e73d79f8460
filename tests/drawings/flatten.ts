import { type Drawing, DrawingLevel, readStoredDrawing } from '@/core/drawing';
import { readSvg } from '@/server/artwork/readSvg';
import { flattenSvg } from '@/server/drawings/flattenSvg';
import { loadSvgLibrary } from '@/server/drawings/svgLibrary';

/** A drawing as the application reads it, in this process; for drawings that are known to do no harm and embed no pictures. */
export async function flatten(svg: string): Promise<Drawing> {
  await loadSvgLibrary();
  return readStoredDrawing(flattenSvg(readSvg(Buffer.from(svg)), []).bytes);
}

/** All pixels of a drawing at a size, as words of sRGB codes with straight alpha. */
export function pixelsOf(drawing: Drawing, width: number, height: number): Uint32Array {
  const words = new Uint32Array(width * height);
  new DrawingLevel(drawing, width, height).draw({ x: 0, y: 0, width, height }, words);
  return words;
}
