'use client';

import { useEffect } from 'react';
import { layerOf, withMask } from '@/core/sheet';
import { type DeskState, useDesk, useSheet } from '../desk/desk';

/** How a folded heading says it. */
export function partState({ sheet }: Pick<DeskState, 'sheet'>): string {
  const { mask } = layerOf(sheet);
  return mask ? `inside ${mask.length} corners` : 'all of it';
}

const LEAST_CORNERS = 3;

/** What of the artwork prints: all of it, or what lies inside of an outline that is clicked on the table. */
export function PartSection() {
  const { mask } = layerOf(useSheet());
  const outlining = useDesk(({ picking }) => picking === 'part');
  const pick = useDesk((desk) => desk.pick);
  const change = useDesk((desk) => desk.change);
  if (outlining) return <Outlining />;
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
function Outlining() {
  const hold = useDesk((desk) => desk.hold);
  const pick = useDesk((desk) => desk.pick);
  const corners = useDesk((desk) => desk.corners);
  const dropCorner = useDesk((desk) => desk.dropCorner);
  const takeCorners = useDesk((desk) => desk.takeCorners);
  const enough = corners.length >= LEAST_CORNERS;
  useEffect(() => {
    hold((sheet) => withMask(sheet, null));
    return () => hold(null);
  }, [hold]);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const { target } = event;
      if (target instanceof HTMLElement && target.closest('input, button, [role="dialog"]')) return;
      const acts: Readonly<Record<string, () => void>> = {
        Enter: () => enough && takeCorners(),
        Escape: () => pick(null),
        Backspace: dropCorner,
      };
      const act = acts[event.key];
      if (!act) return;
      event.preventDefault();
      act();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [enough, takeCorners, pick, dropCorner]);
  return (
    <>
      <p role="status">
        {corners.length === 0
          ? 'Click the corners one after another on the table.'
          : `${corners.length} ${corners.length === 1 ? 'corner' : 'corners'}${enough ? '; the first one closes the outline' : `, ${LEAST_CORNERS - corners.length} more at least`}.`}
      </p>
      <div className="mt-2 flex flex-wrap gap-2">
        <button type="button" className="main-button" disabled={!enough} onClick={takeCorners}>
          Print this part
        </button>
        <button type="button" className="plain-button" disabled={corners.length === 0} onClick={dropCorner}>
          Last corner back
        </button>
        <button type="button" className="plain-button" onClick={() => pick(null)}>
          Leave it as it was
        </button>
      </div>
    </>
  );
}
