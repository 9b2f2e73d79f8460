import { expandRow } from '../raster';
import { type CodeRows, type ScreenedPlate, type ToneRows, tilePosition } from '../screening';
import { CODES_AT, type KernelMemory } from './kernelMemory';
import { LIST_BEFORE, LIST_BEHIND, mostBytes } from './wasmG4';
import type { Kernels, PlateEncoder } from './kernels';
import { type Picks, picksOf } from './picks';
import { RowPositions } from './rowPositions';

/** Plates screened and encoded at once on a compiled module: their bits never stand anywhere. */
export function wasmPlates(memory: KernelMemory): Kernels['createPlateEncoder'] {
  return (plate) =>
    new CompiledPlate(
      memory,
      plate,
      plate.rows.kind === 'codes'
        ? new CompiledCodes(memory, plate, plate.rows)
        : new CompiledTones(memory, plate, plate.rows),
    );
}

/** The rows of a plate in the module's memory. */
interface CompiledRows {
  readonly thresholds: Uint8Array | Uint16Array;
  /** Bytes of the blocks of memory that they need. */
  readonly sizes: readonly number[];
  /** Begins a strip in blocks of those sizes: what stood in them is gone. */
  begin(blocks: readonly number[]): void;
  /** Has row `y` of the film ready. */
  prepare(y: number): void;
  /** Lists the changes of its pixels `x` <= ... < `end`; the thresholds of `x` stand at `thresholds`. */
  list(thresholds: number, x: number, end: number): void;
}

/** The kernels look at so many pixels together. */
const TOGETHER = 64;
class CompiledPlate implements PlateEncoder {
  private readonly memory: KernelMemory;
  private readonly plate: ScreenedPlate;
  private readonly rows: CompiledRows;
  private readonly state = new Uint8Array(16);
  /** Changes of the row that was encoded last, `width` behind them; before the first row there are none. */
  private above: Int32Array;
  private next = 0;

  constructor(memory: KernelMemory, plate: ScreenedPlate, rows: CompiledRows) {
    this.memory = memory;
    this.plate = plate;
    this.rows = rows;
    this.above = new Int32Array(LIST_BEFORE + LIST_BEHIND)
      .fill(-1, 0, LIST_BEFORE)
      .fill(plate.width, LIST_BEFORE);
  }

  encode(count: number): Uint8Array {
    const { memory, rows } = this;
    const { width, tile } = this.plate;
    const { kernels } = memory;
    const [tileAt] = memory.loadTiles([rows.thresholds]) as [number];
    const size = rows.thresholds.BYTES_PER_ELEMENT;
    const listLength = LIST_BEFORE + width + LIST_BEHIND;
    const [oneAt, otherAt, stateAt, outAt, ...blocks] = memory.place(
      listLength * 4,
      listLength * 4,
      16,
      mostBytes(width, count),
      ...rows.sizes,
    ) as [number, number, number, number];
    rows.begin(blocks);
    memory.bytes(stateAt, 16).set(this.state);
    const list = (at: number) => new Int32Array(memory.buffer, at, listLength);
    list(oneAt).set(this.above);
    list(otherAt).fill(-1, 0, LIST_BEFORE);
    let [above, line] = [oneAt + LIST_BEFORE * 4, otherAt + LIST_BEFORE * 4];
    kernels.beginEncoding(CODES_AT, stateAt, outAt);
    const longest = tile.wrap & -TOGETHER;
    const positions = new RowPositions(tile, 0, this.next);
    for (const last = this.next + count; this.next < last; this.next++) {
      const y = this.next;
      const begin = positions.next(y);
      rows.prepare(y);
      kernels.beginList(line);
      for (let x = 0; x < width; x += longest) {
        const position = x === 0 ? begin : tilePosition(tile, x, y);
        rows.list(tileAt + position * size, x, Math.min(width, x + longest));
      }
      kernels.encodeList(line, above, width);
      [above, line] = [line, above];
    }
    const end = kernels.endEncoding(stateAt);
    this.state.set(memory.bytes(stateAt, 16));
    this.above = list(above - LIST_BEFORE * 4).slice();
    return memory.bytes(outAt, end - outAt).slice();
  }

  finish(): Uint8Array {
    const { memory } = this;
    const [stateAt, outAt] = memory.place(16, 64) as [number, number];
    memory.bytes(stateAt, 16).set(this.state);
    return memory.bytes(outAt, memory.kernels.g4Finish(stateAt, outAt)).slice();
  }
}

/** Sixteen bytes are read from each place of a row, also from the last one. */
const ROW_SLACK = 16;

/** A row of codes, each device pixel its nearest one. */
class CompiledCodes implements CompiledRows {
  readonly thresholds: Uint8Array;
  readonly sizes: readonly number[];
  private readonly picks: Picks | null;
  private row = 0;
  private bases = 0;
  private picksAt = 0;
  private spread = 0;
  private held = -1;

