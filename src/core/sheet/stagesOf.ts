import type { ToneStageSetting } from '../stages';
import type { Plate } from './jobSheet';

/** The stages that a plate's tones go through. A plate without dots has no tones: its stages are kept and do nothing until it has dots again. */
export function stagesOf({ screen, stages }: Pick<Plate, 'screen' | 'stages'>): readonly ToneStageSetting[] {
  return screen.screening === 'solid' ? [] : stages;
}
