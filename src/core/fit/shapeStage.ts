import type { RasterKernels, Allocator } from '../raster';
import type { JobSheet } from '../sheet';
import type { FitPart, FitState } from './fitState';

/** What of a job sheet the stages of fit depend on. */
export type FitSheet = Pick<JobSheet, 'fit' | 'press' | 'plates' | 'garments'>;

/** What is known of a block of the print without evaluating it; `near` is as far as all stages together look. */
export interface BlockFacts {
  /** Bare garment is near. */
  readonly bareNear: boolean;
  /** Two things may touch near: an edge of the artwork. */
  readonly edgeNear: boolean;
  /** Less than a solid prints near: a plate may end where its tones fade out. */
  readonly toned: boolean;
  /** A highlight prints near. */
  readonly lit: boolean;
  /** A highlight may end near. */
  readonly highlightEnds: boolean;
  /** A dark ink without base may lie beside one that wants base. */
  readonly darkBesideBased: boolean;
}

/** A block of one colour. */
export const NOTHING_NEAR: BlockFacts = {
  bareNear: false,
  edgeNear: false,
  toned: false,
  lit: false,
  highlightEnds: false,
  darkBesideBased: false,
};

/** Which plates a stage may change in a block. */
export type Touched = 'nothing' | 'base' | 'everything';

export interface StagePlace {
  readonly width: number;
  readonly height: number;
  readonly pxPerMm: number;
  readonly kernels: RasterKernels;
  /** Where what it makes lies. */
  readonly memory: Allocator;
}

/**
 * One step of fit: plates at the grid's resolution change where they lie beside each other or beside bare garment. It is given its setting and nothing
 * else of the job sheet, so its key in every cache is that setting.
 */
export interface ShapeStage<Setting> {
  readonly name: string;
  /** What of a job sheet it depends on, plain values in mm; null where it changes nothing. */
  setting(sheet: FitSheet): Setting | null;
  /** How far it looks, in pixels: for each part that it reads, 0 where it looks at the same place alone. */
  looks(setting: Setting, pxPerMm: number): Partial<Record<FitPart, number>>;
  readonly writes: readonly FitPart[];
  /** How far ink may come to lie beyond where it was, in mm. */
  growsMm?(setting: Setting): number;
  /** Whether it can work on the base without the inks' planes. */
  readonly baseAlone: boolean;
  touches(facts: BlockFacts, setting: Setting): Touched;
  /** The parts that it writes, as they are behind it. */
  apply(state: FitState, setting: Setting, place: StagePlace): Partial<FitState>;
}

/** A stage as one job has it. */
export interface ReadyStage {
  readonly name: string;
  readonly key: string;
  readonly writes: readonly FitPart[];
  readonly growsMm: number;
  readonly baseAlone: boolean;
  looks(pxPerMm: number): Partial<Record<FitPart, number>>;
  touches(facts: BlockFacts): Touched;
  apply(state: FitState, place: StagePlace): Partial<FitState>;
}

/** A stage with its setting in a job sheet; null where it changes nothing. */
export type ShapeStageOf = (sheet: FitSheet) => ReadyStage | null;

/** Ties a stage to its setting, so that stages of all settings stand in one list. */
export function shapeStage<Setting>(stage: ShapeStage<Setting>): ShapeStageOf {
  return (sheet) => {
    const setting = stage.setting(sheet);
    if (setting === null) return null;
    return {
      name: stage.name,
      key: `${stage.name} ${JSON.stringify(setting)}`,
      writes: stage.writes,
      growsMm: stage.growsMm?.(setting) ?? 0,
      baseAlone: stage.baseAlone,
      looks: (pxPerMm) => stage.looks(setting, pxPerMm),
      touches: (facts) => stage.touches(facts, setting),
      apply: (state, place) => stage.apply(state, setting, place),
    };
  };
}
