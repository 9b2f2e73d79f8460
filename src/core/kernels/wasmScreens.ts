import {
  type ByteStripArguments,
  type PlaneStripArguments,
  type ScreenArguments,
  type ThresholdTile,
  tilePosition,
} from '../screening';
import { type KernelMemory, TILE_AT } from './kernelMemory';
import type { Kernels } from './kernels';

/** Screens on a compiled module. */
export function wasmScreens(
  memory: KernelMemory,
): Pick<Kernels, 'screenStrip' | 'screenPlane' | 'screenBytes'> {
  const { kernels } = memory;
  const startsOf = keepingLast(startsOfPixels);

  const screenStrip = (args: ScreenArguments): void => {
    const { shape, tone, width, rows, tile, out } = args;
    const taken = (tone && args.taken) ?? null;
    if (tone) memory.loadThresholds(tile.thresholds);
    const count = width * rows;
    const [shapeAt, toneAt, takenAt, outAt] = memory.place(
      count,
      tone ? count * 2 : 0,
      taken ? count * 2 : 0,
      count / 8,
    ) as [number, number, number, number];
    memory.bytes(shapeAt, count).set(shape);
    if (tone) new Uint16Array(memory.buffer, toneAt, count).set(tone);
    if (taken) new Uint16Array(memory.buffer, takenAt, count).set(taken);
    const longest = tile.wrap & ~7;
    for (let row = 0; row < rows; row++) {
      const y = args.originY + row;
      for (let x = 0; x < width; x += longest) {
        const at = row * width + x;
        const thresholds = tone ? TILE_AT + tilePosition(tile, args.originX + x, y) * 2 : 0;
        const pixels = Math.min(longest, width - x);
        const to = outAt + at / 8;
        if (taken) {
          kernels.screenStack(shapeAt + at, toneAt + at * 2, takenAt + at * 2, thresholds, pixels, to);
        } else kernels.screenStrip(shapeAt + at, tone ? toneAt + at * 2 : 0, thresholds, pixels, to);
      }
    }
    out.set(memory.bytes(outAt, count / 8));
    taken?.set(new Uint16Array(memory.buffer, takenAt, count));
  };

  const screenPlane = (args: PlaneStripArguments): void => {
    const { across, down, rows, tile, out, pixels } = args;
    memory.loadThresholds(tile.thresholds);
    const width = across.from.length;
    const [rowAt, acrossAt, partAt, evenAt, oddAt, outAt] = memory.place(
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
    new Int32Array(memory.buffer, acrossAt, places.length).set(places);
    if (part) new Uint16Array(memory.buffer, partAt, width).set(part);
    const source = new Uint16Array(memory.buffer, rowAt, pixels);
    const held = [-1, -1];
    const expanded = (y: number): number => {
      const slot = (y & 1) === 0 ? evenAt : oddAt;
      if (held[y & 1] === y) return slot;
      held[y & 1] = y;
      args.rowOf(y, source);
      if (part) kernels.expandRow(rowAt, acrossAt, partAt, width, slot);
      else kernels.repeatRow(rowAt, acrossAt, pixels, slot);
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
        kernels.screenTones(
          above + x * 2,
          below + x * 2,
          between,
          TILE_AT + (x === 0 ? begin : tilePosition(tile, x, y)) * 2,
          Math.min(longest, width - x),
          outAt + (row * width + x) / 8,
        );
      }
    }
    out.set(memory.bytes(outAt, out.length));
  };

  const screenBytes = (args: ByteStripArguments): void => {
    const { across, down, rows, tile, thresholds, out, pixels } = args;
    memory.loadThresholds(thresholds);
    const width = across.from.length;
    const [rowAt, startsAt, bytesAt, outAt] = memory.place(
      pixels,
      (pixels + 1) * 4,
      width + 32,
      out.length + 2,
    ) as [number, number, number, number];
    new Int32Array(memory.buffer, startsAt, pixels + 1).set(startsOf(across.from, pixels));
    const source = memory.bytes(rowAt, pixels);
    const longest = tile.wrap & ~15;
    let held = -1;
    const positions = new RowPositions(tile, args.firstRow);
    for (let row = 0; row < rows; row++) {
      const y = args.firstRow + row;
      if (held !== down.from[y]!) {
        held = down.from[y]!;
        source.set(args.rowOf(held));
        kernels.repeatBytes(rowAt, startsAt, pixels, bytesAt);
      }
      const begin = positions.next(y);
      for (let x = 0; x < width; x += longest) {
        kernels.screenByteRow(
          bytesAt + x,
          TILE_AT + (x === 0 ? begin : tilePosition(tile, x, y)),
          Math.min(longest, width - x),
          outAt + (row * width + x) / 8,
        );
      }
    }
    out.set(memory.bytes(outAt, out.length));
  };

  return { screenStrip, screenPlane, screenBytes };
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
function startsOfPixels(from: Int32Array, pixels: number): Int32Array {
  const starts = new Int32Array(pixels + 1).fill(from.length);
  for (let x = from.length - 1; x >= 0; x--) starts[from[x]!] = x;
  // A pixel that no device pixel takes begins where the next one does.
  for (let k = pixels - 1; k >= 0; k--) starts[k] = Math.min(starts[k]!, starts[k + 1]!);
  return starts;
}

/** Strips of one plane ask for the same thing one after another. */
function keepingLast(make: typeof startsOfPixels): typeof startsOfPixels {
  let last: { from: Int32Array; pixels: number; starts: Int32Array } | null = null;
  return (from, pixels) => {
    if (last?.from !== from || last.pixels !== pixels) last = { from, pixels, starts: make(from, pixels) };
    return last.starts;
  };
}
