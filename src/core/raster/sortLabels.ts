import { runEnd, wordsOf } from './masks';

/** What each label means for the plates; 256 entries each. */
export interface LabelTables {
  /** The plate that a label prints on, by its place in `shapes`; NO_PLATE for none. */
  readonly plateOf: Int8Array;
  /** How much of it prints, 0..65535. */
  readonly tintOf: Uint16Array;
  /** How much base it wants, 0..65535. */
  readonly strengthOf: Uint16Array;
  /** 1: it is dark and has no base. */
  readonly darkOf: Uint8Array;
}

export interface SortArguments extends LabelTables {
  /** One label for each pixel; with `share` below 65535 the first of two. */
  readonly first: Uint8Array;
  readonly second: Uint8Array;
  /** Share of the first label, 1..65535. */
  readonly share: Uint16Array;
  /** Whether any share is below 65535. */
  readonly toned: boolean;
  /** For each plate where it prints, 0 or 255; given as 0. */
  readonly shapes: readonly Uint8Array[];
  /** How much, 0..65535; given as 65535. Null for plates with no tint and no mixture. */
  readonly tones: readonly (Uint16Array | null)[];
  /** 255 where no plate prints, where one with base prints, where a dark one without does; given as 0. */
  readonly bare: Uint8Array;
  readonly based: Uint8Array;
  readonly dark: Uint8Array;
  /** How much base each place wants, 0..65535; given as 0. */
  readonly baseStrength: Uint16Array;
}

export const NO_PLATE = -1;

/** A share below this prints nothing that anybody could see or hold. */
export const LEAST_TONE = 128;

/** Labels that stand alone somewhere (1) and in mixtures (2), by label. */
export function labelsSeen(
  first: Uint8Array,
  second: Uint8Array,
  share: Uint16Array,
  toned: boolean,
): Uint8Array {
  const seen = new Uint8Array(256);
  const view = wordsOf(first);
  if (!toned) {
    for (let i = 0; i < first.length; i = runEnd(first, view, i, first[i]!)) seen[first[i]!]! |= 1;
    return seen;
  }
  for (let i = 0; i < first.length; i++) {
    if (share[i] === 65535) seen[first[i]!]! |= 1;
    else {
      seen[first[i]!]! |= 2;
      seen[second[i]!]! |= 2;
    }
  }
  return seen;
}

/**
 * The base under a mixture of two labels. Where one of them has no base the base fades as the square of the ink, so
 * that its dots stay inside the ink's dots as a choked edge stays inside the ink's edge.
 */
function fadingBase(share: number, first: number, second: number): number {
  const s = share / 65535;
  if (first > 0 && second > 0) return Math.round(s * first + (1 - s) * second);
  return Math.round(first > 0 ? s * s * first : (1 - s) * (1 - s) * second);
}

/** Sorts labels into plates: each prints with its tint on its plate; of a mixture each plate gets its share. */
export function sortLabels(args: SortArguments): void {
  const { first, share, toned, shapes, tones, bare, based, dark, baseStrength } = args;
  const { plateOf, tintOf, strengthOf, darkOf } = args;
  const view = wordsOf(first);
  const count = first.length;
  for (let i = 0; i < count;) {
    const label = first[i]!;
    if (share[i] !== 65535) {
      sortMixture(args, i++);
      continue;
    }
    // Flat artwork comes in runs of one label.
    let end = runEnd(first, view, i, label);
    if (toned) for (let k = i + 1; k < end; k++) if (share[k] !== 65535) end = k;
    const index = plateOf[label]!;
    if (index === NO_PLATE) bare.fill(255, i, end);
    else {
      shapes[index]!.fill(255, i, end);
      tones[index]?.fill(tintOf[label]!, i, end);
      if (strengthOf[label]! > 0) {
        baseStrength.fill(strengthOf[label]!, i, end);
        based.fill(255, i, end);
      } else if (darkOf[label] !== 0) dark.fill(255, i, end);
    }
    i = end;
  }
}

function sortMixture(args: SortArguments, i: number): void {
  const { plateOf, tintOf, strengthOf, darkOf } = args;
  const share = args.share[i]!;
  const label = args.first[i]!;
  const other = args.second[i]!;
  const one = addTone(args, plateOf[label]!, i, Math.round((tintOf[label]! * share) / 65535));
  const two = addTone(args, plateOf[other]!, i, Math.round((tintOf[other]! * (65535 - share)) / 65535));
  if (!one && !two) args.bare[i] = 255;
  const strength = fadingBase(share, strengthOf[label]!, strengthOf[other]!);
  args.baseStrength[i] = strength;
  if (strength > 0) args.based[i] = 255;
  else if (darkOf[label] !== 0) args.dark[i] = 255;
}

/** Two labels of a mixture may print on one plate. */
function addTone({ shapes, tones }: SortArguments, index: number, i: number, tone: number): boolean {
  if (index === NO_PLATE) return false;
  const [shape, plane] = [shapes[index]!, tones[index]!];
  const sum = Math.min(65535, (shape[i] === 0 ? 0 : plane[i]!) + tone);
  if (sum < LEAST_TONE) return false;
  shape[i] = 255;
  plane[i] = sum;
  return true;
}
