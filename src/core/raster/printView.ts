import { NestRows, type NestTarget, nestsIn } from './nestRows';
import { COVERAGE, type LayerGroup, type PrintLayer, groupsOf } from './printLayer';

/** For each pixel of a window along one side the plane's pixels that it averages, and how much of each. */
export interface Spans {
  readonly count: number;
  /** First pixel of the plane for each of the window. */
  readonly from: Int32Array;
  /** Weights for each pixel of the window; the first ones belong to `from` and what follows it. */
  readonly taps: number;
  /** count * taps, summing to 1 for each; `from` + taps stays inside the plane. */
  readonly weights: Float32Array;
}

export interface PrintArguments {
  /** In print order. */
  readonly layers: readonly PrintLayer[];
  /** Size of the plane on which the layers were evaluated. */
  readonly width: number;
  readonly height: number;
  /** Linear light of what is printed on. */
  readonly ground: readonly [number, number, number];
  readonly across: Spans;
  readonly down: Spans;
  /** sRGB codes of linear light in equal steps, first for 0 and last for 1. */
  readonly codes: Uint8Array;
  /** across.count * down.count pixels of four bytes, opaque; written in full. */
  readonly out: Uint8ClampedArray;
}

const f = Math.fround;

/**
 * Prints the layers on the ground, each by area x ← x + a·(o·C + (1 − o)·x·C − x) (Demichel 1924, Neugebauer 1937), averages the
 * result down to a window in linear light, and encodes it. Layers of a group all print on what lies there without them,
 * x ← x + a·(o·C + (1 − o)·b·C − b), until their areas sum up to 1; the rest falls on what is there. Where a group has a base, b is the
 * full base for what of a layer lies on it. Where layers lie in each other each part of a pixel is printed by itself, and the light of the parts is summed by their areas. Single precision in exactly this order, so that the compiled form gives the same bytes.
 */
export function printView(args: PrintArguments): void {
  const { width, across, down, codes, out } = args;
  const steps = f(codes.length - 1);
  const row = new Float32Array(width * 4);
  const sum = new Float32Array(width * 4);
  const groups = groupsOf(args.layers).map((group) => ({
    ...group,
    backing: new Float32Array(width * 4),
    based: group.hasBase ? new Float32Array(width * 4) : null,
    floor: new Float32Array(width),
    used: new Float32Array(width),
    usedOn: new Float32Array(width),
  }));
  const nests = nestsIn(args.layers).length > 0 ? new NestedRow(args) : null;
  let printed = -1;
  for (let y = 0; y < down.count; y++) {
    sum.fill(0);
    for (let t = 0; t < down.taps; t++) {
      const weight = down.weights[y * down.taps + t]!;
      if (weight === 0) continue;
      if (printed !== down.from[y]! + t) {
        printed = down.from[y]! + t;
        if (nests) nests.print(groups, printed, row);
        else printRow(args, args.layers, groups, printed, row);
      }
      for (let i = 0; i < sum.length; i++) sum[i] = f(sum[i]! + f(weight * row[i]!));
    }
    for (let x = 0; x < across.count; x++) {
      for (let channel = 0; channel < 3; channel++) {
        let light = f(0);
        for (let t = 0; t < across.taps; t++) {
          const at = (across.from[x]! + t) * 4 + channel;
          light = f(light + f(across.weights[x * across.taps + t]! * sum[at]!));
        }
        const step = Math.trunc(f(f(Math.min(1, Math.max(0, light)) * steps) + f(0.5)));
        out[(y * across.count + x) * 4 + channel] = codes[step]!;
      }
      out[(y * across.count + x) * 4 + 3] = 255;
    }
  }
}

interface GroupRows extends LayerGroup {
  /** The row without the group's layers. */
  readonly backing: Float32Array;
  /** The row with nothing of the group but its base, in full. */
  readonly based: Float32Array | null;
  /** The area of the base. */
  readonly floor: Float32Array;
  /** The sum of the other areas so far, and of those on the base. */
  readonly used: Float32Array;
  readonly usedOn: Float32Array;
}

/** Rows of layers of which some lie in each other. */
class NestedRow implements NestTarget {
  private readonly args: PrintArguments;
  readonly masks: readonly Uint8Array[];
  readonly weights: Float32Array;
  private readonly rows: NestRows;
  private readonly sum: Float32Array;
  private readonly layers: readonly PrintLayer[];

  constructor(args: PrintArguments) {
    const { width } = args;
    const nested = nestsIn(args.layers).flat();
    this.args = args;
    this.masks = args.layers.map(() => new Uint8Array(width));
    this.weights = new Float32Array(width);
    this.sum = new Float32Array(width * 4);
    this.rows = new NestRows(args.layers, width, this);
    this.layers = args.layers.map((layer, k) =>
      nested.includes(k) ? { ...layer, shape: this.masks[k]!, tone: null } : layer,
    );
  }

