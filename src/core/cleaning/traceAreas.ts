import { KerameusError } from '../units';
import { BARE } from '../raster';
import type { WorkMap } from './workMap';

/** What lies beyond the artwork. */
const BEYOND = 255;

/** A line between two labels, from one place where three or more meet to the next, or closed. */
export interface Chain {
  /** Labels on the left and on the right of it, seen along it with y down; BARE and what lies beyond the artwork are -1. */
  readonly left: number;
  readonly right: number;
  /** x and y in working pixels, alternating; a closed one does not repeat its first point. */
  readonly points: Float64Array;
  readonly isClosed: boolean;
  /** Points that are corners of the artwork itself. */
  readonly fixed: readonly number[];
}

/** The lines between areas, and how they go on where they meet. */
export interface Traced {
  readonly chains: readonly Chain[];
  /** For a meeting place and one of its four sides (4 x place + side), the chain that leaves through it, as its index, or ~index where it arrives. */
  readonly ends: ReadonlyMap<number, number>;
  /** The meeting place and side through which each end of a chain goes: its first and its last. */
  readonly sides: readonly (readonly [number, number])[];
  /** Labels round a meeting place, clockwise from its upper left. */
  readonly around: (place: number) => readonly number[];
}

/** Points of all lines together: more are a picture of noise. */
const MOST_POINTS = 6e6;

/**
 * Finds the lines between the areas of a map. A place between two pixels lies where the shares of their labels are equal. Lines are shared by the areas
 * on both sides, so that these meet exactly. Throws KerameusError `cleaning-pieces` where there are too many.
 */
export function traceAreas(map: WorkMap): Traced {
  return new Tracer(map).trace();
}

class Tracer {
  private readonly columns: number;
  private readonly done: Uint8Array;
  private readonly chains: Chain[] = [];
  private readonly ends = new Map<number, number>();
  private readonly sides: [number, number][] = [];
  private count = 0;

  constructor(private readonly map: WorkMap) {
    // Cells lie between four pixels; there is one more of them than pixels, each way.
    this.columns = map.width + 1;
    this.done = new Uint8Array(this.columns * (map.height + 1));
  }

  trace(): Traced {
    const crossed = this.crossedCells();
    for (const cell of crossed) {
      if (!this.isMeeting(cell)) continue;
      for (let side = 0; side < 4; side++) {
        if (this.isCrossed(cell, side) && !this.ends.has(cell * 4 + side)) this.follow(cell, side);
      }
    }
    for (const cell of crossed) {
      if (!this.done[cell] && !this.isMeeting(cell)) this.follow(cell, this.firstSide(cell));
    }
    const around = (place: number): readonly number[] =>
      [0, 1, 2, 3].map((corner) => rank(this.at(place, corner)));
    return { chains: this.chains, ends: this.ends, sides: this.sides, around };
  }

  /** The cells that a line goes through, row after row. */
  private crossedCells(): number[] {
    const { width, height, label } = this.map;
    const found: number[] = [];
    for (let row = 0; row <= height; row++) {
      for (let column = 0; column <= width; column++) {
        const i = row * width + column;
        const isInside = row > 0 && row < height && column > 0 && column < width;
        const own = label[i];
        if (isInside && own === label[i - 1] && own === label[i - width] && own === label[i - width - 1])
          continue;
        const cell = row * this.columns + column;
        if (this.firstSide(cell) >= 0) found.push(cell);
      }
    }
    if (found.length > MOST_POINTS) throw tooMany();
    return found;
  }

  /** The label at a corner of a cell, clockwise from its upper left. */
  private at(cell: number, corner: number): number {
    const x = (cell % this.columns) - (corner === 0 || corner === 3 ? 1 : 0);
    const y = Math.floor(cell / this.columns) - (corner < 2 ? 1 : 0);
    if (x < 0 || y < 0 || x >= this.map.width || y >= this.map.height) return BEYOND;
    return this.map.label[y * this.map.width + x]!;
  }

  /** Whether the labels at both ends of a side differ: side k lies between corner k and the next. */
  private isCrossed(cell: number, side: number): boolean {
    return rank(this.at(cell, side)) !== rank(this.at(cell, (side + 1) & 3));
  }

  private firstSide(cell: number): number {
    for (let side = 0; side < 4; side++) if (this.isCrossed(cell, side)) return side;
    return -1;
  }

