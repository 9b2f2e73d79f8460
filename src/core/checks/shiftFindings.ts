import { setPairs } from '../separation';
import { type JobSheet, printsTones } from '../sheet';
import { trimNumber } from '../units';
import type { Finding, PrintPlace } from './findings';

/** What shows where a screen lies off: the garment between colours, or white that colours had covered. */
export type ShiftFault = 'garment' | 'white';

/** A place of an edge and how far the screen may lie off there, in mm, before anything shows. */
export interface EdgePlace extends PrintPlace {
  readonly marginMm: number;
  /** What shows within a few millimetres when the screen lies off by the press's tolerance, in mm²; over all eight ways on average. */
  readonly shownMm2: number;
  /** Across the edge, which lies behind the middle one: for each step which plates print there, a bit each in the order of the sheet. */
  readonly profile: readonly number[];
  readonly profileStepMm: number;
}

/** Edges of one way in which a screen can lie off. */
export interface EdgeWay {
  /** How wide a pixel of edge is across the way, and how far a step along it goes, in mm. */
  readonly pixelMm: number;
  readonly stepMm: number;
  /** Pixels of edge by their margin in steps. */
  readonly pixels: readonly number[];
  /** Whether the way runs along rows or columns. */
  readonly isStraight: boolean;
}

/** Edges at which one plate that lies off lets one thing show. */
export interface EdgeKind {
  readonly fault: ShiftFault;
  /** The plate that lies off. */
  readonly plateId: string;
  /** What stands beyond the edge; null: bare garment, or nothing but base. */
  readonly besideId: string | null;
  readonly ways: readonly EdgeWay[];
  /** The tightest places, one of each few millimetres, those first where most shows. */
  readonly tightest: readonly EdgePlace[];
}

/** What a survey of a print's edges found. */
export interface EdgeSurvey {
  /** Larger shifts were not looked at. */
  readonly reachMm: number;
  /** A pixel of the survey, in mm: what is less cannot be told from nothing. */
  readonly stepMm: number;
  /** For shifts of 0, 1, 2 … such pixels the most that shows of one thing in any square of 8 mm when one screen lies off, whichever way, in mm². */
  readonly worstMm2: Readonly<Record<ShiftFault, readonly number[]>>;
  readonly edges: readonly EdgeKind[];
}

/** Area of what shows in one place, in mm², from which on a shift is not survived: a slit of two millimetres, 0.15 mm wide. */
const LEAST_SHOWN_MM2 = 0.3;

/** Whole steps of a shift: what is less than one cannot be told from nothing. */
function stepsIn(shiftMm: number, stepMm: number): number {
  return Math.floor(shiftMm / stepMm + 1e-6);
}

/** Area that shows where the edges of a kind move along one way by a shift, in mm²; of the shift whole steps count. */
export function shownArea({ ways }: Pick<EdgeKind, 'ways'>, way: number, shiftMm: number): number {
  const { pixelMm, stepMm, pixels } = ways[way]!;
  const steps = stepsIn(shiftMm, stepMm);
  let sum = 0;
  for (let margin = 0; margin < steps; margin++) sum += pixels[margin]! * (steps - margin);
  return sum * pixelMm * stepMm;
}

/** The most that shows of one thing when one screen lies off by a shift in any of eight ways, in mm². */
function worstArea(edges: readonly EdgeKind[], shiftMm: number): number {
  const sums = new Map<string, number>();
  for (const edge of edges) {
    edge.ways.forEach((_, way) => {
      const key = `${edge.plateId} ${way}`;
      sums.set(key, (sums.get(key) ?? 0) + shownArea(edge, way, shiftMm));
    });
  }
  return Math.max(0, ...sums.values());
}

const FAULTS = ['white', 'garment'] as const;

/**
 * By how much any one screen may lie off, in any way, before so much garment or white shows in one place that it is seen, in mm: whole pixels of the survey, at most as far as
 * was looked.
 *
 * @param faults those that count.
 */
export function survivesMm(
  { reachMm, stepMm, worstMm2 }: EdgeSurvey,
  faults: readonly ShiftFault[] = FAULTS,
): number {
  const steps = stepsIn(reachMm, stepMm);
  for (let k = 1; k <= steps; k++) {
    if (faults.some((fault) => worstMm2[fault][k]! > LEAST_SHOWN_MM2)) return (k - 1) * stepMm;
  }
  return reachMm;
}

/** Length of edges where something shows at a shift, in mm, about: of those that face along rows and columns. */
export function shownLength(edges: readonly EdgeKind[], shiftMm: number): number {
  let sum = 0;
  for (const { ways } of edges) {
    for (const { pixelMm, stepMm, pixels, isStraight } of ways) {
      if (!isStraight) continue;
      const steps = stepsIn(shiftMm, stepMm);
      for (let margin = 0; margin < steps; margin++) sum += pixels[margin]! * pixelMm;
    }
  }
  return sum;
}

