import { ciede2000, labFromRgb8 } from '../colour';
import type { FoundColour } from './findPalette';

/**
 * Joins colours: those that look alike, then until at most `count` are left. Each time the pair whose joining moves the least area
 * over the least distance. Returns, for each colour, the index of the colour that stands for it.
 *
 * @param alike CIEDE2000 below which two colours are joined whether or not there is need.
 */
export function reducePalette(colours: readonly FoundColour[], count: number, alike = 0): number[] {
  const labs = colours.map((each) => labFromRgb8(each.rgb));
  const areas = colours.map((each) => each.area);
  const standsFor = colours.map((_, index) => index);
  const alive = new Set(standsFor);
  const join = (from: number, into: number): void => {
    alive.delete(from);
    areas[into]! += areas[from]!;
    standsFor.forEach((target, index) => {
      if (target === from) standsFor[index] = into;
    });
  };
  const nearest = (cost: (from: number, into: number) => number) => {
    let best: { from: number; into: number; cost: number } | undefined;
    for (const from of alive) {
      for (const into of alive) {
        if (from === into || areas[from]! > areas[into]!) continue;
        if (areas[from] === areas[into] && from < into) continue;
        const each = cost(from, into);
        if (!best || each < best.cost) best = { from, into, cost: each };
      }
    }
    return best;
  };
  for (;;) {
    const best = nearest((from, into) => ciede2000(labs[from]!, labs[into]!));
    if (!best || best.cost >= alike) break;
    join(best.from, best.into);
  }
  while (alive.size > Math.max(1, count)) {
    const { from, into } = nearest((p, q) => areas[p]! * ciede2000(labs[p]!, labs[q]!) ** 2)!;
    join(from, into);
  }
  // What was joined along the way goes to the nearest of those that are left.
  return standsFor.map((into, index) => {
    let best = into;
    for (const each of alive)
      if (ciede2000(labs[each]!, labs[index]!) < ciede2000(labs[best]!, labs[index]!)) best = each;
    return best;
  });
}
