'use client';

import { useEffect } from 'react';
import { useDesk } from '../desk/desk';

const LEAST_CORNERS = 3;
/** CIELAB distance up to which colours are alike, to begin with. */
const START_CLOSENESS = 15;

interface Props {
  /** What closing the outline does, and what giving it up does, as they stand on the buttons. */
  readonly take: string;
  readonly leave: string;
}

/** An outline while its corners are clicked on the table. */
export function Outlining({ take, leave }: Props) {
  const pick = useDesk((desk) => desk.pick);
  const corners = useDesk((desk) => desk.corners);
  const dropCorner = useDesk((desk) => desk.dropCorner);
  const roundCorners = useDesk((desk) => desk.roundCorners);
  const takeCorners = useDesk((desk) => desk.takeCorners);
  const area = useDesk((desk) => desk.area);
  const setArea = useDesk((desk) => desk.setArea);
  useEffect(() => () => setArea(null), [setArea]);
  const enough = corners.length >= LEAST_CORNERS;
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
        {area !== null
          ? corners.length === 0
            ? 'Click on the table: what touches that place in like colours is outlined.'
            : `Outlined with ${corners.length} corners; click elsewhere for another area.`
          : corners.length === 0
            ? 'Click the corners one after another on the table; two are enough for an ellipse.'
            : `${corners.length} ${corners.length === 1 ? 'corner' : 'corners'}${enough ? '; the first one closes the outline' : `, ${LEAST_CORNERS - corners.length} more at least`}.`}
      </p>
      {area !== null && (
        <label className="flex items-center gap-2">
          <span className="caption shrink-0">alike within</span>
          <input
            type="range"
            className="min-w-0 flex-1 accent-ink"
            aria-label="Colours are alike within"
            min={1}
            max={60}
            value={area}
            onChange={(event) => setArea(Number(event.target.value))}
          />
          <span className="w-8 text-right">{area}</span>
        </label>
      )}
      <div className="mt-2 flex flex-wrap gap-2">
        <button type="button" className="main-button" disabled={!enough} onClick={takeCorners}>
          {take}
        </button>
        <button
          type="button"
          aria-pressed={area !== null}
          className={`plain-button ${area === null ? '' : 'bg-ink text-white'}`}
          title="A click outlines all that touches the place in like colours"
          onClick={() => setArea(area === null ? START_CLOSENESS : null)}
        >
          Area of like colours
        </button>
        <button
          type="button"
          className="plain-button"
          title="The ellipse in the rectangle between two corners"
          disabled={corners.length !== 2}
          onClick={roundCorners}
        >
          Ellipse between two
        </button>
        <button type="button" className="plain-button" disabled={corners.length === 0} onClick={dropCorner}>
          Last corner back
        </button>
        <button type="button" className="plain-button" onClick={() => pick(null)}>
          {leave}
        </button>
      </div>
    </>
  );
}
