import { MM_PER_INCH } from '../units';

/** What repeats: dots on a grid, or the threads of a mesh. */
export interface Grating {
  /** Cells per inch. */
  readonly lpi: number;
  /** Counter-clockwise as seen on the print. */
  readonly angleDeg: number;
}

/** A woven mesh, its threads at 0 and 90 degrees. */
export interface WovenMesh {
  /** Threads per inch. */
  readonly count: number;
  readonly threadUm: number;
}

/** A pattern that two or three gratings make together. */
export interface Beat {
  readonly periodMm: number;
  /** Amplitude against the mean, 0..1. */
  readonly strength: number;
  /** Amplitude as the eye weighs it at arm's length, 0..1. */
  readonly seen: number;
  /** Whole numbers of cells of each grating that make it, two for each. */
  readonly orders: readonly number[];
}

type Vector = readonly [number, number];

interface Harmonic {
  readonly vector: Vector;
  readonly amplitude: number;
  readonly orders: readonly [number, number];
}

/** A beat that the eye weighs as at least this much shows. Common practice, no source. */
export const SHOWS_FROM = 0.01;

/** How far a print is looked at, in millimetres. */
const ARM_MM = 600;
/** The eye's sensitivity at its best, of the formula below. */
const BEST_SENSITIVITY = 0.981;

/**
 * How well the eye sees a pattern of a period at arm's length, 0..1.
 * Mannos and Sakrison, The effects of a visual fidelity criterion on the encoding of images, IEEE Trans. Inf. Theory 20 (1974).
 */
export function eyeSensitivity(periodMm: number): number {
  const perDegree = (ARM_MM * Math.tan(Math.PI / 180)) / periodMm;
  const value = 2.6 * (0.0192 + 0.114 * perDegree) * Math.exp(-((0.114 * perDegree) ** 1.1));
  return Math.min(1, Math.max(0, value / BEST_SENSITIVITY));
}

/** Bessel function of the first kind, order one, for what a disc of ink holds of a frequency: by its integral. */
function besselJ1(x: number): number {
  const steps = 64;
  let sum = 0;
  for (let k = 0; k < steps; k++) {
    const t = ((k + 0.5) * Math.PI) / steps;
    sum += Math.cos(t - x * Math.sin(t));
  }
  return sum / steps;
}

const HIGHEST_ORDER = 8;
/** Harmonics weaker than this make no beat that shows. */
const WEAKEST = 0.004;

const amplitudeTables = new Map<string, readonly (number | undefined)[]>();

/** What round dots of a radius, in cells, hold of each harmonic; by the square of its order. */
function amplitudesOf(radius: number, highest: number): readonly (number | undefined)[] {
  const key = `${radius}/${highest}`;
  let table = amplitudeTables.get(key);
  if (!table) {
    table = Array.from({ length: 2 * highest * highest + 1 }, (_, square) => {
      const k = Math.sqrt(square);
      return square === 0 ? undefined : Math.abs((2 * radius * besselJ1(2 * Math.PI * radius * k)) / k);
    });
    amplitudeTables.set(key, table);
  }
  return table;
}

/** The vectors of a screen's lattice up to an order, with what round dots of a coverage hold of each. */
function screenHarmonics({ lpi, angleDeg }: Grating, coverage: number, highest: number): Harmonic[] {
  const theta = (angleDeg * Math.PI) / 180;
  // Dark tones are round openings in ink: the same amplitudes.
  const dot = Math.min(coverage, 1 - coverage);
  const radius = Math.sqrt(dot / Math.PI);
  const amplitudes = amplitudesOf(radius, highest);
  const harmonics: Harmonic[] = [];
  for (let m = -highest; m <= highest; m++) {
    for (let n = -highest; n <= highest; n++) {
      const amplitude = amplitudes[m * m + n * n];
      if (amplitude === undefined || amplitude < WEAKEST) continue;
      harmonics.push({
        vector: [
          lpi * (m * Math.cos(theta) - n * Math.sin(theta)),
          lpi * (m * Math.sin(theta) + n * Math.cos(theta)),
        ],
        amplitude,
        orders: [m, n],
      });
    }
  }
  return harmonics;
}