  constructor(
    private readonly memory: KernelMemory,
    private readonly plate: ScreenedPlate,
    private readonly rows: CodeRows,
  ) {
    const { length } = plate.across.from;
    this.picks = picksOf(plate.across, 16);
    this.thresholds = codeThresholds(memory, plate.tile.thresholds, rows.first);
    this.sizes = [plate.pixels + ROW_SLACK, length / 4, length, length + TOGETHER];
  }

  begin(blocks: readonly number[]): void {
    [this.row, this.bases, this.picksAt, this.spread] = blocks as [number, number, number, number];
    this.held = -1;
    if (this.picks) loadPicks(this.memory, this.picks, this.bases, this.picksAt);
  }

  prepare(y: number): void {
    const { memory, picks } = this;
    const { across, pixels, down } = this.plate;
    const from = down.from[y]!;
    if (this.held === from) return;
    this.held = from;
    const source = memory.bytes(this.row, pixels);
    source.set(this.rows.rowOf(from));
    if (picks) {
      memory.kernels.spreadBytes(this.row, this.bases, this.picksAt, picks.bases.length, this.spread);
    } else expandRow(source, across, memory.bytes(this.spread, across.from.length));
  }

  list(thresholds: number, x: number, end: number): void {
    this.memory.kernels.listBytes(this.spread + x, thresholds, x, end);
  }
}

/** Two rows of tones that a row of the film lies between. */
class CompiledTones implements CompiledRows {
  readonly thresholds: Uint16Array;
  readonly sizes: readonly number[];
  private readonly picks: Picks | null;
  private row = 0;
  private bases = 0;
  private picksAt = 0;
  private parts = 0;
  private slots: readonly [number, number] = [0, 0];
  private readonly held = [-1, -1];
  private above = 0;
  private below = 0;
  private part = 0;

  constructor(
    private readonly memory: KernelMemory,
    private readonly plate: ScreenedPlate,
    private readonly rows: ToneRows,
  ) {
    const { length } = plate.across.from;
    this.picks = picksOf(plate.across, 8);
    this.thresholds = plate.tile.thresholds;
    const spread = (length + TOGETHER) * 2;
    this.sizes = [plate.pixels * 2 + ROW_SLACK, length / 2, length * 2, length * 2, spread, spread];
  }

  begin(blocks: readonly number[]): void {
    const [row, bases, picks, parts, ...slots] = blocks as [number, number, number, number, number, number];
    [this.row, this.bases, this.picksAt, this.parts, this.slots] = [row, bases, picks, parts, slots];
    this.held.fill(-1);
    if (!this.picks) return;
    loadPicks(this.memory, this.picks, bases, picks);
    const { part } = this.plate.across;
    if (part) new Uint16Array(this.memory.buffer, parts, part.length).set(part);
  }

  prepare(y: number): void {
    const { down } = this.plate;
    const from = down.from[y]!;
    this.part = down.part ? down.part[y]! : 0;
    this.above = this.expanded(from);
    this.below = this.part > 0 ? this.expanded(from + 1) : this.above;
  }

  private expanded(y: number): number {
    const { memory, picks, row } = this;
    const slot = this.slots[(y & 1) as 0 | 1];
    if (this.held[y & 1] === y) return slot;
    this.held[y & 1] = y;
    const { across, pixels } = this.plate;
    const source = new Uint16Array(memory.buffer, row, pixels);
    this.rows.rowOf(y, source);
    if (!picks) expandRow(source, across, new Uint16Array(memory.buffer, slot, across.from.length));
    else {
      const { kernels } = memory;
      const times = picks.bases.length;
      if (across.part) kernels.blendWords(row, this.bases, this.picksAt, this.parts, times, slot);
      else kernels.spreadWords(row, this.bases, this.picksAt, times, slot);
    }
    return slot;
  }

  list(thresholds: number, x: number, end: number): void {
    this.memory.kernels.listTones(this.above + x * 2, this.below + x * 2, this.part, thresholds, x, end);
  }
}

function loadPicks(memory: KernelMemory, { bases, picks }: Picks, basesAt: number, picksAt: number): void {
  new Int32Array(memory.buffer, basesAt, bases.length).set(bases);
  memory.bytes(picksAt, picks.length).set(picks);
}

function codeThresholds(memory: KernelMemory, thresholds: Uint16Array, first: Uint8Array): Uint8Array {
  const count = thresholds.length;
  const [at, firstAt, outAt] = memory.place(count * 2, first.length, count) as [number, number, number];
  new Uint16Array(memory.buffer, at, count).set(thresholds);
  memory.bytes(firstAt, first.length).set(first);
  memory.kernels.codeThresholds(at, count, firstAt, outAt);
  return memory.bytes(outAt, count).slice();
}
