import type { FieldsRequest } from '../solving';
import type { KernelMemory } from './kernelMemory';

/** Pixels that are looked up at a time: they and their tones fit a processor's cache. A multiple of 8. */
const PIXELS_AT_A_TIME = 1 << 13;

/** `toneFields` on a compiled module; the table stays there. */
export function wasmToneFields(memory: KernelMemory): (request: FieldsRequest) => void {
  return ({ table, colours, wanted, planes }) => {
    const { lanes } = table;
    const [entries] = memory.loadTiles([table.entries]) as [number];
    const planeBytes = PIXELS_AT_A_TIME * 2;
    const [coloursAt, wantedAt, lineAt, planesAt] = memory.place(
      PIXELS_AT_A_TIME * 4,
      PIXELS_AT_A_TIME,
      128,
      lanes * planeBytes,
    ) as [number, number, number, number];
    const { buffer } = memory;
    for (let from = 0; from < colours.length; from += PIXELS_AT_A_TIME) {
      const count = Math.min(PIXELS_AT_A_TIME, colours.length - from);
      new Uint32Array(buffer, coloursAt, count).set(colours.subarray(from, from + count));
      memory.bytes(wantedAt, count).set(wanted.subarray(from, from + count));
      memory.kernels.toneFields(
        entries,
        lanes,
        coloursAt,
        wantedAt,
        (count + 7) & ~7,
        lineAt,
        planesAt,
        planeBytes,
      );
      planes.forEach((plane, k) =>
        plane.set(new Uint16Array(buffer, planesAt + k * planeBytes, count), from),
      );
    }
  };
}
