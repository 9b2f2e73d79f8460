import { RUN_CODES, VERTICAL_CODES } from '../formats';
import type { KernelExports } from './exports';

const PAGE = 65536;
// The compiler keeps its few constants in the first page.
export const CODES_AT = PAGE;
const TILE_AT = PAGE + 4096;
const ALIGN = 16;
/** Bytes of tiles that stay loaded, and how many are left of them when there is no room for another: the next ones are to fit without moving them again. */
const MOST_TILE_BYTES = 8e6;
const KEPT_TILE_BYTES = 6e6;

/** A compiled module over a memory of its own. Not to be shared between threads. */
export class KernelMemory {
  readonly kernels: KernelExports;
  private readonly memory: WebAssembly.Memory;
  /** Where each begins; the one that was used last stands last. */
  private readonly tiles = new Map<Tile, number>();
  private tileBytes = 0;

  constructor(module: WebAssembly.Module) {
    this.memory = new WebAssembly.Memory({ initial: 32 });
    const instance = new WebAssembly.Instance(module, {
      env: {
        memory: this.memory,
        abort: () => {
          throw new Error('A compiled kernel stopped.');
        },
      },
    });
    this.kernels = instance.exports as unknown as KernelExports;
    const codes = [...RUN_CODES, ...VERTICAL_CODES];
    new Uint32Array(this.memory.buffer, CODES_AT, codes.length).set(codes);
  }

  get buffer(): ArrayBuffer {
    return this.memory.buffer as ArrayBuffer;
  }

  /** Places blocks of the given sizes behind the tile; growing the memory detaches older views. */
  place(...sizes: number[]): number[] {
    let at = TILE_AT + this.tileBytes;
    const offsets = sizes.map((size) => {
      const here = Math.ceil(at / ALIGN) * ALIGN;
      at = here + size;
      return here;
    });
    const missing = at + 64 - this.memory.buffer.byteLength;
    if (missing > 0) this.memory.grow(Math.ceil(missing / PAGE));
    return offsets;
  }

  bytes(at: number, length: number): Uint8Array {
    return new Uint8Array(this.memory.buffer, at, length);
  }

  /**
   * Puts thresholds where they stay while they are used: when there are too many, those that were used longest ago make room. What one call wants stands
   * together, however much it is. What was placed before is overwritten.
   *
   * @returns where each of them begins.
   */
  loadTiles(tiles: readonly Tile[]): number[] {
    const wanted = [...new Set(tiles)];
    const missing = wanted.filter((tile) => !this.tiles.has(tile));
    if (missing.length > 0) {
      if (this.tileBytes + roomOf(...missing) > MOST_TILE_BYTES) this.makeRoom(wanted);
      for (const tile of wanted) if (!this.tiles.has(tile)) this.load(tile);
    }
    for (const tile of wanted) {
      // The one that was used last stands last.
      const at = this.tiles.get(tile)!;
      this.tiles.delete(tile);
      this.tiles.set(tile, at);
    }
    return tiles.map((tile) => this.tiles.get(tile)!);
  }

  /** Forgets tiles that were used longest ago, and moves those that stay together. */
  private makeRoom(wanted: readonly Tile[]): void {
    let room = KEPT_TILE_BYTES - roomOf(...wanted);
    const used = [...this.tiles.keys()].reverse().filter((tile) => !wanted.includes(tile));
    const kept = used.filter((tile) => {
      room -= roomOf(tile);
      return room >= 0;
    });
    this.tiles.clear();
    this.tileBytes = 0;
    for (const tile of kept.reverse()) this.load(tile);
  }

  private load(tile: Tile): void {
    const at = TILE_AT + this.tileBytes;
    this.tileBytes += roomOf(tile);
    // Grows the memory where it must.
    this.place(0);
    this.bytes(at, tile.byteLength).set(new Uint8Array(tile.buffer, tile.byteOffset, tile.byteLength));
    this.tiles.set(tile, at);
  }
}

type Tile = Uint8Array | Uint16Array;

/** Sixteen are read together, also where eight are left. */
function roomOf(...tiles: readonly Tile[]): number {
  return tiles.reduce((sum, { byteLength }) => sum + ((byteLength + 16 + ALIGN - 1) & -ALIGN), 0);
}
