import { KernelMemory } from './kernelMemory';
import type { Kernels } from './kernels';
import { wasmDrawing } from './wasmDrawing';
import { wasmToneFields } from './wasmFields';
import { wasmG4 } from './wasmG4';
import { wasmPlates } from './wasmPlates';
import { wasmRaster } from './wasmRaster';
import { wasmScreenLayers } from './wasmLayers';

/** Kernels from the compiled module, over one memory of their own; each thread makes its own. */
export function createWasmKernels(module: WebAssembly.Module): Kernels {
  const memory = new KernelMemory(module);
  return {
    ...wasmDrawing(memory),
    ...wasmRaster(memory),
    screenLayers: wasmScreenLayers(memory),
    toneFields: wasmToneFields(memory),
    createG4Encoder: wasmG4(memory),
    createPlateEncoder: wasmPlates(memory),
  };
}
