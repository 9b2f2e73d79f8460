import { type Allocator, type Arena, StageMemory } from '../raster';
import type { LabelMap } from '../separation';

/** The last result of a stage, and what it was made from. */
interface Kept<T> {
  readonly sources: readonly unknown[];
  readonly value: T;
}

/**
 * What fit made on its way for one label map, so that the next state of the job on the same labels begins at the first
 * stage that differs. No stage changes what an earlier one made.
 */
export class FitStages {
  private labels: LabelMap | null = null;
  private readonly kept = new Map<string, Kept<unknown>>();
  private readonly memories = new Map<string, StageMemory>();
  private readonly shared: Arena | null;

  /**
   * @param shared scratch memory of stages that keep theirs from one time to the next: what `fitPlates` gave before is then
   * overwritten by what it gives next. Null: memory is fitPlates' own.
   */
  constructor(shared: Arena | null = null) {
    this.shared = shared;
  }

  /** Forgets what was made from other labels. */
  begin(labels: LabelMap): void {
    if (this.labels !== labels) this.kept.clear();
    this.labels = labels;
  }

  stage<T>(name: string, key: string, memory: Allocator, make: (memory: Allocator) => T): T {
    return this.madeFrom(name, [key], memory, make);
  }

  /** As `stage`, for what is made from planes: made anew where one of them is another object, as each plane that is made anew is. */
  madeFrom<T>(
    name: string,
    sources: readonly unknown[],
    memory: Allocator,
    make: (memory: Allocator) => T,
  ): T {
    const last = this.kept.get(name);
    if (last?.sources.length === sources.length && last.sources.every((each, k) => each === sources[k])) {
      return last.value as T;
    }
    // From here on what was kept may be overwritten.
    this.kept.delete(name);
    const value = make(this.memoryOf(name) ?? memory);
    this.kept.set(name, { sources, value });
    return value;
  }

  private memoryOf(name: string): StageMemory | null {
    if (!this.shared) return null;
    let memory = this.memories.get(name);
    if (!memory) {
      memory = new StageMemory(this.shared);
      this.memories.set(name, memory);
    }
    return memory.renew();
  }
}