/** What square openings of a mesh hold of its lattice, against their mean. */
function meshHarmonics({ count, threadUm }: WovenMesh, scale: number, turnDeg: number): Harmonic[] {
  const open = Math.max(0.05, 1 - (count * threadUm) / 25400);
  const sinc = (order: number) =>
    order === 0 ? 1 : Math.sin(Math.PI * order * open) / (Math.PI * order * open);
  const turn = (turnDeg * Math.PI) / 180;
  const highest = 2;
  const harmonics: Harmonic[] = [];
  for (let i = -highest; i <= highest; i++) {
    for (let j = -highest; j <= highest; j++) {
      // A vector and its opposite make the same beats.
      if (i < 0 || (i === 0 && j <= 0)) continue;
      const lpi = count * scale;
      harmonics.push({
        vector: [
          lpi * (i * Math.cos(turn) - j * Math.sin(turn)),
          lpi * (i * Math.sin(turn) + j * Math.cos(turn)),
        ],
        amplitude: 2 * Math.abs(sinc(i) * sinc(j)),
        orders: [i, j],
      });
    }
  }
  return harmonics;
}

function beatOf(vector: Vector, strength: number, orders: readonly number[]): Beat {
  const frequency = Math.hypot(vector[0], vector[1]);
  const periodMm = frequency > 0 ? MM_PER_INCH / frequency : Number.POSITIVE_INFINITY;
  const seen = Number.isFinite(periodMm) ? strength * eyeSensitivity(periodMm) : 0;
  return { periodMm, strength, seen, orders };
}

/** Beats shorter than this are fine structure, not patterns. */
const SHORTEST_MM = 1.5;

/** Of beats with one period the strongest one gives its name; of equal ones the one with the larger orders. */
function isNamedBefore(beat: Beat, known: Beat): boolean {
  if (Math.abs(beat.strength - known.strength) > 1e-9) return beat.strength > known.strength;
  const k = beat.orders.findIndex((order, index) => order !== known.orders[index]);
  return k >= 0 && beat.orders[k]! > known.orders[k]!;
}

function ranked(beats: readonly Beat[]): Beat[] {
  const best = new Map<string, Beat>();
  for (const beat of beats) {
    if (beat.periodMm < SHORTEST_MM) continue;
    // A vector and its opposite, and the four like ones of a square lattice, are one pattern.
    const key = beat.periodMm.toFixed(3);
    const known = best.get(key);
    if (!known || isNamedBefore(beat, known)) best.set(key, beat);
  }
  return [...best.values()].sort((p, q) => q.seen - p.seen);
}

/**
 * Beats of a screen with its mesh, the one that is seen best first: differences of their lattice vectors up to the eighth order,
 * period = 1 / |f1 - f2| with f as vectors.
 *
 * @param coverage tone of the plate, 0..1; amplitudes of the harmonics follow from it.
 * @param scale the mesh's count against its name, as meshes are stretched.
 * @param turnDeg by which the threads are not at 0 and 90 degrees.
 */
export function meshBeats(
  screen: Grating,
  mesh: WovenMesh,
  coverage: number,
  scale = 1,
  turnDeg = 0,
): Beat[] {
  return beatsWithThreads(
    screenHarmonics(screen, coverage, HIGHEST_ORDER),
    meshHarmonics(mesh, scale, turnDeg),
  );
}

const HIGHEST_BEAT = MM_PER_INCH / SHORTEST_MM;

function beatsWithThreads(dots: readonly Harmonic[], threads: readonly Harmonic[]): Beat[] {
  const beats: Beat[] = [];
  for (const thread of threads) {
    for (const dot of dots) {
      const x = dot.vector[0] - thread.vector[0];
      const y = dot.vector[1] - thread.vector[1];
      if (x * x + y * y > HIGHEST_BEAT * HIGHEST_BEAT) continue;
      beats.push(beatOf([x, y], dot.amplitude * thread.amplitude, [...dot.orders, ...thread.orders]));
    }
  }
  return ranked(beats);
}