const mm = (length: number) => `${trimNumber(length, 2)} mm`;

const REMEDIES = {
  choke: 'Choke the base by the press tolerance.',
  trap: 'Trap the colours by the press tolerance.',
  narrow:
    'Shapes there are too narrow for the whole trap, a third of which it takes at most: make them or what lies between them wider in the artwork, or let one colour go on below the other.',
  overlap: 'Let the base go on below the colour, in the artwork or by a base that is made here.',
};

const mostShown = ({ tightest: [place] }: EdgeKind): number => place?.shownMm2 ?? 0;

/** What shows when a screen lies off by as much as the press wanders. */
export function checkShift(sheet: JobSheet, survey: EdgeSurvey): Finding[] {
  const shift = sheet.press.toleranceMm;
  const base = sheet.plates.find(({ role }) => role === 'underbase');
  return FAULTS.flatMap((fault): Finding[] => {
    const edges = survey.edges.filter((edge) => edge.fault === fault);
    const survives = survivesMm(survey, [fault]);
    if (stepsIn(survives, survey.stepMm) >= stepsIn(Math.min(shift, survey.reachMm), survey.stepMm))
      return [];
    const ranked = edges
      .map((edge) => ({ edge, length: shownLength([edge], shift) }))
      .sort((p, q) => mostShown(q.edge) - mostShown(p.edge) || q.length - p.length);
    const { edge } = ranked[0]!;
    const length = ranked.reduce((sum, each) => sum + each.length, 0);
    const nameOf = (id: string | null) =>
      sheet.plates.find((plate) => plate.id === id)?.ink.name ?? 'the garment';
    const what = fault === 'white' ? 'white' : 'the garment';
    const [place] = edge.tightest;
    // White that is seen beside a colour is not trapped.
    const act = edge.besideId === null ? 'choke' : edge.besideId === base?.id ? null : 'trap';
    const isNarrow = act === 'trap' && sheet.fit.trapMm >= shift;
    return [
      {
        code: fault === 'white' ? 'shift-shows-white' : 'shift-shows-garment',
        severity: 'notice',
        step: 'fit',
        message: `When a screen lies off by ${mm(shift)}, ${what} shows along about ${trimNumber(length, length < 10 ? 1 : 0)} mm of edges, most in one place where ${nameOf(edge.plateId)} moves away from ${nameOf(edge.besideId)}. These edges survive ${mm(survives)}.`,
        remedy: REMEDIES[isNarrow ? 'narrow' : (act ?? 'overlap')],
        measured: survives,
        limit: shift,
        plateId: edge.plateId,
        ...(act ? { act } : {}),
        ...(place ? { place: { xMm: place.xMm, yMm: place.yMm }, close: true } : {}),
      },
    ];
  });
}

/** Below this difference (CIEDE2000) a colour that prints over another one is hardly another. Common practice, no source. */
const HARDLY = 2;

/**
 * Pairs of colours between which a screen that lies off lets the garment show, and of which the one that prints later hides the other: it may as well print over all of it, which no shift
 * opens.
 */
export function checkOverprint(sheet: JobSheet, survey: EdgeSurvey): Finding[] {
  if (printsTones(sheet)) return [];
  const shift = sheet.press.toleranceMm;
  return setPairs(sheet).flatMap((pair): Finding[] => {
    if (pair.isSet) return [];
    const [first, later] = sheet.plates.filter(({ id }) => id === pair.source || id === pair.target);
    const seen = pair.source === first!.id ? pair.seen : pair.otherwise;
    if (seen > HARDLY) return [];
    const between = survey.edges.filter(
      ({ fault, plateId, besideId }) =>
        fault === 'garment' &&
        besideId !== null &&
        pairOf(plateId, besideId) === pairOf(pair.source, pair.target),
    );
    if (worstArea(between, shift) <= LEAST_SHOWN_MM2) return [];
    const [place] = between.flatMap(({ tightest }) => tightest.slice(0, 1));
    const [under, over] = [first!.ink.name, later!.ink.name];
    return [
      {
        code: 'overprint-suits',
        severity: 'notice',
        step: 'fit',
        message: `${over} prints over ${under} only ${trimNumber(seen, 1)} from itself: over all of it no screen that lies off opens a gap between them, as ${mm(shift)} does now.`,
        remedy: `Let ${under} go on below ${over}, under Colours that touch.`,
        measured: Math.round(seen * 10) / 10,
        limit: HARDLY,
        plateId: later!.id,
        otherId: first!.id,
        ...(place ? { place: { xMm: place.xMm, yMm: place.yMm }, close: true } : {}),
      },
    ];
  });
}

const pairOf = (one: string, other: string) => [one, other].sort().join(' ');
