import type { EdgeKind, EdgePlace, EdgeSurvey, ShiftFault } from '../checks';
import type { PlatePlanes } from '../fit';
import type { Rect } from '../geometry';
import type { JobSheet, Plate } from '../sheet';
import type { PrintGrid } from './printGrid';

/** Screens that lie off by more are not thought of. */
const REACH_MM = 0.6;
/** Of each square of this side the tightest place is kept, and what shows is added up: that is seen together. */
const PLACE_MM = 8;
/** Squares overlap by half. */
const CELL_MM = PLACE_MM / 2;
/** Cells of a row, and a column more than any print has. */
const CELL_ROW = 4096;
const MOST_PLACES = 40;

/** Ways that a screen can lie off: each is a step of pixels, and how long that is. */
const WAYS = [
  [1, 0, 1],
  [1, 1, Math.SQRT2],
  [0, 1, 1],
  [-1, 1, Math.SQRT2],
  [-1, 0, 1],
  [-1, -1, Math.SQRT2],
  [0, -1, 1],
  [1, -1, Math.SQRT2],
] as const;

interface Gathered {
  readonly fault: ShiftFault;
  readonly plate: Plate;
  readonly beside: Plate | null;
  /** For each way, then for each margin in steps of that way: pixels of edge. */
  readonly counts: Float64Array;
  readonly places: Map<number, { -readonly [K in keyof EdgePlace]: EdgePlace[K] }>;
}

/**
 * Finds at every edge of every plate how far its screen may lie off before garment or white shows where neither stood. Edges are walked from, pixel by pixel:
 * into the plate that moves away, until no other colour lies there; out of a base that moves, until no colour lies on it.
 */
export class EdgeCounter {
  private readonly grid: PrintGrid;
  private readonly plates: readonly Plate[];
  private readonly reach: number;
  private readonly toleranceMm: number;
  private readonly base: number;
  private readonly highlights: number;
  private readonly found = new Map<number, Gathered>();
  /** For each fault and plate, by cell: pixels of edge for each way and margin. */
  private readonly cells = new Map<number, Map<number, Uint16Array>>();

  constructor(sheet: JobSheet, grid: PrintGrid) {
    this.grid = grid;
    this.plates = sheet.plates;
    this.toleranceMm = sheet.press.toleranceMm;
    this.reach = Math.ceil(REACH_MM * grid.pxPerMm);
    const bitsOf = (role: Plate['role']) =>
      sheet.plates.reduce((bits, plate, k) => bits | (plate.role === role ? 1 << k : 0), 0);
    this.base = bitsOf('underbase');
    this.highlights = bitsOf('highlight');
  }

  /** How far edges are walked, in pixels. */
  get halo(): number {
    return this.reach + 1;
  }

  /**
   * @param planes of a band and `halo` round it.
   * @param strong for each of them where it prints so much that its end is an edge; left out: wherever it prints.
   */
  add(planes: PlatePlanes, band: Rect, strong?: readonly Uint8Array[]): void {
    const { width } = planes.rect;
    const inks = stackOf(planes);
    const ending = strong ? stackOf(planes, strong) : inks;
    const left = band.x - planes.rect.x;
    const top = band.y - planes.rect.y;
    const steps = WAYS.map(([dx, dy]) => dy * width + dx);
    for (let row = top; row < top + band.height; row++) {
      const from = row * width + left;
      // Whether a pixel's column, from the row above to the one below, is like the pixel: of this pixel and the two before it.
      let [before, own] = [isEvenColumn(inks, from - 1, width), isEvenColumn(inks, from, width)];
      for (let i = from, end = i + band.width; i < end; i++) {
        const after = isEvenColumn(inks, i + 1, width);
        const here = inks[i]!;
        const isInside = before && own && after && here === inks[i - 1] && here === inks[i + 1];
        before = own;
        own = after;
        if (isInside || here === 0) continue;
        for (let way = 0; way < steps.length; way++) {
          const ends = ending[i]! & ~inks[i + steps[way]!]!;
          if (ends !== 0) this.walk(inks, i, steps[way]!, way, ends, planes.rect);
        }
      }
    }
  }

