import { LEAST_TONE, TONED } from './codes';
import type { LabelPlanes } from './layTones';
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

export interface SortArguments extends LabelTables, LabelPlanes {}

export const NO_PLATE = -1;

/** 1 for each label that stands somewhere. */
export function labelsIn(labels: Uint8Array): Uint8Array {
  const seen = new Uint8Array(256);
  const view = wordsOf(labels);
  for (let i = 0; i < labels.length; i = runEnd(labels, view, i, labels[i]!)) seen[labels[i]!] = 1;
  return seen;
}

/** Sorts labels into plates, each with its tint on its plate; places that are TONED are left alone. */
export function sortLabels(args: SortArguments): void {
  const { label: labels, shapes, tones, bare, based, dark, baseStrength } = args;
  const { plateOf, tintOf, strengthOf, darkOf } = args;
  const view = wordsOf(labels);
  for (let i = 0, end = 0; i < labels.length; i = end) {
    // Flat artwork comes in runs of one label.
    const label = labels[i]!;
    end = runEnd(labels, view, i, label);
    if (label === TONED) continue;
    const index = plateOf[label]!;
    if (index === NO_PLATE) {
      bare.fill(255, i, end);
      continue;
    }
    shapes[index]?.fill(255, i, end);
    tones[index]?.fill(tintOf[label]!, i, end);
    if (strengthOf[label]! >= LEAST_TONE) {
      baseStrength.fill(strengthOf[label]!, i, end);
      based.fill(255, i, end);
    } else if (darkOf[label] !== 0) dark.fill(255, i, end);
  }
}
