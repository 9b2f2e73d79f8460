import { MIXED, TONED, type ToneArguments, type TonePlaneArguments } from '../raster';
import type { KernelMemory } from './kernelMemory';
import { type Picks, picksOf } from './picks';

/** Pixels whose planes are copied at a time: they fit a processor's cache. */
const PIXELS_AT_A_TIME = 1 << 15;

/** Rows of artwork spread over the columns of a print, two of each plane at hand. */
class SpreadRows {
  private readonly memory: KernelMemory;
  private readonly args: ToneArguments;
  private readonly picks: Picks | null;
  /** Of the host's own memory, since what fills them may call kernels. */
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
    const parts = new Uint16Array(memory.buffer, at.parts, args.width);
    if (args.across.part) parts.set(args.across.part);
    else parts.fill(0);
    if (this.picks) {
      const { bases, picks } = this.picks;
      new Int32Array(memory.buffer, at.bases, bases.length).set(bases);
      memory.bytes(at.picks, picks.length).set(picks);
    } else new Int32Array(memory.buffer, at.bases, args.width).set(args.across.from);
    this.sources = Array.from({ length: args.shapes.length + 2 }, () => new Uint16Array(args.pixels));
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
    this.seen[slot] = this.memory.nested(() => this.args.rowOf(y, this.sources));
    for (let k = 0; k < this.sources.length; k++) this.spread(k, this.place(y, k));
    return this.seen[slot]!;
  }

  private spread(plane: number, to: number): void {
    const { at, picks, args } = this;
    const { kernels } = this.memory;
    const from = at.source + plane * this.sourceBytes;
    new Uint16Array(this.memory.buffer, from, args.pixels).set(this.sources[plane]!);
    if (picks) kernels.blendWords(from, at.bases, at.picks, at.parts, picks.bases.length, to);
    else kernels.blendEach(from, at.bases, at.parts, args.width, to);
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
  const printing = args.shapes.flatMap((shape, k) => (args.tones[k] || !shape ? [{ k, shape }] : []));
  const planes: [Uint8Array | Uint16Array, number][] = [
    [args.bare, bareAt],
    [args.based, basedAt],
    [args.dark, darkAt],
    [args.baseStrength, strengthAt],
    ...printing.flatMap(({ k, shape }): [Uint8Array | Uint16Array, number][] =>
      shape
        ? [
            [shape, plateAt[2 * k]!],
            [args.tones[k]!, plateAt[2 * k + 1]!],
          ]
        : [],
    ),
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
    const part = down.part?.[first + row] ?? 0;
    const next = part > 0 ? y + 1 : y;
    const seen = rows.load(y) | rows.load(next);
    kernels.layBare(labelAt + at, width, bareAt + at);
    for (const { k, shape } of printing) {
      if ((seen & (1 << k)) === 0) continue;
      kernels.layTone(
        labelAt + at,
        rows.place(y, k),
        rows.place(next, k),
        part,
        width,
        shape ? plateAt[2 * k]! + at : 0,
        shape ? plateAt[2 * k + 1]! + at * 2 : 0,
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
      width * 4,
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

/** Pixels of the artwork that are looked at at a time: their planes fit a processor's cache. */
const TONE_PIXELS = 1 << 13;

/** `tonePlanes` on a compiled module. */
export function wasmTonePlanes(memory: KernelMemory): (args: TonePlaneArguments) => number {
  return (args) => {
    let seen = 0;
    for (let from = 0; from < args.count; from += TONE_PIXELS) {
      const count = Math.min(TONE_PIXELS, args.count - from);
      seen |= planesOf(memory, args, from, count);
    }
    return seen;
  };
}

function planesOf(memory: KernelMemory, args: TonePlaneArguments, from: number, count: number): number {
  const { mixLabels, mixShares, planes, about } = args;
  const first = args.first + from;
  const label = args.label.subarray(first, first + count);
  const mixAt = args.mixAt.subarray(first, first + count);
  // Mixtures follow each other as their pixels do.
  const [mixFrom, mixTo] = mixturesOf(label, mixAt);
  const planeBytes = (count * 2 + 15) & ~15;
  const [labelAt, indexAt, mixLabelsAt, mixSharesAt, tableAt, planesAt, aboutAt] = memory.place(
    count,
    count * 4,
    (mixTo - mixFrom) * 3,
    (mixTo - mixFrom) * 6,
    2048,
    planes.length * planeBytes,
    count,
  ) as [number, number, number, number, number, number, number];
  const { buffer } = memory;
  memory.bytes(labelAt, count).set(label);
  new Int32Array(buffer, indexAt, mixAt.length).set(mixAt);
  memory.bytes(mixLabelsAt, (mixTo - mixFrom) * 3).set(mixLabels.subarray(mixFrom * 3, mixTo * 3));
  const shares = mixShares.subarray(mixFrom * 3, mixTo * 3);
  new Uint16Array(buffer, mixSharesAt, shares.length).set(shares);
  const table = new Uint16Array(buffer, tableAt, 1024);
  for (let k = 0; k < 256; k++) {
    const [tint, strength, dark, plate] = [
      args.tintOf[k]!,
      args.strengthOf[k]!,
      args.darkOf[k]!,
      args.plateOf[k]!,
    ];
    const usual = tint === 65535 && dark === 0 && plate >= 0 && plate !== args.highlight;
    table[4 * k] = tint;
    table[4 * k + 1] = strength;
    table[4 * k + 2] = dark | (usual && strength === 65535 ? 2 : 0) | (usual && strength === 0 ? 4 : 0);
    // None is -1.
    table[4 * k + 3] = plate;
  }
  memory.bytes(planesAt, planes.length * planeBytes).fill(0);
  const seen = memory.kernels.tonePlanes(
    labelAt,
    indexAt,
    // As if all mixtures before them were there.
    mixLabelsAt - mixFrom * 3,
    mixSharesAt - mixFrom * 6,
    tableAt,
    args.plates,
    args.highlight,
    count,
    planesAt,
    planeBytes,
    aboutAt,
  );
  planes.forEach((plane, k) => {
    plane.set(new Uint16Array(buffer, planesAt + k * planeBytes, count), from);
  });
  about?.set(memory.bytes(aboutAt, count), from);
  return seen;
}

/** The first and the last (excluded) of the mixtures that some pixels have. */
function mixturesOf(label: Uint8Array, mixAt: Int32Array): [from: number, to: number] {
  const first = label.indexOf(MIXED);
  if (first < 0) return [0, 0];
  return [mixAt[first]!, mixAt[label.lastIndexOf(MIXED)]! + 1];
}
