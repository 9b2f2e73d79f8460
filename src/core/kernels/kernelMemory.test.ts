import { readFileSync } from 'node:fs';
import path from 'node:path';
import { KernelMemory } from './kernelMemory';

const module = new WebAssembly.Module(readFileSync(path.resolve('public/kernels.wasm')));

/** A tile of so many bytes, all of one value. */
const tile = (bytes: number, value: number) => new Uint8Array(bytes).fill(value);

/** Whether a tile stands where it is said to, in full. */
const stands = (memory: KernelMemory, at: number, one: Uint8Array) =>
  Buffer.compare(memory.bytes(at, one.length), one) === 0;

describe('tiles in the memory of the kernels', () => {
  it('stay where they are while they are used', () => {
    const memory = new KernelMemory(module);
    const [a, b] = [tile(3e6, 1), tile(3e6, 2)];
    const [first] = memory.loadTiles([a]);
    const [second, again] = memory.loadTiles([b, a]);
    expect(again).toBe(first);
    expect(stands(memory, first!, a) && stands(memory, second!, b)).toBe(true);
  });

  it('make room by use: the one that was used longest ago goes', () => {
    const memory = new KernelMemory(module);
    const [a, b, c] = [tile(2.5e6, 1), tile(2.5e6, 2), tile(2.5e6, 3)];
    memory.loadTiles([a]);
    memory.loadTiles([b]);
    memory.loadTiles([c]);
    memory.loadTiles([a]);
    const d = tile(2.5e6, 4);
    const [at, other] = memory.loadTiles([d, a]);
    expect(stands(memory, at!, d) && stands(memory, other!, a)).toBe(true);
    // c stayed beside them: nothing is loaded for it.
    let loads = 0;
    const bytes = memory.bytes.bind(memory);
    memory.bytes = (...place) => {
      loads++;
      return bytes(...place);
    };
    memory.loadTiles([a, d]);
    expect(loads).toBe(0);
    memory.loadTiles([b]);
    expect(loads).toBe(1);
  });

  it('that one call wants stand together and stay, also where they are more than is kept otherwise', () => {
    const memory = new KernelMemory(module);
    const many = [1, 2, 3, 4, 5].map((value) => tile(2.5e6, value));
    const places = memory.loadTiles(many);
    many.forEach((each, k) => expect(stands(memory, places[k]!, each)).toBe(true));
    expect(memory.loadTiles(many)).toEqual(places);
    // Blocks for the work lie behind them.
    const [block] = memory.place(16);
    expect(block).toBeGreaterThanOrEqual(Math.max(...places) + 2.5e6);
  });

  it('of a nested call stand apart from what the one at work has placed, and what was loaded stays', () => {
    const memory = new KernelMemory(module);
    const [a, b] = [tile(1000, 1), tile(4e6, 2)];
    const [first] = memory.loadTiles([a]);
    const [block] = memory.place(1e6);
    memory.bytes(block!, 1e6).fill(9);
    memory.nested(() => {
      const [known, other] = memory.loadTiles([a, b]);
      expect(stands(memory, known!, a) && stands(memory, other!, b)).toBe(true);
      const [inner] = memory.place(3e6);
      expect(inner).toBeGreaterThanOrEqual(other! + b.length);
      memory.bytes(inner!, 3e6).fill(7);
      memory.nested(() => memory.bytes(memory.place(2e6)[0]!, 2e6).fill(5));
      expect(stands(memory, inner!, tile(3e6, 7))).toBe(true);
    });
    expect(stands(memory, first!, a) && stands(memory, block!, tile(1e6, 9))).toBe(true);
    // What comes after it begins where the one at work did.
    expect(memory.place(10)).toEqual([block]);
    expect(() =>
      memory.nested(() => {
        throw new Error('stopped');
      }),
    ).toThrow('stopped');
    expect(memory.place(10)).toEqual([block]);
  });

  it('one that is asked for twice is there once', () => {
    const memory = new KernelMemory(module);
    const a = tile(100, 7);
    const [one, other] = memory.loadTiles([a, a]);
    expect(one).toBe(other);
  });
});
