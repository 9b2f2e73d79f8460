'use client';

import { useState } from 'react';

interface Props {
  readonly label: string;
  /** 0..1 */
  readonly value: number;
  readonly min?: number;
  readonly step?: number;
  readonly onChange: (value: number) => void;
}

/** A share, dragged in whole percent; it is committed when the hand lets go. */
export function PercentSlider({ label, value, min = 0, step = 5, onChange }: Props) {
  const [held, setHeld] = useState<number | null>(null);
  const shown = held ?? Math.round(value * 100);
  const commit = () => {
    if (held === null) return;
    setHeld(null);
    if (held !== Math.round(value * 100)) onChange(held / 100);
  };
  return (
    <label className="flex items-center gap-3 py-1">
      <span className="w-[104px] shrink-0 truncate" title={label}>
        {label}
      </span>
      <input
        type="range"
        className="min-w-0 flex-1 accent-ink"
        min={min}
        max={100}
        step={step}
        value={shown}
        onChange={(event) => setHeld(Number(event.target.value))}
        onPointerUp={commit}
        onKeyUp={commit}
        onBlur={commit}
      />
      <span className="w-12 shrink-0 text-right whitespace-nowrap">{shown} %</span>
    </label>
  );
}
