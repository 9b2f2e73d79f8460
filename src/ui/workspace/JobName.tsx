'use client';

import { useState } from 'react';

interface Props {
  readonly name: string;
  readonly onChange: (name: string) => void;
}

/** The job's name; typed over in place. */
export function JobName({ name, onChange }: Props) {
  const [text, setText] = useState(name);
  const commit = () => {
    const next = text.trim();
    if (next === '') setText(name);
    else if (next !== name) onChange(next);
  };
  return (
    <input
      aria-label="Name of the job"
      className="field min-w-0 flex-1 border-transparent bg-transparent font-semibold hover:border-line"
      maxLength={80}
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={commit}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') setText(name);
      }}
    />
  );
}
