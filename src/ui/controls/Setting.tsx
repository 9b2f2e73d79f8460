'use client';

import type { ReactNode } from 'react';
import { Choice, type ChoiceOption } from './Choice';

/** A name and its control on one row. */
export function Setting({ name, children }: { readonly name: string; readonly children: ReactNode }) {
  return (
    <div className="flex items-center justify-between gap-3 py-1">
      <span>{name}</span>
      {children}
    </div>
  );
}

interface ChoiceSettingProps<T extends string> {
  readonly name: string;
  /** For those who do not see the row; the name when left out. */
  readonly label?: string;
  readonly value: T;
  readonly options: readonly (ChoiceOption & { readonly value: T })[];
  readonly onChange: (value: T) => void;
}

/** One of a list, on a row with its name. */
export function ChoiceSetting<T extends string>(props: ChoiceSettingProps<T>) {
  const { name, label = name, value, options, onChange } = props;
  return (
    <Setting name={name}>
      <Choice
        label={label}
        className="w-44"
        value={value}
        options={options}
        onChange={(chosen) => onChange(chosen as T)}
      />
    </Setting>
  );
}

interface SwitchProps {
  readonly name: ReactNode;
  /** What it does, where its name does not say it all. */
  readonly title?: string;
  readonly on: boolean;
  readonly onChange: (on: boolean) => void;
}

/** Something that is or is not. */
export function SwitchSetting({ name, title, on, onChange }: SwitchProps) {
  return (
    <label className="flex items-center gap-2 py-1" title={title}>
      <input
        type="checkbox"
        className="size-4 accent-ink"
        checked={on}
        onChange={(event) => onChange(event.target.checked)}
      />
      {name}
    </label>
  );
}
