import { expandRow } from '../raster';
import { type CodeRows, type ScreenedPlate, type ToneRows, tilePosition } from '../screening';
import { CODES_AT, type KernelMemory } from './kernelMemory';
import type { Kernels, PlateEncoder } from './kernels';
import { type Picks, picksOf } from './picks';
import { RowPositions } from './rowPositions';
import { LIST_BEFORE, LIST_BEHIND, mostBytes } from './wasmG4';

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
  /** Bytes of the blocks of memory that a strip of the film needs. */
  sizes(first: number, count: number): number[];
  /**
   * Encodes a strip.
   *
   * @param blocks of those sizes; what stood in them is gone.
   * @param positions where the film's rows find theirs of the thresholds: `stride` bytes for each.
   */
  encode(first: number, count: number, blocks: readonly number[], positions: number, stride: number): void;
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
    const listLength = LIST_BEFORE + width + LIST_BEHIND;
    const longest = tile.wrap & -TOGETHER;
    const stretches = Math.ceil(width / longest);
    const [oneAt, otherAt, stateAt, positionsAt, outAt, ...blocks] = memory.place(
      listLength * 4,
      listLength * 4,
      16,
      count * stretches * 4,
      mostBytes(width, count),
      ...rows.sizes(this.next, count),
    ) as [number, number, number, number, number];
    const list = (at: number) => new Int32Array(memory.buffer, at - LIST_BEFORE * 4, listLength);
    const [above, line] = [oneAt + LIST_BEFORE * 4, otherAt + LIST_BEFORE * 4];
    list(above).set(this.above);
    list(line).fill(-1, 0, LIST_BEFORE);
    memory.bytes(stateAt, 16).set(this.state);
    const positions = new Uint32Array(memory.buffer, positionsAt, count * stretches);
    const begins = new RowPositions(tile, 0, this.next);
    for (let row = 0, k = 0; row < count; row++) {
      const y = this.next + row;
      const begin = begins.next(y);
      for (let x = 0; x < width; x += longest) {
        const position = x === 0 ? begin : tilePosition(tile, x, y);
        positions[k++] = tileAt + position * rows.thresholds.BYTES_PER_ELEMENT;
      }
    }
    kernels.beginEncoding(CODES_AT, stateAt, outAt);
    kernels.beginPlate(width, longest, above, line);
    rows.encode(this.next, count, blocks, positionsAt, stretches * 4);
    const end = kernels.endEncoding(stateAt);
    this.next += count;
    this.state.set(memory.bytes(stateAt, 16));
    this.above = list(kernels.lastList()).slice();
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

/** Rows of codes, each device pixel its nearest one. */
class CompiledCodes implements CompiledRows {
  readonly thresholds: Uint8Array;
  private readonly memory: KernelMemory;
  private readonly plate: ScreenedPlate;
  private readonly rowsOf: CodeRows['rowsOf'];
  private readonly picks: Picks | null;

  constructor(memory: KernelMemory, plate: ScreenedPlate, rows: CodeRows) {
    this.memory = memory;
    this.plate = plate;
    this.rowsOf = rows.rowsOf;
    this.picks = picksOf(plate.across, 16);
    this.thresholds = codeThresholds(memory, plate.tile.thresholds, rows.first);
  }

  sizes(first: number, count: number): number[] {
    const { pixels, across } = this.plate;
    const { length } = across.from;
    return [this.under(first, count) * pixels + ROW_SLACK, length / 4, length, length + TOGETHER];
  }

  /** Rows of the plate under a strip of the film. */
  private under(first: number, count: number): number {
    const { from } = this.plate.down;
    return from[first + count - 1]! - from[first]! + 1;
  }

  encode(first: number, count: number, blocks: readonly number[], positions: number, stride: number): void {
    const { memory, picks, plate } = this;
    const { kernels } = memory;
    const { across, pixels } = plate;
    const { from } = plate.down;
    const [source, bases, picksAt, spread] = blocks as [number, number, number, number];
    const under = this.under(first, count);
    const codes = memory.nested(() => this.rowsOf(from[first]!, under));
    memory.bytes(source, under * pixels).set(codes);
    if (picks) loadPicks(memory, picks, bases, picksAt);
    for (let y = first; y < first + count;) {
      const row = from[y]!;
      let rows = 1;
      while (y + rows < first + count && from[y + rows] === row) rows++;
      const at = source + (row - from[first]!) * pixels;
      if (picks) kernels.spreadBytes(at, bases, picksAt, picks.bases.length, spread);
      else expandRow(memory.bytes(at, pixels), across, memory.bytes(spread, across.from.length));
      kernels.codeRows(spread, positions + (y - first) * stride, rows);
      y += rows;
    }
  }
}

/** Rows of tones, of which a row of the film lies between two. */
class CompiledTones implements CompiledRows {
  readonly thresholds: Uint16Array;
  private readonly memory: KernelMemory;
  private readonly plate: ScreenedPlate;
  private readonly rowOf: ToneRows['rowOf'];
  private readonly picks: Picks | null;

  constructor(memory: KernelMemory, plate: ScreenedPlate, rows: ToneRows) {
    this.memory = memory;
    this.plate = plate;
    this.rowOf = rows.rowOf;
    this.picks = picksOf(plate.across, 8);
    this.thresholds = plate.tile.thresholds;
  }

  sizes(): number[] {
    const { pixels, across } = this.plate;
    const { length } = across.from;
    const spread = (length + TOGETHER) * 2;
    return [pixels * 2 + ROW_SLACK, length / 2, length * 2, length * 2, spread, spread];
  }

  encode(first: number, count: number, blocks: readonly number[], positions: number, stride: number): void {
    const { memory, picks, plate } = this;
    const { kernels } = memory;
    const { across, pixels, down } = plate;
    const [row, bases, picksAt, parts, even, odd] = blocks as [
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    if (picks) loadPicks(memory, picks, bases, picksAt);
    if (picks && across.part) new Uint16Array(memory.buffer, parts, across.part.length).set(across.part);
    // Of the host's own memory, since what fills it may call kernels.
    const source = new Uint16Array(pixels);
    const held = [-1, -1];
    const expanded = (y: number): number => {
      const slot = (y & 1) === 0 ? even : odd;
      if (held[y & 1] === y) return slot;
      held[y & 1] = y;
      memory.nested(() => this.rowOf(y, source));
      new Uint16Array(memory.buffer, row, pixels).set(source);
      if (!picks) expandRow(source, across, new Uint16Array(memory.buffer, slot, across.from.length));
      else if (across.part) kernels.blendWords(row, bases, picksAt, parts, picks.bases.length, slot);
      else kernels.spreadWords(row, bases, picksAt, picks.bases.length, slot);
      return slot;
    };
    for (let k = 0; k < count; k++) {
      const from = down.from[first + k]!;
      const part = down.part ? down.part[first + k]! : 0;
      const upper = expanded(from);
      const lower = part > 0 ? expanded(from + 1) : upper;
      kernels.toneRow(upper, lower, part, positions + k * stride);
    }
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
