'use client';

import { useId, useState } from 'react';
import { KerameusError, type LengthUnit, formatLength, parseLengthMm } from '@/core/units';

interface Props {
  readonly label: string;
  readonly valueMm: number;
  readonly unit: LengthUnit;
  readonly minMm?: number;
  readonly maxMm?: number;
  /** The consequence, below the field. */
  readonly hint?: string;
  readonly onChange: (valueMm: number) => void;
}

/** A length, typed with or without its unit; it is taken over on Enter or when the field is left. */
export function LengthField({ label, valueMm, unit, minMm, maxMm, hint, onChange }: Props) {
  const id = useId();
  const [text, setText] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const commit = () => {
    if (text === null) return;
    try {
      const rule = { parameter: label, defaultUnit: unit, minMm: minMm ?? 0, ...(maxMm ? { maxMm } : {}) };
      const value = parseLengthMm(text, rule);
      setText(null);
      setProblem(null);
      if (Math.abs(value - valueMm) > 1e-6) onChange(value);
    } catch (thrown) {
      setProblem(
        thrown instanceof KerameusError ? `${thrown.message} ${thrown.remedy ?? ''}` : String(thrown),
      );
    }
  };
  return (
    <div className="py-1">
      <div className="flex items-center justify-between gap-3">
        <label htmlFor={id}>{label}</label>
        <input
          id={id}
          className="field w-24 text-right"
          value={text ?? formatLength(valueMm, unit)}
          aria-invalid={problem !== null}
          aria-describedby={problem || hint ? `${id}-hint` : undefined}
          onChange={(event) => setText(event.target.value)}
          onBlur={commit}
          onKeyDown={(event) => {
            if (event.key === 'Enter') commit();
            if (event.key === 'Escape') {
              setText(null);
              setProblem(null);
            }
          }}
        />
      </div>
      {(problem ?? hint) && (
        <p
          id={`${id}-hint`}
          className={problem ? 'mt-1 text-xs text-clay-deep' : 'caption mt-0.5'}
          role={problem ? 'alert' : undefined}
        >
          {problem ?? hint}
        </p>
      )}
    </div>
  );
}
