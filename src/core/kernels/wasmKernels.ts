import { type G4Encoder, RUN_CODES, VERTICAL_CODES } from '../formats';
import { type PrintArguments, groupsOf } from '../raster';
import {
  type ByteStripArguments,
  type PlaneStripArguments,
  type ScreenArguments,
  type ThresholdTile,
  tilePosition,
} from '../screening';
import type { Kernels } from './kernels';

interface KernelExports {
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
  groundRow(row: number, width: number, ground: number): void;
  printLayer(row: number, width: number, shape: number, tone: number, ink: number): void;
  printBeside(
    row: number,
    backing: number,
    used: number,
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
  repeatRow(row: number, starts: number, count: number, out: number): void;
  repeatBytes(row: number, starts: number, count: number, out: number): void;
  screenByteRow(bytes: number, thresholds: number, width: number, out: number): void;
  expandRow(row: number, from: number, part: number, width: number, out: number): void;
  screenTones(
    above: number,
    below: number,
    part: number,
    thresholds: number,
    width: number,
    out: number,
  ): void;
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
}

const PAGE = 65536;
// The compiler keeps its few constants in the first page.
const CODES_AT = PAGE;
const TILE_AT = PAGE + 4096;
const ALIGN = 16;
/** Rows of the planes that are printed at a time. */
const PRINT_ROWS = 96;

/** The compiled kernels over one memory of their own. Not to be shared between threads. */
class WasmKernels implements Kernels {
  private readonly memory: WebAssembly.Memory;
  private readonly kernels: KernelExports;
  private loaded: Uint8Array | Uint16Array | null = null;
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

