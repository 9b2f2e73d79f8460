export { PLAIN_KERNELS, type Kernels } from './kernels';
export { createWasmKernels } from './wasmKernels';
