import { KerameusError } from '../units';

/** A tone on film, or asked of a film printer, and what was measured for it; both 0..1. */
export type TonePair = readonly [film: number, measured: number];

/** A reading that falls by more than this below one before it is no tolerance of the instrument any more. */
const CONTRADICTION = 0.03;

/**
 * Makes readings of a step wedge into pairs that rise: small dips, which every instrument has, are averaged away. Nothing and solid
 * are taken to print as nothing and solid.
 *
 * Throws KerameusError `wedge-readings` naming the first step that contradicts the ones before it, or when there are too
 * few.
 */
export function risingTones(readings: readonly TonePair[]): TonePair[] {
  const sorted = [...readings].sort((p, q) => p[0] - q[0]);
  const percent = (value: number) => `${Math.round(value * 1000) / 10} %`;
  const refuse = (message: string) =>
    new KerameusError({
      code: 'wedge-readings',
      parameter: 'readings',
      message,
      remedy: 'Measure that step again, or leave it out.',
    });
  for (const [film, measured] of sorted) {
    if (!(film >= 0 && film <= 1 && measured >= 0 && measured <= 1)) {
      throw refuse(`The reading ${percent(measured)} at ${percent(film)} is not between 0 and 100 %.`);
    }
  }
  const inner = sorted.filter(([film]) => film > 0 && film < 1);
  if (inner.length < 2) throw refuse('A wedge needs readings of two steps at least between 0 and 100 %.');
  let most = 0;
  inner.forEach(([film, measured], k) => {
    if (k > 0 && film === inner[k - 1]![0]) throw refuse(`There are two readings at ${percent(film)}.`);
    if (measured < most - CONTRADICTION) {
      throw refuse(
        `At ${percent(film)} the wedge reads ${percent(measured)}, less than the ${percent(most)} of a lighter step.`,
      );
    }
    most = Math.max(most, measured);
  });
  return [[0, 0], ...averageDips(inner), [1, 1]];
}

/** The nearest readings that never fall: neighbours that do are averaged (pool adjacent violators). */
function averageDips(pairs: readonly TonePair[]): TonePair[] {
  const pools: { sum: number; films: number[] }[] = [];
  for (const [film, measured] of pairs) {
    pools.push({ sum: measured, films: [film] });
    for (;;) {
      const last = pools.at(-1)!;
      const before = pools.at(-2);
      if (!before || before.sum / before.films.length <= last.sum / last.films.length) break;
      pools.splice(-2, 2, { sum: before.sum + last.sum, films: [...before.films, ...last.films] });
    }
  }
  return pools.flatMap(({ sum, films }) => films.map((film): TonePair => [film, sum / films.length]));
}

/**
 * A smooth curve through pairs that rise, which rises as they do: cubic pieces whose slopes are held back where they would overshoot.
 * Fritsch and Carlson, Monotone Piecewise Cubic Interpolation, SIAM J. Numer. Anal. 17 (1980), with the limit on the circle of
 * radius 3.
 *
 * @param pairs at least two, rising in the first value, never falling in the second.
 */
export function monotoneCurve(pairs: readonly TonePair[]): (x: number) => number {
  const count = pairs.length;
  const secants = pairs.slice(1).map(([x, y], k) => (y - pairs[k]![1]) / (x - pairs[k]![0]));
  const slopes = pairs.map((_, k) => {
    if (k === 0) return secants[0]!;
    if (k === count - 1) return secants[count - 2]!;
    return secants[k - 1]! * secants[k]! <= 0 ? 0 : (secants[k - 1]! + secants[k]!) / 2;
  });
  secants.forEach((secant, k) => {
    if (secant === 0) {
      slopes[k] = 0;
      slopes[k + 1] = 0;
      return;
    }
    const alpha = slopes[k]! / secant;
    const beta = slopes[k + 1]! / secant;
    const length = Math.hypot(alpha, beta);
    if (length <= 3) return;
    slopes[k] = (3 / length) * alpha * secant;
    slopes[k + 1] = (3 / length) * beta * secant;
  });
  return (x) => {
    if (x <= pairs[0]![0]) return pairs[0]![1];
    if (x >= pairs[count - 1]![0]) return pairs[count - 1]![1];
    let k = 0;
    while (x > pairs[k + 1]![0]) k++;
    const [x0, y0] = pairs[k]!;
    const [x1, y1] = pairs[k + 1]!;
    const h = x1 - x0;
    const t = (x - x0) / h;
    const u = 1 - t;
    return (
      y0 * (1 + 2 * t) * u * u +
      slopes[k]! * h * t * u * u +
      y1 * t * t * (3 - 2 * t) -
      slopes[k + 1]! * h * t * t * u
    );
  };
}

/** The least x in 0..1 at which a rising curve reaches y. */
export function inverseOf(curve: (x: number) => number): (y: number) => number {
  return (y) => {
    let [low, high] = [0, 1];
    if (y <= curve(0)) return 0;
    for (let k = 0; k < 40; k++) {
      const middle = (low + high) / 2;
      if (curve(middle) < y) low = middle;
      else high = middle;
    }
    return high;
  };
}

/**
 * Readings of a wedge as they are written down: film and print in percent on each line, parted by spaces, tabs, commas or semicolons;
 * lines that begin with # are notes. Throws what `risingTones` throws.
 */
export function parseReadings(text: string): TonePair[] {
  const pairs = text
    .split(/\r?\n/)
    .map((line) => line.trim())
    .filter((line) => line !== '' && !line.startsWith('#'))
    .map((line): TonePair => {
      const [film, print] = line.split(/[\s,;]+/).map((part) => Number(part.replace('%', '')));
      if (film === undefined || print === undefined || !Number.isFinite(film) || !Number.isFinite(print)) {
        throw new KerameusError({
          code: 'wedge-readings',
          parameter: 'readings',
          message: `"${line}" is not a pair of numbers.`,
          remedy: 'Write film % and print % of a step on each line, such as 50 68.',
        });
      }
      return [film / 100, print / 100];
    });
  return risingTones(pairs);
}
