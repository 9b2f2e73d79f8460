import { RUN_CODES, VERTICAL_CODES } from '../formats';

/** What the compiled module offers; every number is an address or a count unless its name says otherwise. */
export interface KernelExports {
  markNearBoundary(
    mask: number,
    width: number,
    height: number,
    radius: number,
    runs: number,
    out: number,
  ): void;
  stampDiscs(discs: number, count: number, width: number, height: number, out: number): void;
  nearestSet(
    set: number,
    width: number,
    height: number,
    reach: number,
    rows: number,
    down: number,
    nearest: number,
  ): void;
  nearestPairs(
    row: number,
    first: number,
    width: number,
    isLast: number,
    beside: number,
    out: number,
  ): number;
  layBare(label: number, width: number, bare: number): void;
  layTone(
    label: number,
    above: number,
    below: number,
    part: number,
    width: number,
    shape: number,
    tone: number,
    bare: number,
  ): void;
  layBase(
    label: number,
    above: number,
    below: number,
    darkAbove: number,
    darkBelow: number,
    part: number,
    width: number,
    based: number,
    dark: number,
    strength: number,
  ): void;
  toneFields(
    entries: number,
    lanes: number,
    colours: number,
    wanted: number,
    count: number,
    line: number,
    planes: number,
    planeBytes: number,
  ): void;
  tonePlanes(
    pixels: number,
    mixAt: number,
    mixLabels: number,
    mixShares: number,
    tables: number,
    plates: number,
    highlight: number,
    count: number,
    planes: number,
    planeBytes: number,
    about: number,
  ): number;
  namePixels(
    pixels: number,
    from: number,
    count: number,
    empty: number,
    opaque: number,
    colours: number,
    labels: number,
    out: number,
  ): number;
  countMixed(label: number, count: number): number;
  mixPixels(
    pixels: number,
    label: number,
    tone: number,
    from: number,
    count: number,
    first: number,
    base: number,
    opaque: number,
    leaveEdges: number,
    known: number,
    mixed: number,
    mixAt: number,
    mixLabels: number,
    mixShares: number,
    left: number,
    counts: number,
  ): number;
  beginTone(
    plane: number,
    stride: number,
    width: number,
    height: number,
    radius: number,
    tone: number,
    across: number,
    any: number,
    anyAcross: number,
  ): void;
  growTone(
    plane: number,
    stride: number,
    width: number,
    height: number,
    from: number,
    anyFrom: number,
    to: number,
    anyTo: number,
  ): number;
  uniformAcross(label: number, width: number, out: number): void;
  uniformDown(across: number, stride: number, height: number, out: number): void;
  weighRow(row: number, weights: number, count: number, found: number): number;
  groundRow(row: number, width: number, ground: number): void;
  printLayer(row: number, width: number, shape: number, tone: number, ink: number): void;
  printBase(
    row: number,
    based: number,
    floor: number,
    width: number,
    shape: number,
    tone: number,
    ink: number,
  ): void;
  printBeside(
    row: number,
    backing: number,
    used: number,
    based: number,
    floor: number,
    usedOn: number,
    width: number,
    shape: number,
    tone: number,
    ink: number,
  ): void;
  addRow(sum: number, row: number, width: number, weight: number): void;
  encodeRow(
    sum: number,
    from: number,
    weights: number,
    taps: number,
    count: number,
    codes: number,
    steps: number,
    out: number,
  ): void;
  screenStrip(shape: number, tone: number, thresholds: number, width: number, out: number): void;
  screenStack(
    shape: number,
    tone: number,
    taken: number,
    thresholds: number,
    width: number,
    out: number,
  ): void;
  stackTones(
    above: number,
    below: number,
    part: number,
    table: number,
    taken: number,
    thresholds: number,
    width: number,
    out: number,
  ): void;
  spreadBytes(row: number, bases: number, picks: number, times: number, out: number): void;
  spreadWords(row: number, bases: number, picks: number, times: number, out: number): void;
  blendWords(row: number, bases: number, picks: number, parts: number, times: number, out: number): void;
  blendEach(row: number, from: number, parts: number, count: number, out: number): void;
  screenTones(
    above: number,
    below: number,
    part: number,
    thresholds: number,
    width: number,
    out: number,
  ): void;
  codeThresholds(thresholds: number, count: number, first: number, out: number): void;
  beginEncoding(codes: number, state: number, out: number): void;
  beginPlate(width: number, longest: number, above: number, line: number): void;
  codeRows(bytes: number, positions: number, rows: number): void;
  toneRow(upper: number, lower: number, part: number, positions: number): void;
  lastList(): number;
  endEncoding(state: number): number;
  g4EncodeRows(
    rows: number,
    rowBytes: number,
    count: number,
    width: number,
    codes: number,
    lists: number,
    state: number,
    out: number,
  ): number;
  g4Finish(state: number, out: number): number;
  paintGradient(
    words: number,
    count: number,
    x: number,
    y: number,
    form: number,
    stops: number,
    stopCount: number,
    opacity: number,
  ): void;
}

const PAGE = 65536;
// The compiler keeps its few constants in the first page.
export const CODES_AT = PAGE;
const TILE_AT = PAGE + 4096;
const ALIGN = 16;
/** Tiles that stay loaded. */
const MOST_TILE_BYTES = 8e6;

/** A compiled module over a memory of its own. Not to be shared between threads. */
export class KernelMemory {
  readonly kernels: KernelExports;
  private readonly memory: WebAssembly.Memory;
  private readonly tiles = new Map<Uint8Array | Uint16Array, number>();
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
   * Puts thresholds where they stay until too many others have come; what was placed before is overwritten.
   *
   * @returns where each of them begins.
   */
  loadTiles(tiles: readonly (Uint8Array | Uint16Array)[]): number[] {
    const missing = new Set(tiles.filter((tile) => !this.tiles.has(tile)));
    const wanted = [...missing].reduce((sum, tile) => sum + roomOf(tile), 0);
    if (this.tileBytes + wanted > MOST_TILE_BYTES) {
      this.tiles.clear();
      this.tileBytes = 0;
    }
    for (const tile of tiles) {
      if (this.tiles.has(tile)) continue;
      const at = TILE_AT + this.tileBytes;
      this.tileBytes += roomOf(tile);
      // Grows the memory where it must.
      this.place(0);
      this.bytes(at, tile.byteLength).set(new Uint8Array(tile.buffer, tile.byteOffset, tile.byteLength));
      this.tiles.set(tile, at);
    }
    return tiles.map((tile) => this.tiles.get(tile)!);
  }
}

/** Sixteen are read together, also where eight are left. */
function roomOf(tile: Uint8Array | Uint16Array): number {
  return (tile.byteLength + 16 + ALIGN - 1) & -ALIGN;
}
