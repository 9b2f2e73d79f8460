import { LEAST_TONE } from '../raster';
import { type ToneStageSetting, throughStages } from './toneStages';

const SOLID = 65535;
/** The most that a plate gets whose stages print less than solid for solid: its solids are tone, and rounding must not make them solid again. */
const NEARLY_SOLID = 65532;

/** Tables that were made, by the settings of the stages. */
const known = new Map<string, Uint16Array | null>();
const MOST_KNOWN = 64;

/**
 * What the stages of a plate make of all tones 0..65535, never less for more; null where they change nothing. The first is 0, the last 65535: where
 * solid is to print as less, `mostTone` keeps tones below it. What is too little to print is nothing.
 */
export function stageTable(settings: readonly ToneStageSetting[]): Uint16Array | null {
  if (settings.length === 0) return null;
  const key = JSON.stringify(settings);
  let table = known.get(key);
  if (table === undefined) {
    table = makeTable(settings);
    if (known.size >= MOST_KNOWN) known.clear();
    known.set(key, table);
  }
  return table;
}

function makeTable(settings: readonly ToneStageSetting[]): Uint16Array | null {
  const through = throughStages(settings);
  const table = new Uint16Array(SOLID + 1);
  let plain = through(1) >= 1;
  for (let tone = 1; tone < SOLID; tone++) {
    const value = Math.round(through(tone / SOLID) * SOLID);
    table[tone] = Math.max(table[tone - 1]!, value < LEAST_TONE ? 0 : value);
    if (tone >= LEAST_TONE && table[tone] !== tone) plain = false;
  }
  table[SOLID] = SOLID;
  return plain ? null : table;
}

/** The most that a plate's colours may give it, 0..65535: solid, or a little less where its stages print less than solid for it. */
export function mostTone(settings: readonly ToneStageSetting[]): number {
  return settings.length === 0 || throughStages(settings)(1) >= 1 ? SOLID : NEARLY_SOLID;
}

/** Coverage that is to print for a coverage that a plate's colours give it, both 0..1. */
export function stagedTone(settings: readonly ToneStageSetting[], tone: number): number {
  if (tone <= 0) return 0;
  return settings.length === 0 ? tone : throughStages(settings)(tone);
}