  print(groups: readonly GroupRows[], y: number, row: Float32Array): void {
    const { args, sum, weights } = this;
    const { width } = args;
    sum.fill(0);
    // A mask is one row.
    const layers = this.layers.map((layer, k) =>
      layer === args.layers[k]
        ? { ...layer, shape: rowOf(layer.shape, y, width), tone: layer.tone && rowOf(layer.tone, y, width) }
        : layer,
    );
    this.rows.forEachPart(y, () => {
      printRow(args, layers, groups, 0, row);
      for (let i = 0; i < sum.length; i++) sum[i] = f(sum[i]! + f(weights[i >> 2]! * row[i]!));
    });
    row.set(sum);
  }
}

function rowOf<A extends Uint8Array | Uint16Array>(plane: A, y: number, width: number): A {
  return plane.subarray(y * width, (y + 1) * width) as A;
}

/** One row of the plane in linear light, four values a pixel. */
function printRow(
  { width, ground }: PrintArguments,
  layers: readonly PrintLayer[],
  groups: readonly GroupRows[],
  y: number,
  row: Float32Array,
): void {
  for (let i = 0; i < row.length; i++) row[i] = (i & 3) === 3 ? 0 : ground[i & 3]!;
  for (const [k, layer] of layers.entries()) {
    let own: GroupRows | null = null;
    for (const group of groups) {
      if (group.group === layer.group) own = group;
      else if (k > group.first && k < group.last) {
        printLayer(layer, width, y, group.backing);
        if (group.based) printLayer(layer, width, y, group.based);
      }
    }
    if (!own) {
      printLayer(layer, width, y, row);
      continue;
    }
    if (k === own.first) {
      own.backing.set(row);
      own.used.fill(0);
      own.usedOn.fill(0);
      own.floor.fill(0);
      if (own.based) {
        printBase(layer, width, y, own.based, own.floor, row);
        continue;
      }
    }
    printBeside(layer, width, y, row, own);
  }
}

function printLayer(
  { shape, tone, colour, opacity }: PrintLayer,
  width: number,
  y: number,
  row: Float32Array,
): void {
  for (let channel = 0; channel < 3; channel++) {
    const opaque = f(opacity * colour[channel]!);
    const filter = f((1 - opacity) * colour[channel]!);
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (shape[i] === 0) continue;
      const a = f(f(shape[i]! * (tone ? tone[i]! : 65535)) * COVERAGE);
      const before = row[x * 4 + channel]!;
      row[x * 4 + channel] = f(before + f(a * f(f(opaque + f(filter * before)) - before)));
    }
  }
}

/** One row of a base under a group, as far as it reaches; `based` is its full layer everywhere that it does. */
function printBase(
  { shape, tone, colour, opacity }: PrintLayer,
  width: number,
  y: number,
  based: Float32Array,
  floor: Float32Array,
  row: Float32Array,
): void {
  based.set(row);
  for (let x = 0; x < width; x++) {
    const i = y * width + x;
    if (shape[i] === 0) continue;
    const a = f(f(shape[i]! * (tone ? tone[i]! : 65535)) * COVERAGE);
    floor[x] = a;
    for (let channel = 0; channel < 3; channel++) {
      const at = x * 4 + channel;
      const before = row[at]!;
      const full = f(f(opacity * colour[channel]!) + f(f((1 - opacity) * colour[channel]!) * before));
      based[at] = full;
      row[at] = f(before + f(a * f(full - before)));
    }
  }
}

/** One row of a layer of a group: on what lies there without it as long as there is room, on what is there beyond that. */
function printBeside(
  { shape, tone, colour, opacity, place }: PrintLayer,
  width: number,
  y: number,
  row: Float32Array,
  { backing, based, floor, used, usedOn }: GroupRows,
): void {
  for (let x = 0; x < width; x++) {
    const i = y * width + x;
    if (shape[i] === 0) continue;
    const a = f(f(shape[i]! * (tone ? tone[i]! : 65535)) * COVERAGE);
    const apart = Math.min(a, Math.max(0, f(1 - used[x]!)));
    const on = based && place !== 'off' ? Math.min(apart, Math.max(0, f(floor[x]! - usedOn[x]!))) : 0;
    const off = f(apart - on);
    const over = f(a - apart);
    used[x] = f(used[x]! + a);
    if (place !== 'off') usedOn[x] = f(usedOn[x]! + a);
    for (let channel = 0; channel < 3; channel++) {
      const at = x * 4 + channel;
      const opaque = f(opacity * colour[channel]!);
      const filter = f((1 - opacity) * colour[channel]!);
      const bare = backing[at]!;
      let before = f(row[at]! + f(off * f(f(opaque + f(filter * bare)) - bare)));
      if (based) {
        const white = based[at]!;
        before = f(before + f(on * f(f(opaque + f(filter * white)) - white)));
      }
      row[at] = f(before + f(over * f(f(opaque + f(filter * before)) - before)));
    }
  }
}