  /** @param ends the plates that end between a pixel and its neighbour on a way. */
  private walk(inks: Uint16Array, i: number, step: number, way: number, ends: number, rect: Rect): void {
    const { base, highlights, reach } = this;
    const here = inks[i]!;
    const beyond = inks[i + step]!;
    for (let k = 0; k < this.plates.length; k++) {
      const bit = 1 << k;
      if ((ends & bit) === 0) continue;
      if (bit === base) {
        // White alone, or below a white highlight, moves as any shape does.
        if ((here & ~base & ~highlights) === 0) continue;
        for (let t = 1, j = i + step; t <= reach; t++, j += step) {
          const inked = inks[j]!;
          if ((inked & base) !== 0) break;
          if (inked !== 0) continue;
          this.note(inks, 'white', k, 0, way, t - 1, i, rect);
          break;
        }
        continue;
      }
      for (let t = 0, j = i; t < reach && (inks[j]! & bit) !== 0; t++, j -= step) {
        const others = inks[j]! & ~bit;
        if (others === 0) {
          // At bare garment the shape is only moved; a base that is choked may come further in.
          if (beyond === 0) continue;
          this.note(inks, 'garment', k, beyond, way, t, i, rect);
          break;
        }
        if (others === base) {
          // White beside white is not seen.
          const isWhite = beyond === base || ((bit | beyond) & highlights) !== 0;
          if (!isWhite) this.note(inks, 'white', k, beyond, way, t, i, rect);
          break;
        }
      }
    }
  }

  private note(
    inks: Uint16Array,
    fault: ShiftFault,
    k: number,
    beyond: number,
    way: number,
    margin: number,
    i: number,
    rect: Rect,
  ): void {
    // What white stands beside shows garment where either of them moves away.
    const colours = beyond & ~this.base || (fault === 'garment' ? beyond : 0);
    const beside = colours === 0 ? -1 : 31 - Math.clz32(colours);
    const key = ((fault === 'white' ? 1 : 0) * 32 + k) * 32 + beside + 1;
    let gathered = this.found.get(key);
    if (!gathered) {
      gathered = {
        fault,
        plate: this.plates[k]!,
        beside: this.plates[beside] ?? null,
        counts: new Float64Array(WAYS.length * (this.reach + 1)),
        places: new Map(),
      };
      this.found.set(key, gathered);
    }
    const slot = way * (this.reach + 1) + margin;
    gathered.counts[slot]!++;
    const { pxPerMm } = this.grid;
    const xMm = (rect.x + (i % rect.width) + 0.5) / pxPerMm;
    const yMm = (rect.y + Math.floor(i / rect.width) + 0.5) / pxPerMm;
    this.cellOf(fault, k, xMm, yMm)[slot]!++;
    const square = Math.floor(yMm / PLACE_MM) * CELL_ROW + Math.floor(xMm / PLACE_MM);
    const marginMm = (margin * WAYS[way]![2]) / pxPerMm;
    const known = gathered.places.get(square);
    const [dx, dy, length] = WAYS[way]!;
    const steps = Math.floor((this.toleranceMm * pxPerMm) / length + 1e-6);
    const shownMm2 = Math.max(0, steps - margin) / pxPerMm ** 2 / WAYS.length + (known?.shownMm2 ?? 0);
    if (known && marginMm >= known.marginMm) {
      known.shownMm2 = shownMm2;
      return;
    }
    const step = dy * rect.width + dx;
    const profile = Array.from({ length: 2 * this.reach + 1 }, (_, n) => inks[i + (n - this.reach) * step]!);
    const profileStepMm = length / pxPerMm;
    gathered.places.set(square, { xMm, yMm, marginMm, shownMm2, profile, profileStepMm });
  }

