export { PLAIN_KERNELS, type Kernels, type PlateEncoder } from './kernels';
export { createWasmKernels } from './wasmKernels';
