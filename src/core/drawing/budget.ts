import { KerameusError } from '../units';

/** Steps that drawing one region may take at most, about two seconds of work. */
export const REGION_STEPS = 1.5e9;

/** Counts the steps of a drawing's work, so that no drawing can keep a thread for minutes. */
export class Budget {
  private left: number;

  constructor(steps = REGION_STEPS) {
    this.left = steps;
  }

  /** Throws KerameusError `drawing-too-much` where it is used up. */
  spend(steps: number): void {
    this.left -= steps;
    if (this.left > 0) return;
    throw new KerameusError({
      code: 'drawing-too-much',
      parameter: 'artwork',
      message: 'The drawing takes more steps to draw than is allowed.',
      remedy:
        'Simplify its patterns, masks, clips and transparent layers, or export it as a PNG at print size.',
    });
  }

  get remaining(): number {
    return this.left;
  }
}
