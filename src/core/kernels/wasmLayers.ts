import {
  type LaidTone,
  type LayerArguments,
  type ToneLayer,
  NONE,
  deviceWeights,
  laidTone,
  pasteBits,
  tilePosition,
} from '../screening';
import { expandRow } from '../raster';
import type { KernelMemory } from './kernelMemory';
import { type Picks, picksOf } from './picks';
import { RowPositions } from './rowPositions';

const TABLE_WORDS = 65536;

/** `screenLayers` on a compiled module. */
export function wasmScreenLayers(memory: KernelMemory): (args: LayerArguments) => LaidTone[] {
  return (args) => {
    const { layers } = args;
    const tiles = memory.loadTiles(layers.map(({ tile }) => tile.thresholds));
    const laid = new Map<ToneLayer, LaidTone>();
    for (const together of stacksOf(layers)) {
      const stack = new LayerStack(
        memory,
        args,
        together,
        together.map((layer) => tiles[layers.indexOf(layer)]!),
      );
      stack.screen().forEach((each, k) => laid.set(together[k]!, each));
    }
    return layers.map((layer) => laid.get(layer)!);
  };
}

/** Layers that divide their cells, and each of the others by itself. */
function stacksOf(layers: readonly ToneLayer[]): ToneLayer[][] {
  const byGroup = new Map<number, ToneLayer[]>();
  const all: ToneLayer[][] = [];
  for (const layer of layers) {
    const known = layer.stack && byGroup.get(layer.stack.group);
    if (known) {
      known.push(layer);
      continue;
    }
    const own = [layer];
    all.push(own);
    if (layer.stack) byGroup.set(layer.stack.group, own);
  }
  return all;
}

/** One layer of a stack on its way down the region. */
interface Walk {
  readonly layer: ToneLayer;
  readonly positions: RowPositions;
  readonly tile: number;
  /** Its film tones; 0 for a layer by itself. */
  readonly table: number;
  /** The two rows of artwork at hand, spread across. */
  readonly even: number;
  readonly odd: number;
  readonly out: number;
  readonly down: Int32Array;
  readonly held: [number, number];
  readonly blank: [boolean, boolean];
  sum: number;
  found: number;
}

/** Layers that go down a region together, row by row, so that what is taken of the cells is a row that stays in the processor's cache. */
class LayerStack {
  private readonly memory: KernelMemory;
  private readonly args: LayerArguments;
  private readonly width: number;
  private readonly rows: number;
  private readonly picks: Picks | null;
  private readonly source: number;
  private readonly bases: number;
  private readonly picksAt: number;
  private readonly parts: number;
  private readonly weights: number;
  private readonly found: number;
  private readonly taken: number;
  private readonly walks: readonly Walk[];

  constructor(
    memory: KernelMemory,
    args: LayerArguments,
    layers: readonly ToneLayer[],
    tiles: readonly number[],
  ) {
    const { pixels, across, down, stride } = args;
    const width = across.from.length;
    const rows = down.from.length;
    const times = Math.ceil(width / 8);
    const picks = picksOf(across, 8);
    const tables = [...new Set(layers.flatMap(({ stack }) => (stack ? [stack.onFilm] : [])))];
    const [source, bases, picksAt, parts, weights, found, taken, ...places] = memory.place(
      // Sixteen bytes are read from each place, also from the last one.
      pixels * 2 + 16,
      times * 4,
      times * 16,
      times * 16,
      // Eight pixels are weighed together, also where fewer are left.
      (pixels + 8) * 4,
      1,
      width * 2 + 32,
      ...tables.map(() => TABLE_WORDS * 2),
      // Sixteen pixels are looked at together, also where eight are left.
      ...layers.flatMap(() => [width * 2 + 32, width * 2 + 32, (width * rows) / 8 + 2]),
    ) as [number, number, number, number, number, number, number, ...number[]];
    this.memory = memory;
    this.args = args;
    this.width = width;
    this.rows = rows;
    this.picks = picks;
    this.source = source;
    this.bases = bases;
    this.picksAt = picksAt;
    this.parts = parts;
    this.weights = weights;
    this.found = found;
    this.taken = taken;
    if (picks) {
      new Int32Array(memory.buffer, bases, times).set(picks.bases);
      memory.bytes(picksAt, times * 16).set(picks.picks);
      if (across.part) new Uint16Array(memory.buffer, parts, width).set(across.part);
    }
    const perColumn = new Int32Array(memory.buffer, weights, pixels + 8);
    perColumn.set(deviceWeights(across, pixels));
    perColumn.fill(0, pixels);
    tables.forEach((table, k) => new Uint16Array(memory.buffer, places[k]!, TABLE_WORDS).set(table));
    this.walks = layers.map((layer, k) => {
      const at = tables.length + 3 * k;
      return {
        layer,
        positions: new RowPositions(layer.tile, layer.originX, layer.originY),
        tile: tiles[k]!,
        table: layer.stack ? places[tables.indexOf(layer.stack.onFilm)]! : 0,
        even: places[at]!,
        odd: places[at + 1]!,
        out: places[at + 2]!,
        down: deviceWeights(down, layer.tones.length / stride),
        held: [-1, -1],
        blank: [false, false],
        sum: 0,
        found: 0,
      };
    });
  }

