'use client';

import type { ComponentProps } from 'react';
import type { JobSheet } from '@/core/sheet';
import { LengthField } from '../../controls/LengthField';
import { PercentSlider } from '../../controls/PercentSlider';
import { useDraft } from './desk';

interface OfSheet {
  /** The sheet with another value. */
  readonly apply: (sheet: JobSheet, value: number) => JobSheet;
}

type SliderProps = Omit<ComponentProps<typeof PercentSlider>, 'onChange' | 'onHold'> & OfSheet;

/** A share of the sheet; while it is dragged the table follows. */
export function SheetSlider({ apply, ...props }: SliderProps) {
  const draft = useDraft(props.value, apply);
  return (
    <PercentSlider
      {...props}
      onHold={(value) => (value === null ? draft.drop() : draft.hold(value))}
      onChange={draft.take}
    />
  );
}

type LengthProps = Omit<ComponentProps<typeof LengthField>, 'onChange' | 'onHold'> & OfSheet;

/** A length of the sheet; while it is dragged the table follows. */
export function SheetLength({ apply, ...props }: LengthProps) {
  const draft = useDraft(props.valueMm, apply);
  return (
    <LengthField
      {...props}
      onHold={(value) => (value === null ? draft.drop() : draft.hold(value))}
      onChange={draft.take}
    />
  );
}
