import { type TonePair, inverseOf, monotoneCurve, risingTones } from './measuredTones';

/**
 * What a dot of coverage `a` on film prints as, for a gain at the middle tone: y = a + g·√(4a(1−a)), at most 1. The
 * form of the curve is a common one for screen printing; nothing was measured.
 *
 * @param a 0..1
 * @param gain by how much a tone of one half grows, 0..0.5
 */
export function dotGain(a: number, gain: number): number {
  return Math.min(1, a + gain * Math.sqrt(Math.max(0, 4 * a * (1 - a))));
}

/** What must stand on film so that `y` prints: the inverse of `dotGain`, 0 and 1 pinned. */
export function compensateGain(y: number, gain: number): number {
  if (y <= 0) return 0;
  if (y >= 1) return 1;
  const k = 4 * gain * gain;
  const sum = 2 * y + k;
  return (sum - Math.sqrt(sum * sum - 4 * (1 + k) * y * y)) / (2 * (1 + k));
}

/** Area of the smallest dot that a mesh holds, as a share of a cell: a disc of one opening and two threads across. Common practice, no source. */
export function smallestDot(lpi: number, dotUm: number): number {
  const cellUm = 25400 / lpi;
  return Math.min(0.5, (Math.PI * dotUm * dotUm) / 4 / (cellUm * cellUm));
}

export interface FilmToneRule {
  /** Gain at the middle tone that the film makes up for, 0..0.5. */
  readonly gain: number;
  /** Film tones and what they printed as, rising; takes the place of `gain`. */
  readonly measured?: readonly TonePair[] | null;
  /** Tones asked of the film printer and what it made of them, rising; null for a printer that does as it is told. */
  readonly printer?: readonly TonePair[] | null;
}

/** What a film tone prints as, and its inverse; both keep 0 and 1. */
export function gainCurves(rule: Pick<FilmToneRule, 'gain' | 'measured'>): {
  readonly toPrint: (film: number) => number;
  readonly toFilm: (print: number) => number;
} {
  if (!rule.measured) {
    return { toPrint: (a) => dotGain(a, rule.gain), toFilm: (y) => compensateGain(y, rule.gain) };
  }
  const toPrint = monotoneCurve(risingTones(rule.measured));
  return { toPrint, toFilm: inverseOf(toPrint) };
}

/** Whether film tones are print tones. */
export function isPlain({ gain, measured, printer }: FilmToneRule): boolean {
  return gain === 0 && !measured && !printer;
}

/**
 * What to ask of the film printer for all print tones 0..65535: gain made up for, and behind it the printer's own. Nothing stays nothing,
 * solid stays solid, and more tone never gives less.
 */
export function filmToneTable(rule: FilmToneRule): Uint16Array {
  if (isPlain(rule)) return plainTable();
  const asked = rule.printer ? inverseOf(monotoneCurve(risingTones(rule.printer))) : (a: number) => a;
  const { toFilm } = gainCurves(rule);
  return tableOf((tone) => asked(toFilm(tone)));
}

function plainTable(): Uint16Array {
  const table = new Uint16Array(65536);
  for (let tone = 0; tone < 65536; tone++) table[tone] = tone;
  return table;
}

function tableOf(curve: (tone: number) => number): Uint16Array {
  const table = new Uint16Array(65536);
  for (let tone = 1; tone < 65535; tone++) {
    const value = Math.round(curve(tone / 65535) * 65535);
    table[tone] = Math.max(table[tone - 1]!, Math.min(65535, value));
  }
  table[65535] = 65535;
  return table;
}