  screen(): LaidTone[] {
    const { memory, width, rows, walks, taken } = this;
    for (let row = 0; row < rows; row++) {
      if (walks[0]!.table !== 0) memory.bytes(taken, width * 2).fill(0);
      for (const walk of walks) this.screenRow(walk, row);
    }
    return walks.map(({ layer, out, sum, found }) => {
      if (layer.out) pasteBits(memory.bytes(out, (width * rows) / 8), width / 8, layer.out);
      return laidTone(sum, found, this.args);
    });
  }

  private screenRow(walk: Walk, row: number): void {
    const { memory, width, taken } = this;
    const { kernels } = memory;
    const { down } = this.args;
    const { tile, originX, originY } = walk.layer;
    const y = originY + row;
    const begin = walk.positions.next(y);
    const from = down.from[row]!;
    const part = down.part ? down.part[row]! : 0;
    const next = part > 0 ? from + 1 : from;
    const to = walk.out + (row * width) / 8;
    const isBlank = this.expand(walk, from);
    if (this.expand(walk, next) && isBlank) {
      memory.bytes(to, width / 8).fill(0);
      return;
    }
    const longest = tile.wrap & ~15;
    const above = (from & 1) === 0 ? walk.even : walk.odd;
    const below = (next & 1) === 0 ? walk.even : walk.odd;
    for (let x = 0; x < width; x += longest) {
      const thresholds = walk.tile + (x === 0 ? begin : tilePosition(tile, originX + x, y)) * 2;
      const count = Math.min(longest, width - x);
      const [a, b, bits] = [above + x * 2, below + x * 2, to + x / 8];
      if (walk.table === 0) kernels.screenTones(a, b, part, thresholds, count, bits);
      else kernels.stackTones(a, b, part, walk.table, taken + x * 2, thresholds, count, bits);
    }
  }

  /** Has a row of the artwork spread across. Returns whether it has no tone at all. */
  private expand(walk: Walk, y: number): boolean {
    const slot = y & 1;
    if (walk.held[slot] === y) return walk.blank[slot]!;
    walk.held[slot] = y;
    const { memory, source, width, picks } = this;
    const { kernels } = memory;
    const { stride, left, pixels, across } = this.args;
    const start = y * stride + left;
    const row = new Uint16Array(memory.buffer, source, pixels);
    row.set(walk.layer.tones.subarray(start, start + pixels));
    // Rows follow each other, so that each comes here once.
    walk.sum += walk.down[y]! * kernels.weighRow(source, this.weights, pixels, this.found);
    const found = memory.bytes(this.found, 1)[0]!;
    walk.found |= found;
    walk.blank[slot] = found === NONE;
    const to = slot === 0 ? walk.even : walk.odd;
    if (found === NONE) memory.bytes(to, width * 2).fill(0);
    else if (!picks) expandRow(row, across, new Uint16Array(memory.buffer, to, width));
    else if (across.part) {
      kernels.blendWords(source, this.bases, this.picksAt, this.parts, picks.bases.length, to);
    } else kernels.spreadWords(source, this.bases, this.picksAt, picks.bases.length, to);
    return walk.blank[slot]!;
  }
}
