import { forEachRun, nearBoundaryHalo } from '../raster';
import { setPairs } from '../separation';
import { hasFilePlates } from '../sheet';
import { type Band, type Rows, bandRound, rowsOf } from './band';
import { copyOf } from './choke';
import { CRISP_HALO, crispDraft } from './crispDraft';
import type { DraftInk } from './fitState';
import { complementOf, narrowPlaces, narrowPlacesHalo } from './openings';
import { type StagePlace, shapeStage } from './shapeStage';
import { strokeCores, strokeCoresHalo } from './strokeCores';

interface Setting {
  /** The widest of the traps. */
  readonly mm: number;
  /** Places that are narrower are not printed over; 0: all may be, by the trap. */
  readonly guardMm: number;
  /** For each plate, by its id, those whose place it grows into, and how far, in mm. */
  readonly into: Readonly<Record<string, Readonly<Record<string, number>>>>;
  /** Whether plates came with the file, edges and all: nothing tells where they end but their tones. */
  readonly isSupplied: boolean;
}

/** A trap is never wider than this part of the narrower of the two shapes. */
const PART = 1 / 3;

/** Colours that touch run into each other, so that no gap opens where a screen lies off; which of the two grows, and how far, `setPairs` says. The base stays as it is. */
export const TRAP = shapeStage<Setting>({
  name: 'trap',
  setting(sheet) {
    const { trapMm, pairs, guardMm } = sheet.fit;
    if (!(trapMm > 0) && pairs.length === 0) return null;
    const into: Record<string, Record<string, number>> = {};
    const trapped = setPairs(sheet).filter((pair) => pair.mm > 0);
    for (const { source, target, mm } of trapped) (into[source] ??= {})[target] = mm;
    if (trapped.length === 0) return null;
    const mm = Math.max(...trapped.map((pair) => pair.mm));
    return { mm, guardMm, into, isSupplied: hasFilePlates(sheet) };
  },
  looks: ({ mm, guardMm, isSupplied }, pxPerMm) => {
    const trap = mm * pxPerMm;
    // The place that a pixel grows from, then how wide the shape is there.
    const width = strokeCoresHalo(0, trap / PART) + Math.ceil(trap / PART / 2) + 1;
    const guarded = guardMm > 0 ? narrowPlacesHalo(guardMm * pxPerMm) : 0;
    const crisp = isSupplied ? CRISP_HALO : 0;
    return { inks: Math.max(nearBoundaryHalo(trap), reachOf(trap) + width, guarded) + crisp };
  },
  writes: ['inks'],
  baseAlone: false,
  touches: ({ edgeNear }, { isSupplied }) => (edgeNear || isSupplied ? 'everything' : 'nothing'),
  apply({ inks }, { mm, guardMm, into, isSupplied }, place) {
    const { memory, pxPerMm, width, height } = place;
    const trap = mm * pxPerMm;
    const rowsById = new Map(inks.drafts.map(({ id, shape }) => [id, rowsOf(shape, width)]));
    const printing = inks.drafts.filter(({ id }) => rowsById.get(id));
    const grown = new Map<string, DraftInk>();
    const widthOf = (source: DraftInk, target: DraftInk) => into[source.id]?.[target.id] ?? 0;
    const growing = printing.filter((source) => printing.some((target) => widthOf(source, target) > 0));
    // Planes that are kept come first: what is only needed meanwhile lies behind them.
    for (const draft of growing) {
      const tone = draft.tone && memory.words(draft.shape.length);
      tone?.set(draft.tone!);
      grown.set(draft.id, { ...draft, shape: copyOf(draft.shape, memory), tone });
    }
    memory.scratch(() => {
      const crisp = printing.map((draft) =>
        isSupplied ? crispDraft(draft, width, height, memory) : { whole: draft, sure: draft },
      );
      const here = crisp.map(({ whole }) => whole);
      const sources = (target: DraftInk) =>
        crisp.flatMap(({ sure }) => (widthOf(sure, target) > 0 ? [sure] : []));
      const orderOf = ({ id }: DraftInk) => here.findIndex((each) => each.id === id);
      const limits = new Map<string, Limit>();
      const limitOf = (draft: DraftInk) => {
        let limit = limits.get(draft.id);
        if (limit === undefined)
          limits.set(draft.id, (limit = thirds(here[orderOf(draft)]!, rowsById.get(draft.id)!, trap, place)));
        return limit;
      };
      // Made before what is given back after each target.
      for (const draft of here) limitOf(draft);
      for (const target of here) {
        const others = sources(target);
        if (others.length === 0) continue;
        // What prints below a colour leaves it as wide as it is.
        const isOver = others.map((each) => orderOf(each) > orderOf(target));
        memory.scratch(() => {
          const guarded = guardMm > 0 && isOver.includes(true) ? guardMm * pxPerMm : 0;
          const halo = Math.max(
            nearBoundaryHalo(trap),
            reachOf(trap),
            guarded > 0 ? narrowPlacesHalo(guarded) : 0,
          );
          // Many colours stand in a part of the print's rows only.
          const band = bandRound(rowsById.get(target.id)!, width, height, halo);
          const inBand: StagePlace = { ...place, height: band.rows };
          const limitIn = (draft: DraftInk) => {
            const limit = limitOf(draft);
            return limit && band.of(limit);
          };
          const narrow = guarded > 0 ? narrowIn(band.of(target.shape), guarded, inBand) : null;
          const own = { ...inkIn(band, target), limit: limitIn(target) };
          const into = others.map((source, k) => ({
            ...inkIn(band, source),
            limit: limitIn(source),
            grown: inkIn(band, grown.get(source.id)!),
            shut: isOver[k] ? narrow : null,
            px: widthOf(source, target) * pxPerMm,
          }));
          // Whose a pixel is does not depend on who grows, so widths can be laid one after the other.
          for (const px of new Set(into.map((source) => source.px))) {
            const alike = into.filter((source) => source.px === px);
            memory.scratch(() => growInto(own, alike, px, inBand));
          }
        });
      }
    });
    return { inks: { ...inks, drafts: inks.drafts.map((draft) => grown.get(draft.id) ?? draft) } };
  },
});

