import type { ToneTable } from './toneTable';

/**
 * What a table says of pixels: the tones of each ink, 0..65535.
 *
 * @param colours codes of sRGB, red in the lowest byte; what is in the highest one does not matter.
 * @param wanted 0 for pixels that print nothing; null: all print.
 * @param planes one for each ink, as long as `colours`; written in full.
 */
export function toneFields(
  table: ToneTable,
  colours: Uint32Array,
  wanted: Uint8Array | null,
  planes: readonly Uint16Array[],
): void {
  const tones = new Uint16Array(table.count);
  let before = -1;
  for (let i = 0; i < colours.length; i++) {
    if (wanted && wanted[i] === 0) {
      for (const plane of planes) plane[i] = 0;
      continue;
    }
    const colour = colours[i]! & 0xffffff;
    if (colour !== before) table.find(colour & 255, (colour >> 8) & 255, colour >> 16, tones);
    before = colour;
    for (let k = 0; k < planes.length; k++) planes[k]![i] = tones[k]!;
  }
}
