import { readFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import { capMemory } from './wasmMemory';

/** (module (memory (export "m") 1)), as the binary format of WebAssembly 1.0 has it. */
const MODULE = Uint8Array.from([0, 0x61, 0x73, 0x6d, 1, 0, 0, 0, 5, 3, 1, 0, 1, 7, 5, 1, 1, 0x6d, 2, 0]);

test('a module grows up to its cap and no further', async () => {
  const { instance } = (await WebAssembly.instantiate(capMemory(MODULE, 300))) as unknown as {
    instance: WebAssembly.Instance;
  };
  const memory = instance.exports.m as WebAssembly.Memory;
  expect(memory.grow(299)).toBe(1);
  expect(() => memory.grow(1)).toThrow();
});

test('the SVG library can be capped', () => {
  const bytes = readFileSync('node_modules/@resvg/resvg-wasm/index_bg.wasm');
  expect(WebAssembly.validate(capMemory(bytes, 10_240))).toBe(true);
  expect(() => capMemory(bytes, 1)).toThrow('more memory');
  expect(() => capMemory(MODULE.subarray(0, 8), 10)).toThrow('no memory');
});
