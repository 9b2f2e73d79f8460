import { type NewJob, createJobSheet } from '@/core/separation';
import type { JobSheet } from '@/core/sheet';

/** A job of made-up artwork, as it opens: two flat colours on a navy garment unless something else is said. */
export function testSheet(change: Partial<NewJob> = {}): JobSheet {
  return createJobSheet({
    name: 'Sign',
    artwork: { sha256: '0'.repeat(64), fileName: 'sign.svg', kind: 'vector', widthPx: 100, heightPx: 100 },
    colours: [
      { rgb: [200, 56, 46], area: 0.5 },
      { rgb: [242, 209, 58], area: 0.3 },
    ],
    purity: 2.5,
    transitions: [],
    background: null,
    backgroundWish: 'auto',
    print: { widthMm: 254, chosen: false },
    garment: { name: 'Navy', colour: '#16233f' },
    inks: 'auto',
    date: '2026-03-14',
    ...change,
  });
}

/** Numerical Recipes' generator, 0..1, so that a failure can be run again. */
export function randomOf(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 4294967296;
  };
}
