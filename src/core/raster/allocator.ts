/** What memory holds that is written in full anyway. */
export type Contents = 'any';

/** Where planes get their memory from; everything handed out is zero but for what may hold anything. */
export interface Allocator {
  bytes(count: number, contents?: Contents): Uint8Array;
  words(count: number, contents?: Contents): Uint16Array;
  shorts(count: number, contents?: Contents): Int16Array;
  ints(count: number, contents?: Contents): Int32Array;
  /** Runs work whose memory is not needed after it; nothing that it allocates may be kept. */
  scratch<T>(work: () => T): T;
}

/** Fresh memory each time: for planes that are kept. */
export const FRESH_MEMORY: Allocator = {
  bytes: (count) => new Uint8Array(count),
  words: (count) => new Uint16Array(count),
  shorts: (count) => new Int16Array(count),
  ints: (count) => new Int32Array(count),
  scratch: (work) => work(),
};

/**
 * One block of memory used again and again, for planes that are done with before the next region is begun. Strips of a film would
 * otherwise spend a third of their time in getting pages from the system, and threads would wait for each other there.
 */
export class Arena implements Allocator {
  private slab = new ArrayBuffer(0);
  private used = 0;
  /** The most that was in use at a time. */
  private most = 0;

  /** Takes back everything that was handed out. */
  reset(): void {
    if (this.most > this.slab.byteLength) this.slab = new ArrayBuffer(Math.ceil(this.most * 1.05));
    this.used = 0;
  }

  scratch<T>(work: () => T): T {
    const mark = this.used;
    try {
      return work();
    } finally {
      this.used = mark;
    }
  }

  private place(byteCount: number, contents?: Contents): { buffer: ArrayBuffer; at: number } {
    const size = Math.ceil(byteCount / 16) * 16;
    const at = this.used;
    this.used += size;
    this.most = Math.max(this.most, this.used);
    // What the block cannot hold yet it will hold from the next reset on.
    if (this.used > this.slab.byteLength) return { buffer: new ArrayBuffer(size), at: 0 };
    if (contents !== 'any') new Uint8Array(this.slab, at, size).fill(0);
    return { buffer: this.slab, at };
  }

  bytes(count: number, contents?: Contents): Uint8Array {
    const { buffer, at } = this.place(count, contents);
    return new Uint8Array(buffer, at, count);
  }

  words(count: number, contents?: Contents): Uint16Array {
    const { buffer, at } = this.place(count * 2, contents);
    return new Uint16Array(buffer, at, count);
  }

  shorts(count: number, contents?: Contents): Int16Array {
    const { buffer, at } = this.place(count * 2, contents);
    return new Int16Array(buffer, at, count);
  }

  ints(count: number, contents?: Contents): Int32Array {
    const { buffer, at } = this.place(count * 4, contents);
    return new Int32Array(buffer, at, count);
  }
}

/**
 * Memory of a stage whose result is kept until it is made anew: `renew` takes everything back, so that the planes to come lie where
 * the last ones lay. Scratch work has a block that stages share.
 */
export class StageMemory implements Allocator {
  private readonly kept = new Arena();
  private readonly shared: Arena;
  private depth = 0;

  constructor(shared: Arena) {
    this.shared = shared;
  }

  /** What was handed out is done with. */
  renew(): this {
    this.kept.reset();
    return this;
  }

  private get from(): Allocator {
    return this.depth > 0 ? this.shared : this.kept;
  }

  bytes(count: number, contents?: Contents): Uint8Array {
    return this.from.bytes(count, contents);
  }

  words(count: number, contents?: Contents): Uint16Array {
    return this.from.words(count, contents);
  }

  shorts(count: number, contents?: Contents): Int16Array {
    return this.from.shorts(count, contents);
  }

  ints(count: number, contents?: Contents): Int32Array {
    return this.from.ints(count, contents);
  }

  scratch<T>(work: () => T): T {
    this.depth++;
    try {
      return this.shared.scratch(work);
    } finally {
      this.depth--;
      if (this.depth === 0) this.shared.reset();
    }
  }
}
