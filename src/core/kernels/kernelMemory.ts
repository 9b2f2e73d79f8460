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
  private current: ArrayBuffer;
  /** Where each begins; the one that was used last stands last. */
  private readonly tiles = new Map<Tile, number>();
  private tileBytes = 0;
  /** Where blocks of the running call may begin: behind the tiles, and behind the blocks of the calls that it is made from. */
  private floor = 0;
  /** Where the blocks of the running call end. */
  private end = 0;

  constructor(module: WebAssembly.Module) {
    this.memory = new WebAssembly.Memory({ initial: 32 });
    this.current = this.memory.buffer as ArrayBuffer;
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

  /** The memory as it is now: another one once it has grown. Asking the module for it costs more than a short view does. */
  get buffer(): ArrayBuffer {
    return this.current;
  }

  /** Places blocks of the given sizes: those of the running call that were placed before are gone. Growing the memory detaches older views. */
  place(...sizes: number[]): number[] {
    let at = Math.max(TILE_AT + this.tileBytes, this.floor);
    const offsets = sizes.map((size) => {
      const here = Math.ceil(at / ALIGN) * ALIGN;
      at = here + size;
      return here;
    });
    this.end = at;
    this.reach(at);
    return offsets;
  }

  /** Grows the memory where it is not as large. */
  private reach(end: number): void {
    const missing = end + 64 - this.current.byteLength;
    if (missing <= 0) return;
    this.memory.grow(Math.ceil(missing / PAGE));
    this.current = this.memory.buffer as ArrayBuffer;
  }

  /**
   * Calls what may call kernels itself while a kernel is at work: the blocks of the one at work stay as they are. Its views do not where the memory
   * grows: they are to be made anew, and what is called is to be given none of them. A kernel that encodes keeps its place in the module, so that no
   * other may encode meanwhile.
   */
  nested<T>(call: () => T): T {
    const { floor, end } = this;
    this.floor = end;
    try {
      return call();
    } finally {
      this.floor = floor;
      this.end = end;
    }
  }

  bytes(at: number, length: number): Uint8Array {
    return new Uint8Array(this.current, at, length);
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
    if (missing.length > 0 && this.floor > 0) return this.loadAside(tiles);
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

  /** Puts all thresholds of a nested call among its own blocks: behind the others there is no room for more. */
  private loadAside(tiles: readonly Tile[]): number[] {
    const places = new Map<Tile, number>();
    for (const tile of new Set(tiles)) {
      const at = Math.ceil(this.floor / ALIGN) * ALIGN;
      this.floor = at + roomOf(tile);
      this.reach(this.floor);
      this.write(tile, at);
      places.set(tile, at);
    }
    return tiles.map((tile) => places.get(tile)!);
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
    this.reach(TILE_AT + this.tileBytes);
    this.write(tile, at);
    this.tiles.set(tile, at);
  }

  private write(tile: Tile, at: number): void {
    this.bytes(at, tile.byteLength).set(new Uint8Array(tile.buffer, tile.byteOffset, tile.byteLength));
  }
}

type Tile = Uint8Array | Uint16Array;

/** Sixteen are read together, also where eight are left. */
function roomOf(...tiles: readonly Tile[]): number {
  return tiles.reduce((sum, { byteLength }) => sum + ((byteLength + 16 + ALIGN - 1) & -ALIGN), 0);
}
