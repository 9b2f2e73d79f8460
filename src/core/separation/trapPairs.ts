import {
  type LinearRgb,
  ciede2000,
  labFromLinear,
  layerOver,
  linearFromRgb8,
  parseHexColour,
} from '../colour';
import { type JobSheet, type Plate, gapPairs, garmentOf, pairSetting, stagesOf } from '../sheet';
import { stagedTone } from '../stages';
import { opticsOf, printFlat } from './predictFlat';

type Printed = Pick<JobSheet, 'plates' | 'garments'>;
type Fitted = Printed & Pick<JobSheet, 'fit'>;

/** Two plates whose colours may touch: the one grows into the other's place, where both print. */
export interface TrapPair {
  /** The plate that grows. */
  readonly source: string;
  /** The plate whose place it grows into. */
  readonly target: string;
  /** CIEDE2000 between what the overlap prints and the target's colour: how far the trap is seen. */
  readonly seen: number;
  /** The same if the other plate grew instead. */
  readonly otherwise: number;
}

/** A pair as the job has it. */
export interface SetPair extends TrapPair {
  /** How far the one grows into the other, in mm; 0: they meet. */
  readonly mm: number;
  /** How wide the bare garment between them is, in mm; 0: there is none. */
  readonly gapMm: number;
  /** Whether the one that prints first goes on under the other. */
  readonly isOver: boolean;
  /** Whether anything of it was set by hand. */
  readonly isSet: boolean;
  /** The plate that would grow if nothing were. */
  readonly modelSource: string;
}

/** The pairs of a job as they are trapped: as `trapPairs` finds them, unless they are set otherwise. */
export function setPairs(sheet: Fitted): SetPair[] {
  return trapPairs(sheet).map((pair): SetPair => {
    const setting = pairSetting(sheet, pair.source, pair.target);
    const mm = setting?.mm ?? sheet.fit.trapMm;
    const modelSource = pair.source;
    if (!setting) return { ...pair, mm, gapMm: 0, isOver: false, isSet: false, modelSource };
    const { grows } = setting;
    const gapMm = gapPairs(sheet).find(({ plateIds }) => plateIds === setting.plateIds)?.mm ?? 0;
    const met = { mm: 0, gapMm, isSet: true, modelSource };
    if (grows === 'none' || grows === 'gap') return { ...pair, ...met, isOver: false };
    const first = sheet.plates.find(({ id }) => id === pair.source || id === pair.target)!;
    const wanted = grows === 'over' ? first.id : typeof grows === 'object' ? grows.plateId : pair.source;
    const isTurned = wanted !== pair.source;
    const turned = { source: pair.target, target: pair.source, seen: pair.otherwise, otherwise: pair.seen };
    const made = isTurned ? turned : pair;
    return grows === 'over'
      ? { ...made, ...met, isOver: true }
      : { ...made, mm, gapMm: 0, isOver: false, isSet: true, modelSource };
  });
}

/** Pairs of which one colour goes on under the other, and how far it stays inside of where both end: the pair's width, else the press's tolerance, in mm. */
export function overPairs(sheet: Fitted & Pick<JobSheet, 'press'>) {
  return setPairs(sheet).flatMap(({ source, target, isOver }) =>
    isOver
      ? [
          {
            under: source,
            over: target,
            mm: pairSetting(sheet, source, target)?.mm ?? sheet.press.toleranceMm,
          },
        ]
      : [],
  );
}

/** Whether a plate takes part in traps: bases lie under all, and highlights on top are drawn back instead. */
export function isTrapped({ role }: Pick<Plate, 'role'>): boolean {
  return role === 'colour';
}

/**
 * Which of two colours that touch runs into the other, for each two plates: the way that is seen less, by the print model, with full layers over each
 * one's own base on the first garment. So light runs under dark, and what prints first under what prints later, unless the later ink is too thin to hide it;
 * of equal ways the one that prints first runs under.
 */
export function trapPairs(sheet: Printed): readonly TrapPair[] {
  const byGarments = known.get(sheet.plates) ?? new WeakMap<Printed['garments'], readonly TrapPair[]>();
  known.set(sheet.plates, byGarments);
  const pairs = byGarments.get(sheet.garments) ?? findPairs(sheet);
  byGarments.set(sheet.garments, pairs);
  return pairs;
}

/** What was found for plates and garments: each block of a film asks. */
const known = new WeakMap<Printed['plates'], WeakMap<Printed['garments'], readonly TrapPair[]>>();

function findPairs(sheet: Printed): TrapPair[] {
  const inks = sheet.plates.filter(isTrapped);
  return inks.flatMap((first, k) => inks.slice(k + 1).map((later) => pairOf(sheet, first, later)));
}

function pairOf(sheet: Printed, first: Plate, later: Plate): TrapPair {
  const under = seenIn(sheet, later, first, later);
  const over = seenIn(sheet, first, first, later);
  return under <= over
    ? { source: first.id, target: later.id, seen: under, otherwise: over }
    : { source: later.id, target: first.id, seen: over, otherwise: under };
}

/** How far both inks, one over the other, are from one of them alone, at its place. */
function seenIn(sheet: Printed, place: Plate, first: Plate, later: Plate): number {
  const backing = backingOf(sheet, place);
  const alone = layerOver(backing, opticsOf(place.ink));
  const both = layerOver(layerOver(backing, opticsOf(first.ink)), opticsOf(later.ink));
  return ciede2000(labFromLinear(alone), labFromLinear(both));
}

/** What a plate's colour lies on: the garment, under the base that it wants. */
function backingOf(sheet: Printed, plate: Plate): LinearRgb {
  const base = sheet.plates.find(({ role }) => role === 'underbase');
  const { colour } = garmentOf(sheet);
  const baseStrength = plate.baseStrength;
  if (!base || baseStrength === 0) return linearFromRgb8(parseHexColour(colour));
  return printFlat(colour, null, base.ink, stagedTone(stagesOf(base), baseStrength));
}