function reachOf(trapPx: number): number {
  return Math.ceil(trapPx) + 1;
}

/** Of a limit, for each pixel; and what stands where there is none. */
const STEPS = 64;
const WHOLE = 65535;

/** How far a trap may reach from or into a shape, for each pixel in steps of 1/64 px, WHOLE where it is wide enough for all of it; null: it is everywhere. */
type Limit = Uint16Array | null;

/** Where a shape is narrow, a trap has a third of its width: twice the depth of its middle line. */
function thirds(
  { shape }: DraftInk,
  rows: Rows,
  trapPx: number,
  { width, height, kernels, memory }: StagePlace,
): Limit {
  const band = bandRound(rows, width, height, strokeCoresHalo(0, trapPx / PART));
  const discs = memory.scratch(() =>
    strokeCores(complementOf(band.of(shape), memory), width, band.rows, 0, trapPx / PART, kernels),
  );
  if (discs.length === 0) return null;
  const limit = memory.words(width * height, 'any').fill(WHOLE);
  for (let i = 0; i + 2 < discs.length; i += 3) {
    const [cx, cy, depth] = [discs[i]!, band.from + discs[i + 1]!, discs[i + 2]!];
    const own = Math.floor(2 * depth * PART * STEPS);
    const reach = depth + 1;
    for (let y = Math.max(0, Math.ceil(cy - reach)); y <= Math.min(height - 1, Math.floor(cy + reach)); y++) {
      const half = Math.sqrt(reach * reach - (y - cy) ** 2);
      const to = y * width + Math.min(width - 1, Math.floor(cx + half));
      for (let at = y * width + Math.max(0, Math.ceil(cx - half)); at <= to; at++) {
        if (limit[at]! > own) limit[at] = own;
      }
    }
  }
  return limit;
}

function narrowIn(shape: Uint8Array, guardPx: number, { width, height, kernels, memory }: StagePlace) {
  return narrowPlaces(shape, width, height, guardPx, kernels, memory);
}

type InkPlanes = Pick<DraftInk, 'shape' | 'tone'>;

function inkIn(band: Band, { shape, tone }: InkPlanes): InkPlanes {
  return { shape: band.of(shape), tone: tone && band.of(tone) };
}

/** What a plate grows into, and how far its own width lets that be. */
interface Target extends InkPlanes {
  readonly limit: Limit;
}

/** A plate as it was. */
interface Source extends Target {
  /** As it grows. */
  readonly grown: InkPlanes;
  /** Where it may not grow: 255; null: nowhere is shut. */
  readonly shut: Uint8Array | null;
}

/**
 * Grows plates into the place of one that they touch. A pixel of it belongs to what stands nearest beyond its edge, so that growths meet in the middle
 * and none reaches across a third colour.
 */
function growInto(
  target: Target,
  sources: readonly Source[],
  trapPx: number,
  { width, height, kernels, memory }: StagePlace,
): void {
  const near = memory.bytes(width * height, 'any');
  kernels.markNearBoundary(target.shape, width, height, trapPx, near);
  const nearest = memory.ints(width * height, 'any');
  kernels.nearestSet(complementOf(target.shape, memory), width, height, reachOf(trapPx), nearest);
  forEachRun(near, (from, to) => {
    for (let i = from; i < to; i++) {
      const at = nearest[i]!;
      if (at < 0 || target.shape[i] === 0) continue;
      // Under dots it would be seen between them.
      if (target.tone && (target.tone[i] !== 65535 || isSoft(target, at, width, height))) continue;
      for (const { shape, tone, limit, grown, shut } of sources) {
        if (shape[at] === 0 || shape[i] !== 0 || shut?.[i]) continue;
        const allowed = Math.min(target.limit ? target.limit[i]! : WHOLE, limit ? limit[at]! : WHOLE);
        if (allowed < WHOLE && !isWithin(i, at, width, allowed / STEPS)) continue;
        grown.shape[i] = 255;
        if (grown.tone) grown.tone[i] = tone![at]!;
      }
    }
  });
}

/** Whether a shape that ends beside a pixel fades out there: a transition is no edge, and needs no trap. */
function isSoft({ shape, tone }: InkPlanes, at: number, width: number, height: number): boolean {
  const [x, y] = [at % width, Math.floor(at / width)];
  for (let row = Math.max(0, y - 1); row <= Math.min(height - 1, y + 1); row++) {
    for (let column = Math.max(0, x - 1); column <= Math.min(width - 1, x + 1); column++) {
      const beside = row * width + column;
      if (shape[beside] !== 0 && tone![beside] !== 65535) return true;
    }
  }
  return false;
}

/** Whether a pixel's centre lies within so many pixels of the edge of another one. */
function isWithin(i: number, at: number, width: number, limitPx: number): boolean {
  const dx = (i % width) - (at % width);
  const dy = Math.floor(i / width) - Math.floor(at / width);
  return Math.sqrt(dx * dx + dy * dy) - 0.5 <= limitPx;
}