  private isMeeting(cell: number): boolean {
    let crossed = 0;
    for (let side = 0; side < 4; side++) if (this.isCrossed(cell, side)) crossed++;
    return crossed > 2;
  }

  /** Where the line crosses a side. */
  private place(cell: number, side: number): [number, number] {
    const x = (cell % this.columns) - 1;
    const y = Math.floor(cell / this.columns) - 1;
    const [first, second] = [side, (side + 1) & 3];
    const [x0, y0] = [x + (first === 1 || first === 2 ? 1 : 0), y + (first >= 2 ? 1 : 0)];
    const [x1, y1] = [x + (second === 1 || second === 2 ? 1 : 0), y + (second >= 2 ? 1 : 0)];
    const share = this.share(x0, y0, x1, y1);
    return [x0 + 0.5 + share * (x1 - x0), y0 + 0.5 + share * (y1 - y0)];
  }

  /** How far from the first pixel to the second the edge lies. */
  private share(x0: number, y0: number, x1: number, y1: number): number {
    const { width, height, margin } = this.map;
    if (Math.min(x0, x1, y0, y1) < 0 || Math.max(x0, x1) >= width || Math.max(y0, y1) >= height) return 0.5;
    const [one, other] = [margin[y0 * width + x0]!, margin[y1 * width + x1]!];
    return one / (one + other);
  }

  /** The middle of where lines meet: on the artwork's edge where it lies there. */
  private meeting(cell: number): [number, number] {
    const { width, height } = this.map;
    let [x, y, count] = [0, 0, 0];
    for (let side = 0; side < 4; side++) {
      if (!this.isCrossed(cell, side)) continue;
      const [u, v] = this.place(cell, side);
      x += u;
      y += v;
      count++;
    }
    const [column, row] = [cell % this.columns, Math.floor(cell / this.columns)];
    return [
      column === 0 || column === width ? column : x / count,
      row === 0 || row === height ? row : y / count,
    ];
  }

  private isCorner(cell: number): boolean {
    const { width, height } = this.map;
    const [column, row] = [cell % this.columns, Math.floor(cell / this.columns)];
    return (column === 0 || column === width) && (row === 0 || row === height);
  }

  /** Follows a line from a cell out through one of its sides, to where lines meet or back to its beginning. */
  private follow(from: number, out: number): void {
    const points: number[] = [];
    const fixed: number[] = [];
    const starts = this.isMeeting(from);
    if (starts) points.push(...this.meeting(from));
    // Outward through side k, corner k is on the left.
    const [left, right] = [rank(this.at(from, out)), rank(this.at(from, (out + 1) & 3))];
    let [cell, side] = [from, out];
    let isClosed = false;
    for (;;) {
      points.push(...this.place(cell, side));
      cell += [-this.columns, 1, this.columns, -1][side]!;
      const entered = (side + 2) & 3;
      if (this.isMeeting(cell)) {
        points.push(...this.meeting(cell));
        this.ends.set(cell * 4 + entered, ~this.chains.length);
        side = entered;
        break;
      }
      if (this.isCorner(cell)) {
        fixed.push(points.length >> 1);
        points.push(cell % this.columns, Math.floor(cell / this.columns));
      }
      this.done[cell] = 1;
      side = [0, 1, 2, 3].find((each) => each !== entered && this.isCrossed(cell, each))!;
      if (cell === from) {
        isClosed = true;
        break;
      }
    }
    if (starts) this.ends.set(from * 4 + out, this.chains.length);
    this.sides.push([from * 4 + out, cell * 4 + side]);
    this.chains.push({ left, right, points: Float64Array.from(points), isClosed, fixed });
    this.count += points.length >> 1;
    if (this.count > MOST_POINTS) throw tooMany();
  }
}

/** The rank of a label: colours are 0 and more, what does not print -1. */
function rank(label: number): number {
  return label === BARE || label === BEYOND ? -1 : label;
}

function tooMany(): KerameusError {
  return new KerameusError({
    code: 'cleaning-pieces',
    parameter: 'colours',
    message:
      'In so many colours the artwork falls into millions of pieces: it has noise, or is no flat artwork.',
    remedy: 'Ask for fewer colours, or print it by its tones.',
  });
}
