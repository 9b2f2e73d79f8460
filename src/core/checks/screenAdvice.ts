import {
  type Beat,
  type Grating,
  type MeshRisk,
  SHOWS_FROM,
  findAngles,
  meshRisk,
  pairBeats,
  tripleBeats,
} from '../screening';
import { type Plate, START_STOCK, threadUmOf } from '../sheet';
import { trimNumber } from '../units';

/** Fewer threads than this across a cell do not carry its dots; better are five. Common practice, no source. */
const LEAST_THREADS = 4;
const RIGHT_THREADS = 5;
/** Fewer greys than this show as steps. Common practice, no source. */
const LEAST_GREYS = 100;
/** A screen nearer than this to the threads, or to their diagonal, beats with them. Common practice, no source. */
const CLEAR_OF_THREADS_DEG = 5;

/** What mesh, frequency and film resolution mean for a plate's dots. */
export interface ScreenAdvice {
  /** Threads across a cell. */
  readonly threads: number;
  readonly filmDotsAcross: number;
  readonly greys: number;
  /** Why this setting will fail, and what to do; empty when nothing is wrong. */
  readonly warnings: readonly { readonly message: string; readonly remedy: string }[];
}

/** Levels of a cell: (dpi / lpi)² + 1. */
export function greyLevels(dpi: number, lpi: number): number {
  return Math.floor((dpi / lpi) ** 2) + 1;
}

export function adviseScreen(plate: Plate, dpi: number): ScreenAdvice {
  const { lpi, angleDeg } = plate.screen;
  const threads = plate.mesh / lpi;
  const greys = greyLevels(dpi, lpi);
  const warnings: { message: string; remedy: string }[] = [];
  if (threads < LEAST_THREADS) {
    warnings.push({
      message: `${trimNumber(threads, 1)} threads to a cell do not carry its dots.`,
      remedy: `Use ${Math.floor(plate.mesh / LEAST_THREADS)} lpi at most, or a mesh of ${Math.ceil(lpi * LEAST_THREADS)} and finer.`,
    });
  }
  if (greys < LEAST_GREYS) {
    warnings.push({
      message: `${greys} greys show as steps.`,
      remedy: `Use ${Math.floor(dpi / Math.sqrt(LEAST_GREYS - 1))} lpi at most, or a finer film resolution.`,
    });
  }
  const off = ((angleDeg % 45) + 45) % 45;
  if (Math.min(off, 45 - off) < CLEAR_OF_THREADS_DEG) {
    warnings.push({
      message: `${trimNumber(angleDeg, 1)}° lies along the threads or their diagonal.`,
      remedy: '22.5° is clear of both.',
    });
  }
  return { threads, filmDotsAcross: dpi / lpi, greys, warnings };
}

/** Frequencies that a mesh carries on films of a resolution: four to five threads across a cell, and enough greys. */
export function frequenciesFor(mesh: number, dpi: number): { readonly least: number; readonly most: number } {
  const most = Math.min(
    Math.floor(mesh / LEAST_THREADS),
    Math.floor(dpi / Math.ceil(Math.sqrt(LEAST_GREYS - 1))),
  );
  return { least: Math.min(most, Math.ceil(mesh / RIGHT_THREADS)), most };
}

/** Tones at which beats are looked for: those where dots are strongest, and a light one. */
const TONES = [0.2, 0.4];

function strongest(beats: readonly (Beat | null | undefined)[]): Beat | null {
  let best: Beat | null = null;
  for (const beat of beats) if (beat && (!best || beat.seen > best.seen)) best = beat;
  return best;
}

function gratingOf({ screen }: Plate): Grating {
  return { lpi: screen.lpi, angleDeg: screen.angleDeg };
}

function hasGrid(plate: Plate): boolean {
  return plate.screen.screening === 'grid';
}

/** What a screen makes with a mesh, at any tone and as meshes vary. */
export function riskWithMesh(screen: Grating, mesh: number): MeshRisk {
  const woven = { count: mesh, threadUm: threadUmOf(START_STOCK.meshes, mesh) };
  const risks = TONES.map((tone) => meshRisk(screen, woven, tone));
  return {
    worst: strongest(risks.map(({ worst }) => worst)),
    share: Math.max(...risks.map(({ share }) => share)),
  };
}

