import { trimNumber } from '../units';
import type { JobSheet } from './jobSheet';
import { type KeptPrint, keptOf } from './kept';
import { layerOf } from './layers';

/** What a change of the colours that are kept out of the tones was about; null where they are the same. */
export function describeKept(before: JobSheet, after: JobSheet): string | null {
  const [old, now] = [keptOf(before), keptOf(after)];
  const added = now.filter(({ id }) => !old.some((each) => each.id === id));
  const gone = old.filter(({ id }) => !now.some((each) => each.id === id));
  if (added.length > 1) return `${added.length} flat colours ${waysOf(after, added[0]!)}`;
  if (added.length === 1) return `${added[0]!.colour} ${waysOf(after, added[0]!)}`;
  if (gone.length > 0) return `${gone[0]!.colour} as dots like the rest`;
  for (const is of now) {
    const was = old.find(({ id }) => id === is.id)!;
    if (was.as !== is.as || was.plateId !== is.plateId) return `${is.colour} ${waysOf(after, is)}`;
    if (was.closeness !== is.closeness) {
      const closeness = trimNumber(is.closeness ?? layerOf(after).purity, 1);
      return `closeness of ${is.colour} ${closeness}`;
    }
    if (JSON.stringify(was.within) !== JSON.stringify(is.within)) {
      return is.within ? `${is.colour} kept inside of an outline` : `${is.colour} kept everywhere`;
    }
  }
  return null;
}

function waysOf({ plates }: JobSheet, { as, plateId }: KeptPrint): string {
  if (as === 'garment') return 'left to the garment';
  const plate = plates.find(({ id }) => id === plateId);
  return as === 'ink' && plate ? `kept solid on ${plate.ink.name}` : 'as dots like the rest';
}
