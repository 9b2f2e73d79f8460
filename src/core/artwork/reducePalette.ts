import { ciede2000, labFromRgb8 } from '../colour';
import type { FoundColour } from './findPalette';

/**
 * Joins colours until at most `count` are left: each time the pair whose joining moves the least area
 * over the least distance. Returns, for each colour, the index of the colour that stands for it.
 */
export function reducePalette(colours: readonly FoundColour[], count: number): number[] {
  const labs = colours.map((each) => labFromRgb8(each.rgb));
  const areas = colours.map((each) => each.area);
  const standsFor = colours.map((_, index) => index);
  const alive = new Set(standsFor);
  while (alive.size > Math.max(1, count)) {
    let best: { from: number; into: number; cost: number } | undefined;
    for (const from of alive) {
      for (const into of alive) {
        if (from === into || areas[from]! > areas[into]!) continue;
        if (areas[from] === areas[into] && from < into) continue;
        const cost = areas[from]! * ciede2000(labs[from]!, labs[into]!) ** 2;
        if (!best || cost < best.cost) best = { from, into, cost };
      }
    }
    const { from, into } = best!;
    alive.delete(from);
    areas[into]! += areas[from]!;
    standsFor.forEach((target, index) => {
      if (target === from) standsFor[index] = into;
    });
  }
  return standsFor;
}
