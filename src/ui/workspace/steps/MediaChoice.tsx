'use client';

import type { Stock } from '@/core/sheet';
import { ChoiceSetting } from '../../controls/Setting';

const TYPED = 'typed';
const TYPED_ROLL = 'typed roll';

interface Props {
  readonly name: string;
  readonly label: string;
  readonly sheets: Stock['sheets'];
  readonly widthMm: number;
  /** Null: a roll. */
  readonly heightMm: number | null;
  readonly onChange: (media: { widthMm: number; heightMm: number | null }) => void;
}

function alike(a: number | null, b: number | null): boolean {
  return a === b || (a !== null && b !== null && Math.abs(a - b) < 0.01);
}

/** A film sheet or a roll: one from stock, or one of typed size. */
export function MediaChoice({ name, label, sheets, widthMm, heightMm, onChange }: Props) {
  const known = sheets.find((each) => alike(each.widthMm, widthMm) && alike(each.heightMm, heightMm));
  return (
    <ChoiceSetting
      name={name}
      label={label}
      value={known?.name ?? (heightMm === null ? TYPED_ROLL : TYPED)}
      options={[
        ...sheets.map((each) => ({ value: each.name, label: each.name })),
        ...(known || heightMm === null ? [] : [{ value: TYPED, label: 'sheet, typed' }]),
        ...(sheets.some((each) => each.heightMm === null) || heightMm === null
          ? [{ value: TYPED_ROLL, label: 'roll, typed' }]
          : []),
      ].filter(({ value }) => value !== TYPED_ROLL || !known)}
      onChange={(value) => {
        const chosen = sheets.find((each) => each.name === value);
        if (chosen) onChange({ widthMm: chosen.widthMm, heightMm: chosen.heightMm });
        else if (value === TYPED_ROLL) onChange({ widthMm, heightMm: null });
      }}
    />
  );
}