  /** Places blocks of the given sizes behind the tile; growing the memory detaches older views. */
  private place(...sizes: number[]): number[] {
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

  private bytes(at: number, length: number): Uint8Array {
    return new Uint8Array(this.memory.buffer, at, length);
  }

  markNearBoundary = (
    mask: Uint8Array,
    width: number,
    height: number,
    radiusPx: number,
    out: Uint8Array,
  ): void => {
    if (!(radiusPx > 0)) {
      out.fill(0);
      return;
    }
    const count = width * height;
    const counters = (width + 1) * height * 4;
    const [maskAt, runsAt, outAt] = this.place(count, counters, count) as [number, number, number];
    this.bytes(maskAt, count).set(mask);
    this.bytes(runsAt, counters).fill(0);
    this.kernels.markNearBoundary(maskAt, width, height, radiusPx, runsAt, outAt);
    out.set(this.bytes(outAt, count));
  };

  stampDiscs = (discs: Float64Array, width: number, height: number, out: Uint8Array): void => {
    const count = width * height;
    const [discsAt, outAt] = this.place(discs.byteLength, count) as [number, number];
    new Float64Array(this.memory.buffer, discsAt, discs.length).set(discs);
    this.bytes(outAt, count).set(out);
    this.kernels.stampDiscs(discsAt, Math.floor(discs.length / 3), width, height, outAt);
    out.set(this.bytes(outAt, count));
  };

  nearestSet = (set: Uint8Array, width: number, height: number, reach: number, out: Int32Array): void => {
    const count = width * height;
    const [setAt, rowsAt, downAt, outAt] = this.place(count, count * 2, width * 2, count * 4) as [
      number,
      number,
      number,
      number,
    ];
    this.bytes(setAt, count).set(set);
    this.kernels.nearestSet(setAt, width, height, reach, rowsAt, downAt, outAt);
    out.set(new Int32Array(this.memory.buffer, outAt, count));
  };

  printView = (args: PrintArguments): void => {
    const { layers, width, height, ground, across, down, codes, out } = args;
    const groups = groupsOf(layers);
    // A part of the rows at a time: all planes of a view would take tens of megabytes, which this memory never gives back.
    const most = Math.min(height, Math.max(PRINT_ROWS, down.taps));
    const count = width * most;
    const [inksAt, rowAt, sumAt, acrossAt, weightsAt, codesAt, lineAt, ...layersAt] = this.place(
      // The ground, then the two parts of each ink. Numbers that are no integers cost an object each when they are handed to the kernels.
      (layers.length * 2 + 1) * 16,
      width * 16,
      width * 16,
      across.from.byteLength,
      across.weights.byteLength,
      codes.length,
      across.count * 4,
      ...layers.flatMap(({ tone }) => [count, tone ? count * 2 : 0]),
      ...groups.flatMap(() => [width * 16, width * 4]),
    ) as [number, number, number, number, number, number, number, ...number[]];
    const groupsAt = layersAt.splice(2 * layers.length);
    new Int32Array(this.memory.buffer, acrossAt, across.count).set(across.from);
    new Float32Array(this.memory.buffer, weightsAt, across.weights.length).set(across.weights);
    this.bytes(codesAt, codes.length).set(codes);
    const inks = new Float32Array(this.memory.buffer, inksAt, (layers.length * 2 + 1) * 4);
    inks.set(ground);
    layers.forEach(({ colour, opacity }, k) => {
      colour.forEach((part, channel) => {
        inks[4 + k * 8 + channel] = opacity * part;
        inks[8 + k * 8 + channel] = (1 - opacity) * part;
      });
    });
    const sums = this.bytes(sumAt, width * 16);
    const line = this.bytes(lineAt, across.count * 4);
    let printed = -1;
    let [top, bottom] = [0, 0];
    for (let y = 0; y < down.count; y++) {
      if (down.from[y]! < top || down.from[y]! + down.taps > bottom) {
        top = down.from[y]!;
        bottom = Math.min(height, top + most);
        printed = -1;
        layers.forEach(({ shape, tone }, k) => {
          const part = (bottom - top) * width;
          this.bytes(layersAt[2 * k]!, part).set(shape.subarray(top * width, bottom * width));
          if (!tone) return;
          const words = new Uint16Array(this.memory.buffer, layersAt[2 * k + 1]!, part);
          words.set(tone.subarray(top * width, bottom * width));
        });
      }
      sums.fill(0);
      for (let t = 0; t < down.taps; t++) {
        const weight = down.weights[y * down.taps + t]!;
        if (weight === 0) continue;
        if (printed !== down.from[y]! + t) {
          printed = down.from[y]! + t;
          this.kernels.groundRow(rowAt, width, inksAt);
          for (let k = 0; k < layers.length; k++) {
            const layer = layers[k]!;
            const ink = inksAt + 16 + k * 32;
            const shapeAt = layersAt[2 * k]! + (printed - top) * width;
            const toneAt = layer.tone ? layersAt[2 * k + 1]! + (printed - top) * width * 2 : 0;
            let own = -1;
            for (let g = 0; g < groups.length; g++) {
              const each = groups[g]!;
              if (each.group === layer.group) own = g;
              else if (k > each.first && k < each.last) {
                this.kernels.printLayer(groupsAt[2 * g]!, width, shapeAt, toneAt, ink);
              }
            }
            if (own < 0) this.kernels.printLayer(rowAt, width, shapeAt, toneAt, ink);
            else {
              const [backingAt, usedAt] = [groupsAt[2 * own]!, groupsAt[2 * own + 1]!];
              if (k === groups[own]!.first) {
                this.bytes(backingAt, width * 16).set(this.bytes(rowAt, width * 16));
                this.bytes(usedAt, width * 4).fill(0);
              }
              this.kernels.printBeside(rowAt, backingAt, usedAt, width, shapeAt, toneAt, ink);
            }
          }
        }
        this.kernels.addRow(sumAt, rowAt, width, weight);
      }
      this.kernels.encodeRow(
        sumAt,
        acrossAt,
        weightsAt,
        across.taps,
        across.count,
        codesAt,
        codes.length - 1,
        lineAt,
      );
      out.set(line, y * across.count * 4);
    }
  };

  screenStrip = (args: ScreenArguments): void => {
    const { shape, tone, width, rows, tile, out } = args;
    if (tone) this.loadTile(tile);
    const count = width * rows;
    const [shapeAt, toneAt, outAt] = this.place(count, tone ? count * 2 : 0, count / 8) as [
      number,
      number,
      number,
    ];
    this.bytes(shapeAt, count).set(shape);
    if (tone) new Uint16Array(this.memory.buffer, toneAt, count).set(tone);
    const longest = tile.wrap & ~7;
    for (let row = 0; row < rows; row++) {
      const y = args.originY + row;
      for (let x = 0; x < width; x += longest) {
        const at = row * width + x;
        const thresholds = tone ? TILE_AT + tilePosition(tile, args.originX + x, y) * 2 : 0;
        this.kernels.screenStrip(
          shapeAt + at,
          tone ? toneAt + at * 2 : 0,
          thresholds,
          Math.min(longest, width - x),
          outAt + at / 8,
        );
      }
    }
    out.set(this.bytes(outAt, count / 8));
  };

  screenPlane = (args: PlaneStripArguments): void => {
    const { across, down, rows, tile, out, pixels } = args;
    this.loadTile(tile);
    const width = across.from.length;
    const [rowAt, acrossAt, partAt, evenAt, oddAt, outAt] = this.place(
      pixels * 2 + 2,
      Math.max(width, pixels + 1) * 4,
      across.part ? width * 2 : 0,
      // Eight values may be written behind a row, and sixteen pixels are looked at together, also where eight are left.
      width * 2 + 32,
      width * 2 + 32,
      out.length + 2,
    ) as [number, number, number, number, number, number];
    const { part } = across;
    const places = part ? across.from : startsOf(across.from, pixels);
    new Int32Array(this.memory.buffer, acrossAt, places.length).set(places);
    if (part) new Uint16Array(this.memory.buffer, partAt, width).set(part);
    const source = new Uint16Array(this.memory.buffer, rowAt, pixels);
    const held = [-1, -1];
    const expanded = (y: number): number => {
      const slot = (y & 1) === 0 ? evenAt : oddAt;
      if (held[y & 1] === y) return slot;
      held[y & 1] = y;
      args.rowOf(y, source);
      if (part) this.kernels.expandRow(rowAt, acrossAt, partAt, width, slot);
      else this.kernels.repeatRow(rowAt, acrossAt, pixels, slot);
      return slot;
    };
    const longest = tile.wrap & ~15;
    const positions = new RowPositions(tile, args.firstRow);
    for (let row = 0; row < rows; row++) {
      const y = args.firstRow + row;
      const begin = positions.next(y);
      const between = down.part ? down.part[y]! : 0;
      const above = expanded(down.from[y]!);
      const below = between > 0 ? expanded(down.from[y]! + 1) : above;
      for (let x = 0; x < width; x += longest) {
        this.kernels.screenTones(
          above + x * 2,
          below + x * 2,
          between,
          TILE_AT + (x === 0 ? begin : tilePosition(tile, x, y)) * 2,
          Math.min(longest, width - x),
          outAt + (row * width + x) / 8,
        );
      }
    }
    out.set(this.bytes(outAt, out.length));
  };

  screenBytes = (args: ByteStripArguments): void => {
    const { across, down, rows, tile, thresholds, out, pixels } = args;
    this.loadThresholds(thresholds);
    const width = across.from.length;
    const [rowAt, startsAt, bytesAt, outAt] = this.place(
      pixels,
      (pixels + 1) * 4,
      width + 32,
      out.length + 2,
    ) as [number, number, number, number];
    new Int32Array(this.memory.buffer, startsAt, pixels + 1).set(startsOf(across.from, pixels));
    const source = this.bytes(rowAt, pixels);
    const longest = tile.wrap & ~15;
    let held = -1;
    const positions = new RowPositions(tile, args.firstRow);
    for (let row = 0; row < rows; row++) {
      const y = args.firstRow + row;
      if (held !== down.from[y]!) {
        held = down.from[y]!;
        source.set(args.rowOf(held));
        this.kernels.repeatBytes(rowAt, startsAt, pixels, bytesAt);
      }
      const begin = positions.next(y);
      for (let x = 0; x < width; x += longest) {
        this.kernels.screenByteRow(
          bytesAt + x,
          TILE_AT + (x === 0 ? begin : tilePosition(tile, x, y)),
          Math.min(longest, width - x),
          outAt + (row * width + x) / 8,
        );
      }
    }
    out.set(this.bytes(outAt, out.length));
  };

  private loadTile(tile: ThresholdTile): void {
    this.loadThresholds(tile.thresholds);
  }

  /** Puts thresholds where they stay until others take their place. */
  private loadThresholds(thresholds: Uint8Array | Uint16Array): void {
    if (this.loaded === thresholds) return;
    this.tileBytes = 0;
    // Sixteen are read together, also where eight are left.
    const length = thresholds.byteLength + 16;
    this.place(length);
    this.tileBytes = length;
    this.bytes(TILE_AT, thresholds.byteLength).set(
      new Uint8Array(thresholds.buffer, thresholds.byteOffset, thresholds.byteLength),
    );
    this.loaded = thresholds;
  }

  createG4Encoder = (width: number): G4Encoder => {
    const rowBytes = (width + 7) >> 3;
    const state = new Uint8Array(16);
    let reference: Uint8Array = new Uint8Array(rowBytes);
    return {
      encode: (bits, rows) => {
        // At worst a pixel takes 12 bits (a black run of one, coded horizontally, and its white one).
        const [rowsAt, listsAt, stateAt, outAt] = this.place(
          (rows + 1) * rowBytes + 16,
          (width + 10) * 8,
          16,
          rows * (width * 2 + 64),
        ) as [number, number, number, number];
        this.bytes(rowsAt, rowBytes).set(reference);
        this.bytes(rowsAt + rowBytes, rows * rowBytes).set(bits.subarray(0, rows * rowBytes));
        this.bytes(stateAt, 16).set(state);
        const length = this.kernels.g4EncodeRows(
          rowsAt,
          rowBytes,
          rows,
          width,
          CODES_AT,
          listsAt,
          stateAt,
          outAt,
        );
        state.set(this.bytes(stateAt, 16));
        reference = this.bytes(rowsAt + rows * rowBytes, rowBytes).slice();
        return this.bytes(outAt, length).slice();
      },
      finish: () => {
        const [stateAt, outAt] = this.place(16, 64) as [number, number];
        this.bytes(stateAt, 16).set(state);
        return this.bytes(outAt, this.kernels.g4Finish(stateAt, outAt)).slice();
      },
    };
  };
}

/** Kernels from the compiled module; each thread makes its own. */
export function createWasmKernels(module: WebAssembly.Module): Kernels {
  return new WasmKernels(module);
}

/** Where rows that follow each other begin in a tile: in a tile of one row it follows from where the last one did. */
class RowPositions {
  private readonly tile: ThresholdTile;
  private begin: number;

  constructor(tile: ThresholdTile, firstRow: number) {
    this.tile = tile;
    this.begin = tilePosition(tile, 0, firstRow) - (tile.rows > 1 ? 0 : tile.shift);
  }

  next(y: number): number {
    const { tile } = this;
    if (tile.rows > 1) return tilePosition(tile, 0, y);
    this.begin += tile.shift;
    if (this.begin >= tile.length) this.begin -= tile.length;
    return this.begin;
  }
}

/** Where each pixel of a row begins on the device, and where the last one ends. */
function startsOf(from: Int32Array, pixels: number): Int32Array {
  const starts = new Int32Array(pixels + 1).fill(from.length);
  for (let x = from.length - 1; x >= 0; x--) starts[from[x]!] = x;
  // A pixel that no device pixel takes begins where the next one does.
  for (let k = pixels - 1; k >= 0; k--) starts[k] = Math.min(starts[k]!, starts[k + 1]!);
  return starts;
}
