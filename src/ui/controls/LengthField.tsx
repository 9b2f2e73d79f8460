'use client';

import { useId, useRef, useState } from 'react';
import { KerameusError, type LengthUnit, formatLength, parseLengthMm } from '@/core/units';

interface Props {
  readonly label: string;
  readonly valueMm: number;
  readonly unit: LengthUnit;
  readonly minMm?: number;
  readonly maxMm?: number;
  /** The consequence, below the field. */
  readonly hint?: string;
  /** Told what the hand is at while it drags the label; null when it lets go. */
  readonly onHold?: (valueMm: number | null) => void;
  readonly onChange: (valueMm: number) => void;
}

/** What one pixel of a drag on the label changes, in each unit. */
const PER_PIXEL: Readonly<Record<LengthUnit, number>> = { mm: 0.01, cm: 0.01, in: 0.01, pt: 0.05, px: 0.1 };

/**
 * A length, typed with or without its unit, or dragged by its label; it is taken over on Enter, when the field is left, or when the
 * hand lets go.
 */
export function LengthField({ label, valueMm, unit, minMm, maxMm, hint, onHold, onChange }: Props) {
  const id = useId();
  const [text, setText] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const drag = useRef<{ x: number; startMm: number } | null>(null);
  const [draggedMm, setDraggedMm] = useState<number | null>(null);
  const tell = (thrown: unknown) =>
    setProblem(thrown instanceof KerameusError ? `${thrown.message} ${thrown.remedy ?? ''}` : String(thrown));
  const commit = () => {
    if (text === null) return;
    try {
      const rule = { parameter: label, defaultUnit: unit, minMm: minMm ?? 0, ...(maxMm ? { maxMm } : {}) };
      const value = parseLengthMm(text, rule);
      setText(null);
      setProblem(null);
      if (Math.abs(value - valueMm) > 1e-6) onChange(value);
    } catch (thrown) {
      tell(thrown);
    }
  };
  const letGo = (value: number | null) => {
    drag.current = null;
    setDraggedMm(null);
    if (value === null || Math.abs(value - valueMm) <= 1e-6) {
      onHold?.(null);
      return;
    }
    try {
      setProblem(null);
      onChange(value);
    } catch (thrown) {
      tell(thrown);
    }
  };
  const draggedTo = (x: number): number => {
    const { x: from, startMm } = drag.current!;
    const step = parseLengthMm(`${PER_PIXEL[unit]}${unit}`, { parameter: label });
    const most = maxMm ?? Number.POSITIVE_INFINITY;
    return Math.min(most, Math.max(minMm ?? 0, startMm + Math.round(x - from) * step));
  };
  return (
    <div className="py-1">
      <div className="flex items-center justify-between gap-3">
        <label
          htmlFor={id}
          className="cursor-ew-resize touch-none"
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            drag.current = { x: event.clientX, startMm: valueMm };
          }}
          onPointerMove={(event) => {
            if (!drag.current) return;
            const mm = draggedTo(event.clientX);
            setDraggedMm(mm);
            onHold?.(mm);
          }}
          onPointerUp={() => letGo(draggedMm)}
          onPointerCancel={() => letGo(null)}
        >
          {label}
        </label>
        <input
          id={id}
          className="field w-24 text-right"
          value={text ?? formatLength(draggedMm ?? valueMm, unit)}
          aria-invalid={problem !== null}
          aria-describedby={problem || hint ? `${id}-hint` : undefined}
          onChange={(event) => setText(event.target.value)}
          onBlur={commit}
          onKeyDown={(event) => {
            // Leaving takes it over, and keys are the table's again.
            if (event.key === 'Enter') event.currentTarget.blur();
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
