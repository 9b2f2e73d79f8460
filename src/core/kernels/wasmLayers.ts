import {
  type LaidTone,
  type LayerArguments,
  type ToneLayer,
  NONE,
  deviceWeights,
  laidTone,
  tilePosition,
} from '../screening';
import { expandRow } from '../raster';
import type { KernelMemory } from './kernelMemory';
import { type Picks, picksOf } from './picks';
import { RowPositions } from './rowPositions';

const TABLE_BYTES = 65536 * 2;

/** Where things stand in the module's memory. */
interface Places {
  readonly source: number;
  readonly bases: number;
  readonly picks: number;
  readonly parts: number;
  readonly even: number;
  readonly odd: number;
  readonly table: number;
  readonly out: number;
  /** How many device columns each pixel stands for, and where what was found of a row is told. */
  readonly weights: number;
  readonly found: number;
  /** For each group how far its cells are taken. */
  readonly taken: ReadonlyMap<number, number>;
}

/** `screenLayers` on a compiled module. */
export function wasmScreenLayers(memory: KernelMemory): (args: LayerArguments) => LaidTone[] {
  return (args) => {
    const { pixels, across, down, layers } = args;
    const width = across.from.length;
    const rows = down.from.length;
    const times = Math.ceil(width / 8);
    const groups = [...new Set(layers.flatMap(({ stack }) => (stack ? [stack.group] : [])))];
    const picks = picksOf(across, 8);
    const tiles = memory.loadTiles(layers.map(({ tile }) => tile.thresholds));
    const [source, bases, picksAt, parts, even, odd, table, out, weights, found, ...taken] = memory.place(
      // Sixteen bytes are read from each place, also from the last one.
      pixels * 2 + 16,
      times * 4,
      times * 16,
      times * 16,
      // Sixteen pixels are looked at together, also where eight are left.
      width * 2 + 32,
      width * 2 + 32,
      groups.length > 0 ? TABLE_BYTES : 0,
      (width * rows) / 8 + 2,
      pixels * 4,
      1,
      ...groups.map(() => width * rows * 2),
    ) as [number, number, number, number, number, number, number, number, number, number, ...number[]];
    if (picks) {
      new Int32Array(memory.buffer, bases, times).set(picks.bases);
      memory.bytes(picksAt, times * 16).set(picks.picks);
      if (across.part) new Uint16Array(memory.buffer, parts, width).set(across.part);
    }
    for (const at of taken) memory.bytes(at, width * rows * 2).fill(0);
    const byGroup = new Map(groups.map((group, k) => [group, taken[k]!]));
    const at = { source, bases, picks: picksAt, parts, even, odd, table, out, weights, found };
    new Int32Array(memory.buffer, weights, pixels).set(deviceWeights(across, pixels));
    return layers.map((layer, k) =>
      screenLayer(memory, args, layer, tiles[k]!, picks, { ...at, taken: byGroup }),
    );
  };
}

function screenLayer(
  memory: KernelMemory,
  { stride, left, pixels, across, down }: LayerArguments,
  { tones, tile, originX, originY, stack, out }: ToneLayer,
  tileAt: number,
  picks: Picks | null,
  places: Places,
): LaidTone {
  const { kernels } = memory;
  const width = across.from.length;
  const rows = down.from.length;
  if (stack) new Uint16Array(memory.buffer, places.table, 65536).set(stack.onFilm);
  const source = new Uint16Array(memory.buffer, places.source, pixels);
  const down256 = deviceWeights(down, tones.length / stride);
  const told = memory.bytes(places.found, 1);
  let sum = 0;
  let found = 0;
  const held = [-1, -1];
  const blank = [false, false];
  const slotOf = (y: number): number => ((y & 1) === 0 ? places.even : places.odd);
  /** Returns whether the row has no tone at all. */
  const expand = (y: number): boolean => {
    if (held[y & 1] === y) return blank[y & 1]!;
    held[y & 1] = y;
    source.set(tones.subarray(y * stride + left, y * stride + left + pixels));
    // Rows follow each other, so that each comes here once.
    sum += down256[y]! * kernels.weighRow(places.source, places.weights, pixels, places.found);
    found |= told[0]!;
    blank[y & 1] = told[0] === NONE;
    if (blank[y & 1]) {
      memory.bytes(slotOf(y), width * 2).fill(0);
      return true;
    }
    const { bases, picks: picksAt, parts } = places;
    if (!picks) expandRow(source, across, new Uint16Array(memory.buffer, slotOf(y), width));
    else if (across.part) {
      kernels.blendWords(places.source, bases, picksAt, parts, picks.bases.length, slotOf(y));
    } else kernels.spreadWords(places.source, bases, picksAt, picks.bases.length, slotOf(y));
    return blank[y & 1]!;
  };
  const longest = tile.wrap & ~15;
  const positions = new RowPositions(tile, originX, originY);
  for (let row = 0; row < rows; row++) {
    const y = originY + row;
    const begin = positions.next(y);
    const from = down.from[row]!;
    const part = down.part ? down.part[row]! : 0;
    const next = part > 0 ? from + 1 : from;
    const to = places.out + (row * width) / 8;
    const isBlank = expand(from);
    if (expand(next) && isBlank) {
      memory.bytes(to, width / 8).fill(0);
      continue;
    }
    for (let x = 0; x < width; x += longest) {
      const thresholds = tileAt + (x === 0 ? begin : tilePosition(tile, originX + x, y)) * 2;
      const count = Math.min(longest, width - x);
      const above = slotOf(from) + x * 2;
      const below = slotOf(next) + x * 2;
      if (stack) {
        const taken = places.taken.get(stack.group)! + (row * width + x) * 2;
        kernels.stackTones(above, below, part, places.table, taken, thresholds, count, to + x / 8);
      } else kernels.screenTones(above, below, part, thresholds, count, to + x / 8);
    }
  }
  out.set(memory.bytes(places.out, out.length));
  return laidTone(sum, found);
}
