'use client';

import { toSimulated, toSpot } from '@/core/separation';
import { isSimulated, methodOf } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { ChoiceSetting } from '../../controls/Setting';
import { useDesk, useSheet } from '../desk/desk';

const METHOD_WORDS = [
  { value: 'spot', label: 'flat colours on inks' },
  { value: 'simulated', label: 'tones of all inks' },
] as const;

/** How the artwork becomes plates, and what speaks for either way. */
export function MethodSection() {
  const sheet = useSheet();
  const artwork = useDesk((desk) => desk.artwork);
  const change = useDesk((desk) => desk.change);
  const { flatShare } = artwork.notes;
  return (
    <>
      <ChoiceSetting
        name="Printed as"
        value={methodOf(sheet)}
        options={METHOD_WORDS}
        onChange={(method) => {
          if (method === methodOf(sheet)) return;
          change((now) =>
            method === 'simulated' ? toSimulated(now, artwork.flat) : toSpot(now, artwork.flat),
          );
        }}
      />
      <p className="caption">
        {flatShare === null
          ? 'Flat colours print solid; paintings and photographs want tones.'
          : `Flat colours explain ${trimNumber(flatShare * 100, 0)} % of the artwork's areas.`}
        {isSimulated(sheet) ? ' Changing back finds its colours as they came in.' : ''}
      </p>
    </>
  );
}