  private cellOf(fault: ShiftFault, k: number, xMm: number, yMm: number): Uint16Array {
    const key = (fault === 'white' ? 1 : 0) * 32 + k;
    let cells = this.cells.get(key);
    if (!cells) this.cells.set(key, (cells = new Map()));
    const at = (Math.floor(yMm / CELL_MM) + 1) * CELL_ROW + Math.floor(xMm / CELL_MM) + 1;
    let counts = cells.get(at);
    if (!counts) cells.set(at, (counts = new Uint16Array(WAYS.length * (this.reach + 1))));
    return counts;
  }

  /** For shifts of 0, 1, 2 … pixels the most that shows of one thing in any square when one screen lies off by that in any of eight ways, in mm². */
  private worstOf(fault: ShiftFault): number[] {
    const perWay = this.reach + 1;
    const { pxPerMm } = this.grid;
    const worst = Array.from({ length: perWay }, () => 0);
    for (const [key, cells] of this.cells) {
      if (key >> 5 !== (fault === 'white' ? 1 : 0)) continue;
      const corners = new Set(
        [...cells.keys()].flatMap((at) => [at, at - 1, at - CELL_ROW, at - CELL_ROW - 1]),
      );
      for (const corner of corners) {
        const parts = [corner, corner + 1, corner + CELL_ROW, corner + CELL_ROW + 1].flatMap(
          (at) => cells.get(at) ?? [],
        );
        WAYS.forEach(([, , length], way) => {
          // What shows grows with each step by the edges whose margin is used up; a pixel of it is as large whichever way it is met.
          let [edges, shown, taken] = [0, 0, 0];
          for (let n = 1; n < perWay; n++) {
            for (; taken < Math.floor(n / length + 1e-6); taken++) {
              for (const part of parts) edges += part[way * perWay + taken]!;
              shown += edges;
            }
            worst[n] = Math.max(worst[n]!, shown / pxPerMm ** 2);
          }
        });
      }
    }
    return worst;
  }

  result(): EdgeSurvey {
    const { pxPerMm } = this.grid;
    const worstMm2 = { white: this.worstOf('white'), garment: this.worstOf('garment') };
    const edges = [...this.found.values()].map(({ fault, plate, beside, counts, places }): EdgeKind => {
      const perWay = this.reach + 1;
      const tightest = [...places.values()].sort(tighter).slice(0, MOST_PLACES);
      return {
        fault,
        plateId: plate.id,
        besideId: beside?.id ?? null,
        ways: WAYS.map(([, , length], way) => ({
          // A pixel of edge that a slanting way meets is as much narrower.
          pixelMm: 1 / (pxPerMm * length),
          stepMm: length / pxPerMm,
          pixels: [...counts.subarray(way * perWay, (way + 1) * perWay)],
          isStraight: length === 1,
        })),
        tightest,
      };
    });
    return { reachMm: REACH_MM, stepMm: 1 / pxPerMm, worstMm2, edges };
  }
}

function isEvenColumn(inks: Uint16Array, i: number, width: number): boolean {
  return inks[i] === inks[i - width] && inks[i] === inks[i + width];
}

/** Places where more shows come first. */
function tighter(p: EdgePlace, q: EdgePlace): number {
  return q.shownMm2 - p.shownMm2 || p.marginMm - q.marginMm;
}

/** For each pixel which plates print there, a bit each. @param shapes in the place of the planes' own. */
function stackOf(
  { rect, planes }: PlatePlanes,
  shapes: readonly Uint8Array[] = planes.map(({ shape }) => shape),
): Uint16Array {
  const inks = new Uint16Array(rect.width * rect.height);
  const base = planes.findIndex(({ plate }) => plate.role === 'underbase');
  planes.forEach(({ plate }, own) => {
    const shape = shapes[own]!;
    // A special plate is no colour, and is not seen; but white in dots is part of the base.
    const isBase = base >= 0 && plate.special?.kind === 'halftone';
    if (plate.role === 'special' && !isBase) return;
    const bit = 1 << (isBase ? base : own);
    for (let i = shape.indexOf(255); i >= 0;) {
      const gap = shape.indexOf(0, i);
      const end = gap < 0 ? shape.length : gap;
      for (; i < end; i++) inks[i]! |= bit;
      i = gap < 0 ? -1 : shape.indexOf(255, gap);
    }
  });
  return inks;
}