const MESH_SCALES = [-4, -3, -2, -1, 0, 1, 2, 3, 4].map((percent) => 1 + percent / 100);
const MESH_TURNS = [-1, -0.5, 0, 0.5, 1];

/** What is to be expected of a screen on meshes as they come: stretched by 4 % and turned by 1 degree either way. */
export interface MeshRisk {
  /** The beat that is seen best on any of them; null where none has one. */
  readonly worst: Beat | null;
  /** Share of them on which a beat shows, 0..1. */
  readonly share: number;
}

export function meshRisk(screen: Grating, mesh: WovenMesh, coverage: number): MeshRisk {
  const dots = screenHarmonics(screen, coverage, HIGHEST_ORDER);
  let worst: Beat | null = null;
  let showing = 0;
  for (const scale of MESH_SCALES) {
    for (const turn of MESH_TURNS) {
      const beat = beatsWithThreads(dots, meshHarmonics(mesh, scale, turn))[0];
      if (!beat) continue;
      if (beat.seen >= SHOWS_FROM) showing++;
      if (!worst || beat.seen > worst.seen) worst = beat;
    }
  }
  return { worst, share: showing / (MESH_SCALES.length * MESH_TURNS.length) };
}

/** Orders of a plate's lattice that are strong enough to beat with another plate's. */
const PLATE_ORDER = 2;

/** Beats of two plates' dots, the one that is seen best first. Plates of one angle and frequency have none. */
export function pairBeats(one: Grating, other: Grating, coverage: number): Beat[] {
  const beats: Beat[] = [];
  for (const p of screenHarmonics(one, coverage, PLATE_ORDER)) {
    for (const q of screenHarmonics(other, coverage, PLATE_ORDER)) {
      const vector: Vector = [p.vector[0] - q.vector[0], p.vector[1] - q.vector[1]];
      if (Math.hypot(...vector) < 1e-6) continue;
      beats.push(beatOf(vector, p.amplitude * q.amplitude, [...p.orders, ...q.orders]));
    }
  }
  return ranked(beats);
}

/** Beats that three plates make only together, of their first orders. */
export function tripleBeats(a: Grating, b: Grating, c: Grating, coverage: number): Beat[] {
  const beats: Beat[] = [];
  const [first, second, third] = [a, b, c].map((each) => screenHarmonics(each, coverage, 1)) as [
    Harmonic[],
    Harmonic[],
    Harmonic[],
  ];
  for (const p of first) {
    for (const q of second) {
      for (const r of third) {
        const vector: Vector = [
          p.vector[0] + q.vector[0] + r.vector[0],
          p.vector[1] + q.vector[1] + r.vector[1],
        ];
        if (Math.hypot(...vector) < 1e-6) continue;
        const strength = p.amplitude * q.amplitude * r.amplitude;
        beats.push(beatOf(vector, strength, [...p.orders, ...q.orders, ...r.orders]));
      }
    }
  }
  return ranked(beats);
}

/** Angles that stay clear of a mesh at 0/90 and 30 degrees apart. Common practice, no source. */
export const CLEAR_ANGLES = [22.5, 52.5, 82.5] as const;

/**
 * Angles for plates with dots: those that overlap get different ones as far as three go round.
 *
 * @param overlap share of the print where two plates both have dots.
 * @returns an angle for each plate, in their order.
 */
export function findAngles(count: number, overlap: (one: number, other: number) => number): number[] {
  const angles: (number | null)[] = Array.from({ length: count }, () => null);
  const total = (one: number) =>
    angles.reduce<number>((sum, _, other) => (other === one ? sum : sum + overlap(one, other)), 0);
  const order = angles.map((_, k) => k).sort((p, q) => total(q) - total(p) || p - q);
  for (const plate of order) {
    const costs = CLEAR_ANGLES.map((angle) =>
      angles.reduce<number>((sum, each, other) => (each === angle ? sum + overlap(plate, other) : sum), 0),
    );
    angles[plate] = CLEAR_ANGLES[costs.indexOf(Math.min(...costs))]!;
  }
  return angles as number[];
}
