import type { ToneTable } from './toneTable';

export interface FieldsRequest {
  readonly table: ToneTable;
  /** Codes of sRGB, red in the lowest byte; what is in the highest one does not matter. */
  readonly colours: Uint32Array;
  /** One for each colour: 0 for pixels that print nothing. */
  readonly wanted: Uint8Array;
  /** One for each ink, as long as `colours`: its tones, 0..65535; written in full. */
  readonly planes: readonly Uint16Array[];
}

/** What a table says of pixels. */
export function toneFields({ table, colours, wanted, planes }: FieldsRequest): void {
  const tones = new Uint16Array(table.count);
  let before = -1;
  for (let i = 0; i < colours.length; i++) {
    if (wanted[i] === 0) {
      for (const plane of planes) plane[i] = 0;
      continue;
    }
    const colour = colours[i]! & 0xffffff;
    if (colour !== before) table.find(colour & 255, (colour >> 8) & 255, colour >> 16, tones);
    before = colour;
    for (let k = 0; k < planes.length; k++) planes[k]![i] = tones[k]!;
  }
}
