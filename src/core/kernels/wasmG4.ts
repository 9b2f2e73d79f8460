import type { G4Encoder } from '../formats';
import { CODES_AT, type KernelMemory } from './kernelMemory';
import type { Kernels } from './kernels';

/** Words before a list of changes, and words that stand, or are overwritten, behind `width` of them. */
export const LIST_BEFORE = 2;
export const LIST_BEHIND = 18;

/** At worst a pixel takes 12 bits (a black run of one, coded horizontally, and its white one). */
export function mostBytes(width: number, rows: number): number {
  return rows * (width * 2 + 64);
}

/** The G4 encoder on a compiled module. */
export function wasmG4(memory: KernelMemory): Kernels['createG4Encoder'] {
  const { kernels } = memory;

  return (width: number): G4Encoder => {
    const rowBytes = (width + 7) >> 3;
    const state = new Uint8Array(16);
    let reference: Uint8Array = new Uint8Array(rowBytes);
    return {
      encode: (bits, rows) => {
        const [rowsAt, listsAt, stateAt, outAt] = memory.place(
          (rows + 1) * rowBytes + 16,
          (LIST_BEFORE + width + LIST_BEHIND) * 8,
          16,
          mostBytes(width, rows),
        ) as [number, number, number, number];
        memory.bytes(rowsAt, rowBytes).set(reference);
        memory.bytes(rowsAt + rowBytes, rows * rowBytes).set(bits.subarray(0, rows * rowBytes));
        memory.bytes(stateAt, 16).set(state);
        const length = kernels.g4EncodeRows(rowsAt, rowBytes, rows, width, CODES_AT, listsAt, stateAt, outAt);
        state.set(memory.bytes(stateAt, 16));
        reference = memory.bytes(rowsAt + rows * rowBytes, rowBytes).slice();
        return memory.bytes(outAt, length).slice();
      },
      finish: () => {
        const [stateAt, outAt] = memory.place(16, 64) as [number, number];
        memory.bytes(stateAt, 16).set(state);
        return memory.bytes(outAt, kernels.g4Finish(stateAt, outAt)).slice();
      },
    };
  };
}
