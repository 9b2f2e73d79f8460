import { type Ground, type InkStack, NOTHING, type PrintModel } from './inkStack';

/** Inks that divide cells: the base under them, if there is one, and those beside each other. */
export interface Cell {
  /** Its inks' places in the stack, rising; a base under them is the first. */
  readonly members: readonly number[];
  readonly hasBase: boolean;
}

/** The cells of a stack that are divided by two inks and more. */
export function cellsOf({ inks }: Pick<InkStack, 'inks'>): Cell[] {
  const groups = [...new Set(inks.flatMap(({ cell }) => (cell ? [cell.group] : [])))];
  return groups.flatMap((group) => {
    const members = inks.flatMap(({ cell }, k) => (cell?.group === group ? [k] : []));
    return members.length > 1 ? [{ members, hasBase: inks[members[0]!]!.cell!.under }] : [];
  });
}

/** A cell while a print is built up: the light of its base in full, or of what lies there without it. */
interface CellState extends Cell {
  readonly backing: Float64Array;
  /** With the coverage of each ink, three channels each. */
  readonly slopes: Float64Array;
}

/**
 * The print model of dots of which some divide cells: what does not is mixed as `StackModel` mixes it; of a cell each ink prints its own area of the full base, or of what lies
 * there without a base, x ← x + a·(R(b) − b) (Neugebauer 1937, for areas that are apart). It holds where areas sum up to the cell at most and none lies beside its base.
 */
export class CellModel implements PrintModel {
  readonly count: number;
  private readonly garment: readonly number[];
  private readonly opaque: Float64Array;
  private readonly change: Float64Array;
  private readonly cells: readonly CellState[];
  private readonly cellOf: readonly number[];
  private readonly light = new Float64Array(3);
  private readonly found: Float64Array;

  constructor(stack: InkStack, { garment, without }: Ground = stack.grounds[0]!) {
    // A screen that does not run leaves the light as it is.
    const inks = stack.inks.map((ink, k) => (without.includes(k) ? NOTHING : ink));
    const { length: count } = inks;
    this.count = count;
    this.garment = garment;
    this.opaque = Float64Array.from(inks.flatMap(({ colour, opacity }) => colour.map((c) => opacity * c)));
    this.change = Float64Array.from(
      inks.flatMap(({ colour, opacity }) => colour.map((c) => (1 - opacity) * c - 1)),
    );
    this.cells = cellsOf(stack).map((cell) => ({
      ...cell,
      backing: new Float64Array(3),
      slopes: new Float64Array(count * 3),
    }));
    this.cellOf = inks.map((_, k) => this.cells.findIndex(({ members }) => members.includes(k)));
    this.found = new Float64Array(count * 3);
  }

  /** Finds the slopes with the light: both need the light under each ink. */
  print(tones: Float64Array, light: Float64Array): void {
    const { garment, light: x, found } = this;
    for (let c = 0; c < 3; c++) x[c] = garment[c]!;
    found.fill(0);
    for (let k = 0; k < this.count; k++) {
      this.coverOthers(k, tones[k]!);
      const cell = this.cells[this.cellOf[k]!];
      if (!cell) this.cover(k, tones[k]!, x, found);
      else this.divide(k, tones, cell);
    }
    light.set(x);
  }

  slopes(_tones: Float64Array, slopes: Float64Array): void {
    slopes.set(this.found);
  }

  /** An ink prints on what lies there, wherever its dots fall. */
  private cover(k: number, a: number, x: Float64Array, slopes: Float64Array): void {
    for (let c = 0; c < 3; c++) {
      const change = this.change[k * 3 + c]!;
      const gain = this.opaque[k * 3 + c]! + change * x[c]!;
      const through = 1 + a * change;
      for (let j = 0; j < this.count; j++) slopes[j * 3 + c]! *= through;
      slopes[k * 3 + c]! += gain;
      x[c]! += a * gain;
    }
  }

  /** What lies under the cells of others, of which some are still to come, is printed on as well. */
  private coverOthers(k: number, a: number): void {
    for (const [index, { members, backing, slopes }] of this.cells.entries()) {
      if (index !== this.cellOf[k] && k > members[0]! && k < members.at(-1)!)
        this.cover(k, a, backing, slopes);
    }
  }

  private divide(k: number, tones: Float64Array, cell: CellState): void {
    const { light: x, found } = this;
    const { backing, slopes } = cell;
    if (k === cell.members[0]) {
      backing.set(x);
      slopes.set(found);
      if (cell.hasBase) {
        this.cover(k, tones[k]!, x, found);
        this.cover(k, 1, backing, slopes);
        // A full base has no coverage that changes.
        slopes.fill(0, k * 3, k * 3 + 3);
        return;
      }
    }
    const a = tones[k]!;
    for (let c = 0; c < 3; c++) {
      const change = this.change[k * 3 + c]!;
      const gain = this.opaque[k * 3 + c]! + change * backing[c]!;
      for (let j = 0; j < this.count; j++) found[j * 3 + c]! += a * change * slopes[j * 3 + c]!;
      found[k * 3 + c]! += gain;
      x[c]! += a * gain;
    }
  }
}

/**
 * The areas that inks of a stack show: of a base what no ink of its cells covers, of every other its coverage. Those of a cell sum up to it at most, and what is
 * left is bare.
 */
export class CellAreas {
  readonly cells: readonly Cell[];
  /** For each ink the place of its cell, or -1. */
  readonly cellOf: Int32Array;

  constructor(stack: Pick<InkStack, 'inks'>) {
    this.cells = cellsOf(stack);
    this.cellOf = Int32Array.from(stack.inks, (_, k) =>
      this.cells.findIndex(({ members }) => members.includes(k)),
    );
  }

  /** The areas of coverages; such as no cell has room for are made smaller alike. */
  ofTones(tones: Float64Array, areas: Float64Array): void {
    areas.set(tones);
    for (const { members, hasBase } of this.cells) {
      const [base, ...others] = members as [number, ...number[]];
      if (hasBase) {
        const covered = others.reduce((sum, k) => sum + areas[k]!, 0);
        areas[base] = Math.max(0, areas[base]! - covered);
      }
      const sum = members.reduce((all, k) => all + areas[k]!, 0);
      if (sum > 1) for (const k of members) areas[k]! /= sum;
    }
  }

  /** The coverages of areas. */
  toTones(areas: Float64Array, tones: Float64Array): void {
    tones.set(areas);
    for (const { members, hasBase } of this.cells) {
      if (!hasBase) continue;
      const base = members[0]!;
      tones[base] = Math.min(
        1,
        members.reduce((sum, k) => sum + areas[k]!, 0),
      );
    }
  }

  /** Turns slopes with coverages, three of each ink, into slopes with areas: an area more is one of the base as well. */
  turnSlopes(slopes: Float64Array): void {
    for (const { members, hasBase } of this.cells) {
      if (!hasBase) continue;
      const base = members[0]! * 3;
      for (const k of members.slice(1)) {
        for (let c = 0; c < 3; c++) slopes[k * 3 + c]! += slopes[base + c]!;
      }
    }
  }
}
