'use client';

import { useState } from 'react';

interface Props {
  readonly label: string;
  readonly value: string;
  /** Told what is picked before it is taken; null when it is taken or dropped. */
  readonly onHold?: (value: string | null) => void;
  readonly onChange: (value: string) => void;
}

/** A colour, picked or typed as #rrggbb. */
export function ColourField({ label, value, onHold, onChange }: Props) {
  const [text, setText] = useState<string | null>(null);
  const commit = (next: string | null) => {
    setText(null);
    onHold?.(null);
    if (next && /^#[0-9a-f]{6}$/i.test(next) && next.toLowerCase() !== value) onChange(next.toLowerCase());
  };
  return (
    <span className="inline-flex items-center gap-1.5">
      <input
        type="color"
        aria-label={label}
        className="size-7 rounded-[3px] border border-line bg-white p-0.5"
        value={text && /^#[0-9a-f]{6}$/i.test(text) ? text : value}
        onChange={(event) => {
          setText(event.target.value);
          onHold?.(event.target.value);
        }}
        onBlur={() => commit(text)}
      />
      <input
        aria-label={`${label}, code`}
        className="field w-[88px]"
        value={text ?? value}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => commit(text)}
        onKeyDown={(event) => event.key === 'Enter' && commit(text)}
      />
    </span>
  );
}
