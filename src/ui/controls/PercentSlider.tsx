'use client';

import { useState } from 'react';

interface Props {
  readonly label: string;
  /** 1 is 100 percent. */
  readonly value: number;
  readonly min?: number;
  readonly max?: number;
  readonly step?: number;
  /** Told what the hand is at while it drags; null when it lets go. */
  readonly onHold?: (value: number | null) => void;
  readonly onChange: (value: number) => void;
}

/** A share, dragged or typed in whole percent; it is committed when the hand lets go. */
export function PercentSlider({ label, value, min = 0, max = 100, step = 1, onHold, onChange }: Props) {
  // Where the hand began is kept: what is shown meanwhile may be what it holds.
  const [hold, setHold] = useState<{ readonly at: number; readonly from: number } | null>(null);
  const [typed, setTyped] = useState<string | null>(null);
  const shown = hold?.at ?? Math.round(value * 100);
  const commit = () => {
    if (hold === null) return;
    setHold(null);
    if (hold.at !== hold.from) onChange(hold.at / 100);
    else onHold?.(null);
  };
  const take = () => {
    const percent = Math.round(Number((typed ?? '').replace(/[\s%]/g, '').replace(',', '.')));
    setTyped(null);
    if (typed === null || typed.trim() === '' || !(percent >= min && percent <= max)) return;
    if (percent !== Math.round(value * 100)) onChange(percent / 100);
  };
  return (
    <div className="flex items-center gap-3 py-1">
      <label className="flex min-w-0 flex-1 items-center gap-3">
        <span className="w-[104px] shrink-0 truncate" title={label}>
          {label}
        </span>
        <input
          type="range"
          className="min-w-0 flex-1 accent-ink"
          min={min}
          max={max}
          step={step}
          value={shown}
          onChange={(event) => {
            const at = Number(event.target.value);
            setHold({ at, from: hold?.from ?? Math.round(value * 100) });
            onHold?.(at / 100);
          }}
          onPointerUp={commit}
          onKeyUp={commit}
          onBlur={commit}
        />
      </label>
      <span className="flex w-12 shrink-0 items-center justify-end gap-0.5 whitespace-nowrap">
        <input
          type="text"
          inputMode="numeric"
          aria-label="Typed percentage"
          className="h-6 w-8 rounded-[2px] border border-transparent bg-transparent text-right hover:border-line focus:border-line"
          value={typed ?? String(shown)}
          onChange={(event) => setTyped(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter') event.currentTarget.blur();
            if (event.key === 'Escape') setTyped(null);
          }}
          onBlur={take}
        />
        %
      </span>
    </div>
  );
}
