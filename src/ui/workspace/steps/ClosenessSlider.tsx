'use client';

import type { JobSheet } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { useDraft } from '../desk/desk';

interface Props {
  readonly colour: string;
  /** CIELAB distance. */
  readonly value: number;
  readonly apply: (sheet: JobSheet, value: number) => JobSheet;
}

/** How near a pixel must come to a colour to belong to it. */
export function ClosenessSlider({ colour, value, apply }: Props) {
  const { shown, isHeld, hold, take } = useDraft(value, apply);
  const settle = () => {
    if (isHeld) take(shown);
  };
  return (
    <label className="flex min-w-0 flex-1 items-center gap-2">
      <span className="caption shrink-0">closeness</span>
      <input
        type="range"
        className="min-w-0 flex-1 accent-ink"
        aria-label={`Closeness of ${colour}`}
        min={1}
        max={40}
        step={0.5}
        value={shown}
        onChange={(event) => hold(Number(event.target.value))}
        onPointerUp={settle}
        onKeyUp={settle}
        onBlur={settle}
      />
      <span className="w-8 text-right">{trimNumber(shown, 1)}</span>
    </label>
  );
}
