import { NestRows, type PrintArguments, type RasterKernels, besideIn, groupsOf, nestsIn } from '../raster';
import type { KernelMemory } from './kernelMemory';
import { wasmNames } from './wasmNames';
import { wasmLayTones, wasmTonePlanes } from './wasmTones';

type FivePlaces = [number, number, number, number, number];

/** Two lines of four numbers for each pixel of a row at most. */
const LINES_BYTES = 64;

/** Rows of the planes that are printed at a time. */
const PRINT_ROWS = 96;

/** Masks and prints on a compiled module. */
export function wasmRaster(memory: KernelMemory): RasterKernels {
  const { kernels } = memory;

  /**
   * Marks what lies near lines.
   *
   * @param sizes of two blocks that the lines come from, in bytes.
   * @param count given where those and the counters lie; counts what is near the lines.
   */
  const markNear = (
    sizes: readonly [number, number],
    width: number,
    height: number,
    out: Uint8Array,
    count: (from: number, lineAt: number, runsAt: number) => void,
  ): void => {
    const counters = (width + 1) * height * 4;
    const places = memory.place(...sizes, counters, width * height) as [number, number, number, number];
    const [from, lineAt, runsAt, outAt] = places;
    memory.bytes(runsAt, counters).fill(0);
    count(from, lineAt, runsAt);
    kernels.markCounted(runsAt, width, height, outAt);
    out.set(memory.bytes(outAt, width * height));
  };

  const markNearBoundary: RasterKernels['markNearBoundary'] = (mask, width, height, radiusPx, out) => {
    if (!(radiusPx > 0)) return void out.fill(0);
    markNear([mask.length, width * LINES_BYTES], width, height, out, (maskAt, lineAt, runsAt) => {
      memory.bytes(maskAt, mask.length).set(mask);
      for (let y = 0; y + 1 < height; y++) {
        const lines = kernels.boundaryLines(maskAt, width, height, y, lineAt);
        if (lines > 0) kernels.countNearLines(lineAt, lines, width, height, radiusPx, runsAt);
      }
    });
  };

  const boundaryLines = (mask: Uint8Array, width: number, height: number): Float64Array => {
    const count = width * height;
    const [maskAt, lineAt] = memory.place(count, width * LINES_BYTES) as [number, number];
    memory.bytes(maskAt, count).set(mask);
    let lines = new Float64Array(4 * 1024);
    let used = 0;
    for (let y = 0; y + 1 < height; y++) {
      const found = 4 * kernels.boundaryLines(maskAt, width, height, y, lineAt);
      if (found === 0) continue;
      if (used + found > lines.length) {
        const more = new Float64Array(2 * (used + found));
        more.set(lines);
        lines = more;
      }
      lines.set(new Float64Array(memory.buffer, lineAt, found), used);
      used += found;
    }
    return lines.slice(0, used);
  };

  const markNearLines: RasterKernels['markNearLines'] = (lines, width, height, radiusPx, out) => {
    if (!(radiusPx > 0)) return void out.fill(0);
    markNear([0, lines.byteLength], width, height, out, (_, lineAt, runsAt) => {
      new Float64Array(memory.buffer, lineAt, lines.length).set(lines);
      kernels.countNearLines(lineAt, lines.length / 4, width, height, radiusPx, runsAt);
    });
  };

  const stampDiscs = (discs: Float64Array, width: number, height: number, out: Uint8Array): void => {
    const count = width * height;
    const [discsAt, outAt] = memory.place(discs.byteLength, count) as [number, number];
    new Float64Array(memory.buffer, discsAt, discs.length).set(discs);
    memory.bytes(outAt, count).set(out);
    kernels.stampDiscs(discsAt, Math.floor(discs.length / 3), width, height, outAt);
    out.set(memory.bytes(outAt, count));
  };

  const nearestSet = (
    set: Uint8Array,
    width: number,
    height: number,
    reach: number,
    out: Int32Array,
  ): void => {
    const count = width * height;
    const [setAt, rowsAt, downAt, outAt] = memory.place(count, count * 2, width * 2, count * 4) as [
      number,
      number,
      number,
      number,
    ];
    memory.bytes(setAt, count).set(set);
    kernels.nearestSet(setAt, width, height, reach, rowsAt, downAt, outAt);
    out.set(new Int32Array(memory.buffer, outAt, count));
  };

  const nearestPairs = (set: Uint8Array, width: number, height: number, reach: number): Int32Array => {
    const count = width * height;
    const [setAt, rowsAt, downAt, nearestAt, pairsAt] = memory.place(
      count,
      count * 2,
      width * 2,
      count * 4,
      // Two for each pixel of a row.
      width * 32,
    ) as [number, number, number, number, number];
    memory.bytes(setAt, count).set(set);
    kernels.nearestSet(setAt, width, height, reach, rowsAt, downAt, nearestAt);
    const beside = besideIn(width, reach);
    let pairs = new Int32Array(4 * 1024);
    let used = 0;
    for (let y = 0; y < height; y++) {
      const first = y * width;
      const isLast = y + 1 === height ? 1 : 0;
      const found = 4 * kernels.nearestPairs(nearestAt + first * 4, first, width, isLast, beside, pairsAt);
      if (found === 0) continue;
      if (used + found > pairs.length) {
        const more = new Int32Array(2 * (used + found));
        more.set(pairs);
        pairs = more;
      }
      pairs.set(new Int32Array(memory.buffer, pairsAt, found), used);
      used += found;
    }
    return pairs.subarray(0, used);
  };

  const printView = (args: PrintArguments): void => {
    const { layers, width, height, ground, across, down, codes, out } = args;
    const groups = groupsOf(layers);
    const nestMembers = nestsIn(layers).flat();
    const nestWidth = nestMembers.length > 0 ? width : 0;
    // A part of the rows at a time: all planes of a view would take tens of megabytes, which this memory never gives back.
    const most = Math.min(height, Math.max(PRINT_ROWS, down.taps));
    const count = width * most;
    const [
      inksAt,
      rowAt,
      sumAt,
      acrossAt,
      weightsAt,
      codesAt,
      lineAt,
      totalAt,
      partsAt,
      masksAt,
      ...layersAt
    ] = memory.place(
      // The ground, then the two parts of each ink. Numbers that are no integers cost an object each when they are handed to the kernels.
      (layers.length * 2 + 1) * 16,
      width * 16,
      width * 16,
      across.from.byteLength,
      across.weights.byteLength,
      codes.length,
      across.count * 4,
      nestWidth * 16,
      nestWidth * 4,
      nestWidth * nestMembers.length,
      ...layers.flatMap(({ tone }) => [count, tone ? count * 2 : 0]),
      ...groups.flatMap(() => [width * 16, width * 16, width * 4, width * 4, width * 4]),
    ) as [number, number, number, number, number, number, number, number, number, number, ...number[]];
    const groupRows = layersAt.splice(2 * layers.length);
    const groupsAt = groups.map((_, g) => {
      const [backing, based, floor, used, usedOn] = groupRows.slice(5 * g, 5 * g + 5) as FivePlaces;
      return { backing, based, floor, used, usedOn };
    });
    new Int32Array(memory.buffer, acrossAt, across.count).set(across.from);
    new Float32Array(memory.buffer, weightsAt, across.weights.length).set(across.weights);
    memory.bytes(codesAt, codes.length).set(codes);
    const inks = new Float32Array(memory.buffer, inksAt, (layers.length * 2 + 1) * 4);
    inks.set(ground);
    layers.forEach(({ colour, opacity }, k) => {
      colour.forEach((part, channel) => {
        inks[4 + k * 8 + channel] = opacity * part;
        inks[8 + k * 8 + channel] = (1 - opacity) * part;
      });
    });
    let [top, bottom] = [0, 0];
    /** By layer: where its mask of one row lies where its dots lie in others'; 0 elsewhere. */
    const maskAt = layers.map((_, k) => {
      const n = nestMembers.indexOf(k);
      return n < 0 ? 0 : masksAt + n * width;
    });
    const nested =
      nestWidth > 0
        ? new NestRows(layers, width, {
            masks: maskAt.map((at) => memory.bytes(at, width)),
            weights: new Float32Array(memory.buffer, partsAt, width),
          })
        : null;
    const printRow = (line: number): void => {
      kernels.groundRow(rowAt, width, inksAt);
      for (let k = 0; k < layers.length; k++) {
        const layer = layers[k]!;
        const ink = inksAt + 16 + k * 32;
        const shapeAt = maskAt[k]! > 0 ? maskAt[k]! : layersAt[2 * k]! + (line - top) * width;
        const toneAt = layer.tone && maskAt[k] === 0 ? layersAt[2 * k + 1]! + (line - top) * width * 2 : 0;
        let own = -1;
        for (let g = 0; g < groups.length; g++) {
          const each = groups[g]!;
          if (each.group === layer.group) own = g;
          else if (k > each.first && k < each.last) {
            const { backing, based } = groupsAt[g]!;
            kernels.printLayer(backing, width, shapeAt, toneAt, ink);
            if (each.hasBase) kernels.printLayer(based, width, shapeAt, toneAt, ink);
          }
        }
        if (own < 0) {
          kernels.printLayer(rowAt, width, shapeAt, toneAt, ink);
          continue;
        }
        const { backing, based, floor, used, usedOn } = groupsAt[own]!;
        const { first, hasBase } = groups[own]!;
        if (k === first) {
          memory.bytes(backing, width * 16).set(memory.bytes(rowAt, width * 16));
          for (const row of [floor, used, usedOn]) memory.bytes(row, width * 4).fill(0);
        }
        if (k === first && hasBase) {
          memory.bytes(based, width * 16).set(memory.bytes(rowAt, width * 16));
          kernels.printBase(rowAt, based, floor, width, shapeAt, toneAt, ink);
        } else {
          const on = hasBase && layer.place !== 'off' ? based : 0;
          kernels.printBeside(rowAt, backing, used, on, floor, usedOn, width, shapeAt, toneAt, ink);
        }
      }
    };
    const sums = memory.bytes(sumAt, width * 16);
    const line = memory.bytes(lineAt, across.count * 4);
    let printed = -1;
    for (let y = 0; y < down.count; y++) {
      if (down.from[y]! < top || down.from[y]! + down.taps > bottom) {
        top = down.from[y]!;
        bottom = Math.min(height, top + most);
        printed = -1;
        layers.forEach(({ shape, tone }, k) => {
          const part = (bottom - top) * width;
          memory.bytes(layersAt[2 * k]!, part).set(shape.subarray(top * width, bottom * width));
          if (!tone) return;
          const words = new Uint16Array(memory.buffer, layersAt[2 * k + 1]!, part);
          words.set(tone.subarray(top * width, bottom * width));
        });
      }
      sums.fill(0);
      for (let t = 0; t < down.taps; t++) {
        const weight = down.weights[y * down.taps + t]!;
        if (weight === 0) continue;
        if (printed !== down.from[y]! + t) {
          printed = down.from[y]! + t;
          if (nested) {
            const total = memory.bytes(totalAt, width * 16).fill(0);
            nested.forEachPart(printed, () => {
              printRow(printed);
              kernels.addPart(totalAt, rowAt, partsAt, width);
            });
            memory.bytes(rowAt, width * 16).set(total);
          } else printRow(printed);
        }
        kernels.addRow(sumAt, rowAt, width, weight);
      }
      kernels.encodeRow(
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

  return {
    markNearBoundary,
    boundaryLines,
    markNearLines,
    stampDiscs,
    nearestSet,
    nearestPairs,
    printView,
    layTones: wasmLayTones(memory),
    tonePlanes: wasmTonePlanes(memory),
    ...wasmNames(memory),
  };
}
