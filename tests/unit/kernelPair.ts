import { readFileSync } from 'node:fs';
import path from 'node:path';
import { type Kernels, createWasmKernels } from '@/core/kernels';

/** The compiled kernels. */
export const wasm: Kernels = createWasmKernels(
  new WebAssembly.Module(readFileSync(path.resolve('public/kernels.wasm'))),
);

/** A small generator with a fixed seed (Numerical Recipes' constants), so that each run tests the same. */
export function random(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
}
