import { TONED, type ToneArguments, expandRow } from '../raster';
import type { KernelMemory } from './kernelMemory';
import { type Picks, picksOf } from './picks';

/** Pixels whose planes are copied at a time: they fit a processor's cache. */
const PIXELS_AT_A_TIME = 1 << 15;

/** Rows of artwork spread over the columns of a print, two of each plane at hand. */
class SpreadRows {
  private readonly memory: KernelMemory;
  private readonly args: ToneArguments;
  private readonly picks: Picks | null;
  private readonly sources: readonly Uint16Array[];
  private readonly held = [-1, -1];
  /** What of the two rows is not all 0, the first plane as the lowest bit. */
  private readonly seen = [0, 0];
  private readonly at: { picks: number; bases: number; parts: number; source: number; slots: number };
  private readonly sourceBytes: number;
  private readonly rowBytes: number;

  /** @param at where there is room: see `roomFor`. */
  constructor(memory: KernelMemory, args: ToneArguments, at: SpreadRows['at']) {
    this.memory = memory;
    this.args = args;
    this.at = at;
    this.picks = picksOf(args.across, 8);
    this.sourceBytes = sourceBytes(args);
    this.rowBytes = rowBytes(args);
    if (this.picks) {
      const { bases, picks } = this.picks;
      new Int32Array(memory.buffer, at.bases, bases.length).set(bases);
      memory.bytes(at.picks, picks.length).set(picks);
      new Uint16Array(memory.buffer, at.parts, args.width).set(args.across.part!);
    }
    this.sources = Array.from(
      { length: args.shapes.length + 2 },
      (_, k) => new Uint16Array(memory.buffer, at.source + k * this.sourceBytes, args.pixels),
    );
  }

  /** Where a plane's columns of a row of the artwork stand once `load` was called for it. */
  place(y: number, plane: number): number {
    return this.at.slots + ((y & 1) * this.sources.length + plane) * this.rowBytes;
  }

  /** Returns which planes are not all 0. */
  load(y: number): number {
    const slot = y & 1;
    if (this.held[slot] === y) return this.seen[slot]!;
    this.held[slot] = y;
    this.seen[slot] = this.args.rowOf(y, this.sources);
    this.sources.forEach((source, k) => this.spread(source, k, this.place(y, k)));
    return this.seen[slot]!;
  }

  private spread(source: Uint16Array, plane: number, to: number): void {
    const { memory, at, picks, args } = this;
    if (!picks) {
      expandRow(source, args.across, new Uint16Array(memory.buffer, to, args.width));
      return;
    }
    const from = at.source + plane * this.sourceBytes;
    memory.kernels.blendWords(from, at.bases, at.picks, at.parts, picks.bases.length, to);
  }
}

// Sixteen bytes are read from each place, also from the last one.
function sourceBytes({ pixels }: ToneArguments): number {
  return (pixels * 2 + 31) & ~15;
}

// Sixteen values are read together, also where fewer are left.
function rowBytes({ width }: ToneArguments): number {
  return (width * 2 + 63) & ~15;
}

/** Some rows of planes, from the first on, laid where copies of them stand in the module's memory. */
function layRows(
  memory: KernelMemory,
  args: ToneArguments,
  rows: SpreadRows,
  places: readonly number[],
  first: number,
  count: number,
): void {
  const { kernels } = memory;
  const { width, down } = args;
  const [labelAt, bareAt, basedAt, darkAt, strengthAt, ...plateAt] = places as [
    number,
    number,
    number,
    number,
    number,
    ...number[],
  ];
  const plates = args.shapes.length;
  const printing = args.tones.flatMap((tone, k) => (tone ? [{ k, tone, shape: args.shapes[k]! }] : []));
  const planes: [Uint8Array | Uint16Array, number][] = [
    [args.bare, bareAt],
    [args.based, basedAt],
    [args.dark, darkAt],
    [args.baseStrength, strengthAt],
    ...printing.flatMap(({ k, tone, shape }): [Uint8Array | Uint16Array, number][] => [
      [shape, plateAt[2 * k]!],
      [tone, plateAt[2 * k + 1]!],
    ]),
  ];
  const from = first * width;
  const to = from + count * width;
  memory.bytes(labelAt, to - from).set(args.label.subarray(from, to));
  for (const [plane, at] of planes) {
    const part = plane.subarray(from, to);
    memory.bytes(at, part.byteLength).set(new Uint8Array(part.buffer, part.byteOffset, part.byteLength));
  }
  for (let row = 0; row < count; row++) {
    const at = row * width;
    const y = down.from[first + row]!;
    const part = down.part![first + row]!;
    const next = part > 0 ? y + 1 : y;
    const seen = rows.load(y) | rows.load(next);
    kernels.layBare(labelAt + at, width, bareAt + at);
    for (const { k } of printing) {
      if ((seen & (1 << k)) === 0) continue;
      kernels.layTone(
        labelAt + at,
        rows.place(y, k),
        rows.place(next, k),
        part,
        width,
        plateAt[2 * k]! + at,
        plateAt[2 * k + 1]! + at * 2,
        bareAt + at,
      );
    }
    if ((seen & (3 << plates)) === 0) continue;
    kernels.layBase(
      labelAt + at,
      rows.place(y, plates),
      rows.place(next, plates),
      rows.place(y, plates + 1),
      rows.place(next, plates + 1),
      part,
      width,
      basedAt + at,
      darkAt + at,
      strengthAt + at * 2,
    );
  }
  for (const [plane, at] of planes) {
    const part = plane.subarray(from, to);
    new Uint8Array(part.buffer, part.byteOffset, part.byteLength).set(memory.bytes(at, part.byteLength));
  }
}

/** Lays tones on a compiled module. */
export function wasmLayTones(memory: KernelMemory): (args: ToneArguments) => void {
  return (args) => {
    const { label, width, height } = args;
    const most = Math.max(1, Math.min(height, Math.floor(PIXELS_AT_A_TIME / width)));
    const planes = args.shapes.length + 2;
    const times = Math.ceil(width / 8);
    const pixels = most * width + 32;
    const [picks, bases, parts, source, slots, ...at] = memory.place(
      times * 16,
      times * 4,
      times * 16,
      planes * sourceBytes(args),
      2 * planes * rowBytes(args),
      ...[pixels, pixels, pixels, pixels, pixels * 2],
      ...args.tones.flatMap((tone) => (tone ? [pixels, pixels * 2] : [0, 0])),
    ) as [number, number, number, number, number, ...number[]];
    const rows = new SpreadRows(memory, args, { picks, bases, parts, source, slots });
    for (let top = label.indexOf(TONED); top >= 0;) {
      const first = Math.floor(top / width);
      const count = Math.min(most, height - first);
      layRows(memory, args, rows, at, first, count);
      top = label.indexOf(TONED, (first + count) * width);
    }
  };
}
