'use client';

import { useEffect } from 'react';
import { layerOf, withMask } from '@/core/sheet';
import { type DeskState, useDesk, useSheet } from '../desk/desk';
import { Outlining } from './Outlining';

/** How a folded heading says it. */
export function partState({ sheet }: Pick<DeskState, 'sheet'>): string {
  const { mask } = layerOf(sheet);
  return mask ? `inside ${mask.length} corners` : 'all of it';
}

/** What of the artwork prints: all of it, or what lies inside of an outline that is clicked on the table. */
export function PartSection() {
  const { mask } = layerOf(useSheet());
  const outlining = useDesk(({ picking }) => picking === 'part');
  const pick = useDesk((desk) => desk.pick);
  const change = useDesk((desk) => desk.change);
  if (outlining) return <OutliningAll />;
  return (
    <>
      <p className="caption">
        {mask
          ? `What lies outside of ${mask.length} corners is left out.`
          : 'The whole artwork prints. An outline on the table leaves out what lies beyond it.'}
      </p>
      <div className="mt-2 flex flex-wrap gap-2">
        <button type="button" className="plain-button" onClick={() => pick('part')}>
          {mask ? 'Outline anew' : 'Outline a part'}
        </button>
        {mask && (
          <button
            type="button"
            className="plain-button"
            onClick={() => change((sheet) => withMask(sheet, null))}
          >
            Print all of it
          </button>
        )}
      </div>
    </>
  );
}

/** While corners are clicked, the table shows all of the artwork. */
function OutliningAll() {
  const hold = useDesk((desk) => desk.hold);
  useEffect(() => {
    hold((sheet) => withMask(sheet, null));
    return () => hold(null);
  }, [hold]);
  return <Outlining take="Print this part" leave="Leave it as it was" />;
}
