import {
  type FieldMapping,
  type LaidTone,
  NONE,
  type ScreenLayer,
  type ScreenRegion,
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
/** Sixteen pixels are looked at together, also where fewer are left. */
const WORD_SLACK = 32;

/** `screenLayers` on a compiled module. */
export function wasmScreenLayers(memory: KernelMemory): (region: ScreenRegion) => (LaidTone | null)[] {
  return (region) => {
    const { layers } = region;
    const tiles = memory.loadTiles(layers.map(({ tile }) => tile.thresholds));
    const laid = new Map<ScreenLayer, LaidTone>();
    for (const together of stacksOf(layers)) {
      const places = together.map((layer) => tiles[layers.indexOf(layer)]!);
      new LayerStack(memory, region, together, places).screen(laid);
    }
    return layers.map((layer) => laid.get(layer) ?? null);
  };
}

/** Layers that divide their cells, and each of the others by itself. */
function stacksOf(layers: readonly ScreenLayer[]): ScreenLayer[][] {
  const byGroup = new Map<number, ScreenLayer[]>();
  const all: ScreenLayer[][] = [];
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

/** Bytes that a layer needs: of a plane its shape and its tone, of a field two rows of words. */
function roomOf({ tone }: ScreenLayer, width: number, rows: number): readonly [number, number] {
  const row = width * 2 + WORD_SLACK;
  if (tone.kind === 'field') return [row, row];
  return [width * rows, tone.kind === 'plane' ? width * rows * 2 : 0];
}

/** One layer of a stack on its way down the region, row by row. */
interface Walk {
  readonly layer: ScreenLayer;
  /** Where the layer's bits of all rows stand. */
  readonly out: number;
  /** Screens a row. @param begin where it begins in the thresholds of its tile; @param to where its bits go. */
  screenRow(row: number, begin: number, to: number): void;
  /** Null for a plane. */
  laid(): LaidTone | null;
}

/** Layers that go down a region together, row by row, so that what is taken of the cells is a row that stays in the processor's cache. */
class LayerStack {
  private readonly memory: KernelMemory;
  private readonly width: number;
  private readonly rows: number;
  private readonly taken: number;
  private readonly walks: readonly Walk[];

  constructor(
    memory: KernelMemory,
    region: ScreenRegion,
    layers: readonly ScreenLayer[],
    tiles: readonly number[],
  ) {
    const { width, rows } = region;
    const isField = ({ tone }: ScreenLayer) => tone.kind === 'field';
    const tables = [...new Set(layers.flatMap(({ stack }) => (stack?.onFilm ? [stack.onFilm] : [])))];
    const spread = region.field && layers.some(isField) ? FieldSpread.sizes(region.field, width) : [];
    const [taken, ...places] = memory.place(
      width * 2 + WORD_SLACK,
      ...tables.map(() => TABLE_WORDS * 2),
      ...spread,
      ...layers.flatMap((layer) => [...roomOf(layer, width, rows), (width * rows) / 8 + 2]),
    ) as [number, ...number[]];
    this.memory = memory;
    this.width = width;
    this.rows = rows;
    this.taken = taken;
    tables.forEach((table, k) => new Uint16Array(memory.buffer, places[k]!, TABLE_WORDS).set(table));
    const behind = tables.length + spread.length;
    const field =
      spread.length > 0
        ? new FieldSpread(memory, region.field!, width, places.slice(tables.length, behind))
        : null;
    this.walks = layers.map((layer, k): Walk => {
      const [one, other, out] = places.slice(behind + 3 * k) as [number, number, number];
      const { stack } = layer;
      const parts: WalkParts = {
        memory,
        layer,
        width,
        tile: tiles[k]!,
        out,
        taken: stack ? taken : 0,
        table: stack?.onFilm ? places[tables.indexOf(stack.onFilm)]! : 0,
        room: [one, other],
      };
      return isField(layer) ? new FieldWalk(parts, field!) : new PlaneWalk(parts);
    });
  }

  screen(laid: Map<ScreenLayer, LaidTone>): void {
    const { memory, width, rows, walks, taken } = this;
    const divided = walks[0]!.layer.stack !== null;
    const begins = walks.map(({ layer }) => new RowPositions(layer.tile, layer.originX, layer.originY));
    for (let row = 0; row < rows; row++) {
      if (divided) memory.bytes(taken, width * 2).fill(0);
      for (let k = 0; k < walks.length; k++) {
        const walk = walks[k]!;
        walk.screenRow(row, begins[k]!.next(walk.layer.originY + row), walk.out + (row * width) / 8);
      }
    }
    for (const walk of walks) {
      const { layer, out } = walk;
      if (layer.out) pasteBits(memory.bytes(out, (width * rows) / 8), width / 8, layer.out);
      const weighed = walk.laid();
      if (weighed) laid.set(layer, weighed);
    }
  }
}

interface WalkParts {
  readonly memory: KernelMemory;
  readonly layer: ScreenLayer;
  readonly width: number;
  /** Where the thresholds stand. */
  readonly tile: number;
  readonly out: number;
  /** What is taken of the row's cells; 0 for a layer by itself. */
  readonly taken: number;
  /** Film tones of the values; 0 where they stand for themselves. */
  readonly table: number;
  /** Where what `roomOf` says stands. */
  readonly room: readonly [number, number];
}

/** A layer whose shape and tone stand at the device's pixels. */
class PlaneWalk implements Walk {
  readonly layer: ScreenLayer;
  readonly out: number;
  private readonly parts: WalkParts;

  constructor(parts: WalkParts) {
    const { memory, layer, room, out } = parts;
    const { shape, tone } = layer;
    const [shapeAt, toneAt] = room;
    this.parts = parts;
    this.layer = layer;
    this.out = out;
    memory.bytes(shapeAt, shape!.length).set(shape!);
    if (tone.kind === 'plane') new Uint16Array(memory.buffer, toneAt, tone.values.length).set(tone.values);
  }

  screenRow(row: number, begin: number, to: number): void {
    const { memory, layer, width, taken, room, tile: tileAt } = this.parts;
    const { kernels } = memory;
    const { tone, tile, originX, originY } = layer;
    const from = row * width;
    const [shapeAt, toneAt] = [room[0] + from, room[1] + from * 2];
    // What is solid takes the whole cell, and all of it is left to those that come after.
    if (tone.kind === 'solid') {
      kernels.screenStrip(shapeAt, 0, 0, width, to);
      return;
    }
    const longest = tile.wrap & -8;
    for (let x = 0; x < width; x += longest) {
      const position = x === 0 ? begin : tilePosition(tile, originX + x, originY + row);
      const thresholds = tileAt + position * 2;
      const count = Math.min(longest, width - x);
      const [own, words, bits] = [shapeAt + x, toneAt + x * 2, to + x / 8];
      if (taken !== 0) kernels.screenStack(own, words, taken + x * 2, thresholds, count, bits);
      else kernels.screenStrip(own, words, thresholds, count, bits);
    }
  }

  laid(): null {
    return null;
  }
}

/** How a row of the artwork is spread across the region: the same for all layers that are fields. */
class FieldSpread {
  readonly field: FieldMapping;
  readonly width: number;
  readonly weights: number;
  readonly found: number;
  private readonly memory: KernelMemory;
  private readonly picks: Picks | null;
  private readonly source: number;
  private readonly bases: number;
  private readonly picksAt: number;
  private readonly parts: number;

  /** Bytes of the blocks of memory that it needs. */
  static sizes({ pixels }: FieldMapping, width: number): number[] {
    const times = Math.ceil(width / 8);
    // Sixteen bytes are read from each place, also from the last one; eight pixels are weighed together, also where fewer are left.
    return [pixels * 2 + 16, times * 4, times * 16, times * 16, (pixels + 8) * 4, 1];
  }

  /** @param places of those blocks. */
  constructor(memory: KernelMemory, field: FieldMapping, width: number, places: readonly number[]) {
    const [source, bases, picksAt, parts, weights, found] = places as [
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    const { across, pixels } = field;
    const picks = picksOf(across, 8);
    this.memory = memory;
    this.field = field;
    this.width = width;
    this.picks = picks;
    this.source = source;
    this.bases = bases;
    this.picksAt = picksAt;
    this.parts = parts;
    this.weights = weights;
    this.found = found;
    if (picks) {
      new Int32Array(memory.buffer, bases, picks.bases.length).set(picks.bases);
      memory.bytes(picksAt, picks.picks.length).set(picks.picks);
      if (across.part) new Uint16Array(memory.buffer, parts, width).set(across.part);
    }
    const perColumn = new Int32Array(memory.buffer, weights, pixels + 8);
    perColumn.set(deviceWeights(across, pixels));
    perColumn.fill(0, pixels);
  }

  /** Spreads a row of values. Returns what is found among them, and their sum by the columns that each stands for. */
  spread(values: Uint16Array, y: number, to: number): { readonly found: number; readonly sum: number } {
    const { memory, source, width, picks } = this;
    const { kernels } = memory;
    const { stride, left, pixels, across } = this.field;
    const start = y * stride + left;
    const row = new Uint16Array(memory.buffer, source, pixels);
    row.set(values.subarray(start, start + pixels));
    const sum = kernels.weighRow(source, this.weights, pixels, this.found);
    const found = memory.bytes(this.found, 1)[0]!;
    if (found === NONE) memory.bytes(to, width * 2).fill(0);
    else if (!picks) expandRow(row, across, new Uint16Array(memory.buffer, to, width));
    else if (across.part) {
      kernels.blendWords(source, this.bases, this.picksAt, this.parts, picks.bases.length, to);
    } else kernels.spreadWords(source, this.bases, this.picksAt, picks.bases.length, to);
    return { found, sum };
  }
}

/** A layer whose tones stand at the artwork's pixels: two rows of them are at hand, spread across. */
class FieldWalk implements Walk {
  readonly layer: ScreenLayer;
  readonly out: number;
  private readonly parts: WalkParts;
  private readonly spread: FieldSpread;
  private readonly values: Uint16Array;
  private readonly down: Int32Array;
  private readonly held = [-1, -1];
  private readonly blank = [false, false];
  private sum = 0;
  private found = 0;

  constructor(parts: WalkParts, spread: FieldSpread) {
    const { tone } = parts.layer;
    if (tone.kind !== 'field') throw new Error('A layer of a field was expected.');
    if (parts.taken !== 0 && parts.table === 0)
      throw new Error('A field that divides cells needs its film tones.');
    this.parts = parts;
    this.spread = spread;
    this.layer = parts.layer;
    this.out = parts.out;
    this.values = tone.values;
    this.down = deviceWeights(spread.field.down, tone.values.length / spread.field.stride);
  }

  screenRow(row: number, begin: number, to: number): void {
    const { memory, width, room, taken, table, layer, tile: tileAt } = this.parts;
    const { kernels } = memory;
    const { down } = this.spread.field;
    const from = down.from[row]!;
    const part = down.part ? down.part[row]! : 0;
    const next = part > 0 ? from + 1 : from;
    const isBlank = this.expand(from);
    if (this.expand(next) && isBlank) {
      memory.bytes(to, width / 8).fill(0);
      return;
    }
    const [above, below] = [room[from & 1]!, room[next & 1]!];
    const { tile, originX, originY } = layer;
    const longest = tile.wrap & -16;
    for (let x = 0; x < width; x += longest) {
      const position = x === 0 ? begin : tilePosition(tile, originX + x, originY + row);
      const thresholds = tileAt + position * 2;
      const count = Math.min(longest, width - x);
      const [a, b, bits] = [above + x * 2, below + x * 2, to + x / 8];
      if (table === 0) kernels.screenTones(a, b, part, thresholds, count, bits);
      else kernels.stackTones(a, b, part, table, taken + x * 2, thresholds, count, bits);
    }
  }

  laid(): LaidTone {
    return laidTone(this.sum, this.found, this.spread.field);
  }

  /** Has a row of the artwork spread across. Returns whether it has no tone at all. */
  private expand(y: number): boolean {
    const slot = y & 1;
    if (this.held[slot] === y) return this.blank[slot]!;
    this.held[slot] = y;
    // Rows follow each other, so that each comes here once.
    const { found, sum } = this.spread.spread(this.values, y, this.parts.room[slot]!);
    this.sum += this.down[y]! * sum;
    this.found |= found;
    this.blank[slot] = found === NONE;
    return this.blank[slot]!;
  }
}