/** Plates that beat with each other, and their beat that is seen best. */
export interface PlateBeat {
  readonly plates: readonly Plate[];
  readonly beat: Beat;
}

/**
 * Beats of plates that have dots over each other, in pairs and in threes, the one that is seen best first.
 *
 * @param plates those with dots.
 * @param meet whether two of them overlap.
 */
export function beatsOfPlates(
  plates: readonly Plate[],
  meet: (one: Plate, other: Plate) => boolean,
): PlateBeat[] {
  const grids = plates.filter(hasGrid);
  const found: PlateBeat[] = [];
  grids.forEach((a, i) => {
    grids.slice(i + 1).forEach((b, j) => {
      if (!meet(a, b)) return;
      const beat = strongest(TONES.map((tone) => pairBeats(gratingOf(a), gratingOf(b), tone)[0]));
      if (beat) found.push({ plates: [a, b], beat });
      for (const c of grids.slice(i + j + 2)) {
        if (!meet(a, c) || !meet(b, c)) continue;
        const three = strongest(
          TONES.map((tone) => tripleBeats(gratingOf(a), gratingOf(b), gratingOf(c), tone)[0]),
        );
        if (three) found.push({ plates: [a, b, c], beat: three });
      }
    });
  });
  return found.sort((p, q) => q.beat.seen - p.beat.seen);
}

/** Whether a beat shows on the garment. */
export function shows(beat: Beat | null): boolean {
  return beat !== null && beat.seen >= SHOWS_FROM;
}

export interface MoirePoint {
  /** Angle in degrees, or frequency in lpi. */
  readonly at: number;
  /** Share of the meshes as they come on which a pattern shows, 0..1. */
  readonly mesh: number;
  /** The other plates with which a pattern shows, of all of them, 0..1. */
  readonly plates: number;
}

/** How the beats of one plate change with its angle or its frequency, everything else as it is. */
export function moireCurve(
  plate: Plate,
  others: readonly Plate[],
  by: 'angle' | 'lpi',
  dpi: number,
): MoirePoint[] {
  const from = by === 'angle' ? 0 : 20;
  const to = by === 'angle' ? 90 : Math.min(90, Math.floor(dpi / 6));
  const step = by === 'angle' ? 1.5 : 1;
  const grids = others.filter(hasGrid);
  const points: MoirePoint[] = [];
  for (let at = from; at <= to; at += step) {
    const screen = { ...gratingOf(plate), ...(by === 'angle' ? { angleDeg: at } : { lpi: at }) };
    const tried: Plate = { ...plate, screen: { ...plate.screen, ...screen } };
    points.push({
      at,
      mesh: riskWithMesh(screen, plate.mesh).share,
      plates:
        grids.filter((other) => shows(beatsOfPlates([tried, other], () => true)[0]?.beat ?? null)).length /
        Math.max(1, grids.length),
    });
  }
  return points;
}

/**
 * Angles and frequencies for plates with dots: angles 30 degrees apart where plates overlap, and for each mesh the frequency within
 * four to five threads that shows a pattern on the fewest.
 *
 * @param meet share of the print where two plates both have dots.
 */
export function suggestScreens(
  plates: readonly Plate[],
  dpi: number,
  meet: (one: Plate, other: Plate) => number,
): ReadonlyMap<string, Grating> {
  const grids = plates.filter(hasGrid);
  const angles = findAngles(grids.length, (p, q) => meet(grids[p]!, grids[q]!));
  const suggested = new Map<string, Grating>();
  const known = new Map<string, number>();
  grids.forEach((plate, k) => {
    const angleDeg = angles[k]!;
    const key = `${plate.mesh}/${angleDeg}`;
    let lpi = known.get(key);
    if (lpi === undefined) {
      const { least, most } = frequenciesFor(plate.mesh, dpi);
      let best = { lpi: least, share: Number.POSITIVE_INFINITY };
      for (let each = most; each >= least; each--) {
        const { share } = riskWithMesh({ lpi: each, angleDeg }, plate.mesh);
        if (share < best.share - 1e-6) best = { lpi: each, share };
      }
      lpi = best.lpi;
      known.set(key, lpi);
    }
    suggested.set(plate.id, { lpi, angleDeg });
  });
  return suggested;
}

/** A beat in words. */
export function describeBeat(beat: Beat): string {
  return `${trimNumber(beat.periodMm, 1)} mm`;
}
