import { type Allocator, type RasterKernels, clearFrom, forEachRun, isEmpty, orInto } from '../raster';
import type { LabelMap } from '../separation';
import { type JobSheet, halftoneWhite } from '../sheet';
import { copyOf } from './choke';
import { draftSetting, isOfBase } from './draftSetting';
import type { FitPart, FitState } from './fitState';
import { FitStages } from './fitStages';
import type { PlatePlane, PlatePlanes } from './platePlane';
import { platesFromFields } from './platesFromFields';
import { platesFromLabels } from './platesFromLabels';
import { shapeStages } from './shapeStages';
import { specialPlates, specialShape } from './specialShapes';

/**
 * From labels to fitted plates: the plates before fit, from the labels' colours or from fields of tones, go through the stages of fit. The labels must
 * reach `fitHalo` beyond what is wanted; the planes that come back have the labels' size.
 *
 * @param made holds what was made before for the same labels; the planes that come back may be shared with it.
 * @param wanted all plates; or the base alone, which is right where only stages that work on it alone touch anything.
 */
export function fitPlates(
  labels: LabelMap,
  sheet: JobSheet,
  pxPerMm: number,
  kernels: RasterKernels,
  memory: Allocator,
  made: FitStages = new FitStages(),
  wanted: 'all' | 'base' = 'all',
): PlatePlanes {
  const { width, height } = labels.rect;
  made.begin(labels);
  const setting = draftSetting(sheet);
  const draft = labels.tones?.fields ? platesFromFields : platesFromLabels;
  const key = `${wanted} ${JSON.stringify(setting)}`;
  let state = made.stage('drafts', key, memory, (own) => draft(labels, setting, kernels, own, wanted));
  const keys: Record<FitPart, string> = { inks: key, highlights: key, base: key };
  for (const stage of shapeStages(sheet)) {
    if (wanted === 'base' && !stage.baseAlone) continue;
    const before = state;
    const read = Object.keys(stage.looks(pxPerMm)) as FitPart[];
    const stageKey = [stage.key, ...read.map((part) => keys[part])].join('|');
    const written = made.stage(stage.name, stageKey, memory, (own) =>
      stage.apply(before, { width, height, pxPerMm, kernels, memory: own }),
    );
    state = { ...state, ...written };
    for (const part of stage.writes) keys[part] = stageKey;
  }
  if (setting.plates.some(isOfBase)) {
    const before = state;
    const base = made.stage('own colours', `${keys.inks}|${keys.base}`, memory, (own) =>
      withOwnColours(before, own),
    );
    state = { ...state, base };
  }
  const fitted = planesOf(state, sheet, wanted);
  if (wanted === 'base') return { rect: labels.rect, planes: fitted };
  const white = halftoneWhite(sheet);
  const base = fitted.find(({ plate }) => plate.role === 'underbase');
  const parts = white && base ? partBase(base, memory) : null;
  const last = Object.values(keys).join('|');
  const specials = specialPlates(sheet).map((plate): PlatePlane => {
    if (plate.special.kind === 'halftone') {
      // Where there is no base, nothing of it is dots.
      return { plate, ...(parts?.dots ?? { shape: memory.bytes(width * height), tone: null }) };
    }
    const ownKey = JSON.stringify([plate.special, last]);
    const shape = made.stage(`special ${plate.id}`, ownKey, memory, (own) =>
      specialShape(plate.special, fitted, { width, height, pxPerMm }, kernels, own),
    );
    return { plate, shape, tone: null };
  });
  if (specials.length === 0) return { rect: labels.rect, planes: fitted };
  const all = [
    ...fitted.map((plane) => (parts && plane === base ? { ...plane, ...parts.solid } : plane)),
    ...specials,
  ];
  return {
    rect: labels.rect,
    planes: sheet.plates.map(({ id }) => all.find(({ plate }) => plate.id === id)!),
  };
}

type Printed = Pick<PlatePlane, 'shape' | 'tone'>;

/** What of a base is solid, and what of it is less. */
function partBase(
  { shape, tone }: Printed,
  memory: Allocator,
): { readonly solid: Printed; readonly dots: Printed } {
  const weak = memory.bytes(shape.length);
  if (!tone) return { solid: { shape, tone }, dots: { shape: weak, tone } };
  forEachRun(shape, (from, to) => {
    for (let i = from; i < to; i++) if (tone[i] !== 65535) weak[i] = 255;
  });
  const solid = copyOf(shape, memory);
  clearFrom(solid, weak);
  return { solid: { shape: solid, tone: null }, dots: { shape: weak, tone } };
}

/** The base with the colours that it prints itself, which are not drawn back from the garment. */
function withOwnColours({ inks, base }: FitState, memory: Allocator): FitState['base'] {
  const own = inks.drafts.find(isOfBase);
  if (!base || !own || isEmpty(own.shape)) return base;
  const shape = copyOf(base.shape, memory);
  const strength = memory.words(shape.length);
  strength.set(base.strength);
  forEachRun(own.shape, (from, to) => {
    for (let i = from; i < to; i++) {
      // What was drawn back before has its strength still, and does not print it.
      const before = shape[i] === 0 ? 0 : strength[i]!;
      strength[i] = Math.max(before, own.tone?.[i] ?? 65535);
    }
  });
  orInto(shape, own.shape);
  return { shape, strength };
}

function planesOf({ inks, highlights, base }: FitState, sheet: JobSheet, wanted: 'all' | 'base') {
  return sheet.plates.flatMap((plate): PlatePlane[] => {
    if (plate.role === 'underbase') return base ? [{ plate, shape: base.shape, tone: toneOf(base) }] : [];
    if (wanted === 'base' || plate.role === 'special') return [];
    const { shape, tone } = inks.drafts.find(({ id }) => id === plate.id)!;
    const highlight = highlights.find(({ id }) => id === plate.id);
    return [{ plate, shape: highlight?.shape ?? shape, tone }];
  });
}

/** Null where the base is solid wherever it prints. */
function toneOf({ shape, strength }: NonNullable<FitState['base']>): Uint16Array | null {
  let solid = true;
  forEachRun(shape, (from, to) => {
    for (let i = from; i < to && solid; i++) if (strength[i] !== 65535) solid = false;
  });
  return solid ? null : strength;
}
