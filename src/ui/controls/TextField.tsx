'use client';

import { useId, useState } from 'react';

interface Props {
  readonly label: string;
  readonly value: string;
  readonly maxLength: number;
  /** What having no text means; without it the field needs one. */
  readonly none?: string;
  /** What is wrong with a text, or null. */
  readonly check?: (text: string) => string | null;
  readonly onChange: (value: string) => void;
}

/** A short text, taken over on Enter or when the field is left. */
export function TextField({ label, value, maxLength, none, check, onChange }: Props) {
  const id = useId();
  const [text, setText] = useState<string | null>(null);
  const problem = text === null ? null : problemOf(text.trim(), none !== undefined, check);
  const commit = () => {
    if (text === null || problem) return;
    setText(null);
    if (text.trim() !== value) onChange(text.trim());
  };
  return (
    <div className="py-1">
      <div className="flex items-center justify-between gap-3">
        <label htmlFor={id}>{label}</label>
        <input
          id={id}
          className="field w-40 text-right"
          maxLength={maxLength}
          value={text ?? value}
          placeholder={none}
          aria-invalid={problem !== null}
          onChange={(event) => setText(event.target.value)}
          onBlur={commit}
          onKeyDown={(event) => {
            // Leaving takes it over, and keys are the table's again.
            if (event.key === 'Enter') event.currentTarget.blur();
            if (event.key === 'Escape') setText(null);
          }}
        />
      </div>
      {problem && (
        <p role="alert" className="mt-1 text-xs text-clay-deep">
          {problem}
        </p>
      )}
    </div>
  );
}

function problemOf(text: string, mayBeEmpty: boolean, check: Props['check']): string | null {
  if (text === '') return mayBeEmpty ? null : 'It needs a value.';
  return check?.(text) ?? null;
}
