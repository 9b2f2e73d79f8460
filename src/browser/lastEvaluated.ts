import { FitStages, type PlatePlanes } from '@/core/fit';
import type { Rect } from '@/core/geometry';
import { type Arena, StageMemory } from '@/core/raster';
import type { LabelMap } from '@/core/separation';

/** A stage's last result, and what it was made from. */
export interface Kept<T> {
  readonly key: string;
  readonly value: T;
}

/** What a worker keeps of the plates that it evaluated last, so that the next ones begin at the first stage that differs. */
export class LastEvaluated {
  labels: Kept<LabelMap> | null = null;
  planes: (Kept<PlatePlanes> & { readonly valid: Rect }) | null = null;
  readonly labelMemory: StageMemory;
  readonly stages: FitStages;

  /** @param scratch for what is only needed meanwhile; may be shared with others. */
  constructor(scratch: Arena) {
    this.labelMemory = new StageMemory(scratch);
    this.stages = new FitStages(scratch);
  }
}
