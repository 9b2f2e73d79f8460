import { BASE_CHOKE } from './baseChoke';
import type { FitPart } from './fitState';
import { HIGHLIGHT_CHOKE } from './highlightChoke';
import type { BlockFacts, FitSheet, ReadyStage, ShapeStageOf, Touched } from './shapeStage';
import { OPEN_GAP } from './openGap';
import { specialGrowthMm, specialHalo } from './specialShapes';
import { OVERPRINT } from './overprint';
import { SPREAD } from './spread';
import { THICKEN } from './thicken';
import { TRAP } from './trap';
import { UNDER_DARK } from './underDark';

/** The stages of fit in the order in which they follow each other. This is the only place where they are put in order. */
const SHAPE_STAGES: readonly ShapeStageOf[] = [
  THICKEN,
  OVERPRINT,
  TRAP,
  SPREAD,
  OPEN_GAP,
  HIGHLIGHT_CHOKE,
  UNDER_DARK,
  BASE_CHOKE,
];

/** The stages of fit that change something in a job, in order. */
export function shapeStages(sheet: FitSheet): readonly ReadyStage[] {
  return SHAPE_STAGES.flatMap((stage) => stage(sheet) ?? []);
}

/** How far fit looks beyond a region, in pixels of its resolution: along the longest way through the stages. */
export function fitHalo(sheet: FitSheet, pxPerMm: number): number {
  const reached: Record<FitPart, number> = { inks: 0, highlights: 0, base: 0 };
  for (const stage of shapeStages(sheet)) {
    const looks = Object.entries(stage.looks(pxPerMm)) as [FitPart, number][];
    const halo = Math.max(0, ...looks.map(([part, px]) => reached[part] + px));
    for (const part of stage.writes) reached[part] = Math.max(reached[part], halo);
  }
  return Math.max(...Object.values(reached)) + specialHalo(sheet, pxPerMm);
}

/** How far beyond the artwork ink may come to lie, in mm. */
export function fitGrowthMm(sheet: FitSheet): number {
  return shapeStages(sheet).reduce((sum, stage) => sum + stage.growsMm, 0) + specialGrowthMm(sheet);
}

/** Which plates the stages of a job may change in a block. */
export function touchedBy(stages: readonly ReadyStage[], facts: BlockFacts): Touched {
  const touched = stages.map((stage) => stage.touches(facts));
  if (touched.includes('everything')) return 'everything';
  return touched.includes('base') ? 'base' : 'nothing';
}
