import { type Expansion, expandRow } from '../raster';
import {
  type ByteStripArguments,
  type PlaneStripArguments,
  type ScreenArguments,
  tilePosition,
} from '../screening';
import type { KernelMemory } from './kernelMemory';
import type { Kernels } from './kernels';
import { type Picks, picksOf } from './picks';
import { RowPositions } from './rowPositions';
import { wasmScreenLayers } from './wasmLayers';

/** Screens on a compiled module. */
export function wasmScreens(
  memory: KernelMemory,
): Pick<Kernels, 'screenStrip' | 'screenPlane' | 'screenBytes' | 'screenLayers'> {
  const { kernels } = memory;
  const picksOfBytes = keepingLast((across) => picksOf(across, 16));
  const picksOfWords = keepingLast((across) => picksOf(across, 8));

  const screenStrip = (args: ScreenArguments): void => {
    const { shape, tone, width, rows, tile, out } = args;
    const taken = (tone && args.taken) ?? null;
    const [tileAt] = tone ? (memory.loadTiles([tile.thresholds]) as [number]) : [0];
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
        const thresholds = tone ? tileAt + tilePosition(tile, args.originX + x, y) * 2 : 0;
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
    const [tileAt] = memory.loadTiles([tile.thresholds]) as [number];
    const width = across.from.length;
    const times = Math.ceil(width / 8);
    const picks = picksOfWords(across);
    const [rowAt, basesAt, picksAt, partsAt, evenAt, oddAt, outAt] = memory.place(
      // Sixteen bytes are read from each place, also from the last one.
      pixels * 2 + 16,
      times * 4,
      times * 16,
      times * 16,
      // Sixteen pixels are looked at together, also where eight are left.
      width * 2 + 32,
      width * 2 + 32,
      out.length + 2,
    ) as [number, number, number, number, number, number, number];
    const { part } = across;
    if (picks) {
      new Int32Array(memory.buffer, basesAt, times).set(picks.bases);
      memory.bytes(picksAt, times * 16).set(picks.picks);
      if (part) new Uint16Array(memory.buffer, partsAt, width).set(part);
    }
    const source = new Uint16Array(memory.buffer, rowAt, pixels);
    const held = [-1, -1];
    const expanded = (y: number): number => {
      const slot = (y & 1) === 0 ? evenAt : oddAt;
      if (held[y & 1] === y) return slot;
      held[y & 1] = y;
      args.rowOf(y, source);
      if (!picks) expandRow(source, across, new Uint16Array(memory.buffer, slot, width));
      else if (part) kernels.blendWords(rowAt, basesAt, picksAt, partsAt, times, slot);
      else kernels.spreadWords(rowAt, basesAt, picksAt, times, slot);
      return slot;
    };
    const longest = tile.wrap & ~15;
    const positions = new RowPositions(tile, 0, args.firstRow);
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
          tileAt + (x === 0 ? begin : tilePosition(tile, x, y)) * 2,
          Math.min(longest, width - x),
          outAt + (row * width + x) / 8,
        );
      }
    }
    out.set(memory.bytes(outAt, out.length));
  };

  const screenBytes = (args: ByteStripArguments): void => {
    const { across, down, rows, tile, thresholds, out, pixels } = args;
    const [tileAt] = memory.loadTiles([thresholds]) as [number];
    const width = across.from.length;
    const times = Math.ceil(width / 16);
    const picks = picksOfBytes(across);
    const [rowAt, basesAt, picksAt, bytesAt, outAt] = memory.place(
      pixels + 16,
      times * 4,
      times * 16,
      times * 16,
      out.length + 2,
    ) as [number, number, number, number, number];
    if (picks) {
      new Int32Array(memory.buffer, basesAt, times).set(picks.bases);
      memory.bytes(picksAt, times * 16).set(picks.picks);
    }
    const source = memory.bytes(rowAt, pixels);
    const longest = tile.wrap & ~15;
    let held = -1;
    const positions = new RowPositions(tile, 0, args.firstRow);
    for (let row = 0; row < rows; row++) {
      const y = args.firstRow + row;
      if (held !== down.from[y]!) {
        held = down.from[y]!;
        source.set(args.rowOf(held));
        if (picks) kernels.spreadBytes(rowAt, basesAt, picksAt, times, bytesAt);
        else expandRow(source, across, memory.bytes(bytesAt, width));
      }
      const begin = positions.next(y);
      for (let x = 0; x < width; x += longest) {
        kernels.screenByteRow(
          bytesAt + x,
          tileAt + (x === 0 ? begin : tilePosition(tile, x, y)),
          Math.min(longest, width - x),
          outAt + (row * width + x) / 8,
        );
      }
    }
    out.set(memory.bytes(outAt, out.length));
  };

  return { screenStrip, screenPlane, screenBytes, screenLayers: wasmScreenLayers(memory) };
}

/** Strips of one plane ask for the same thing one after another. */
function keepingLast(make: (across: Expansion) => Picks | null): typeof make {
  let last: { readonly across: Expansion; readonly picks: Picks | null } | null = null;
  return (across) => {
    if (last?.across !== across) last = { across, picks: make(across) };
    return last.picks;
  };
}
