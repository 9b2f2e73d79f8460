'use client';

import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/react';
import { Check, ChevronDown } from 'lucide-react';

export interface ChoiceOption {
  readonly value: string;
  readonly label: string;
  readonly colour?: string;
}

interface Props {
  readonly label: string;
  readonly value: string;
  /** A function is asked when the list opens; `shown` then tells what stands on the button. */
  readonly options: readonly ChoiceOption[] | (() => readonly ChoiceOption[]);
  readonly shown?: ChoiceOption;
  readonly onChange: (value: string) => void;
  readonly className?: string;
  readonly icon?: React.ReactNode;
}

export function Swatch({ colour }: { readonly colour: string }) {
  return (
    <span
      aria-hidden
      className="inline-block size-3.5 shrink-0 rounded-[2px] border border-black/25"
      style={{ background: colour }}
    />
  );
}

/** One of a list. */
export function Choice({ label, value, options, shown, onChange, className, icon }: Props) {
  const current = shown ?? optionsOf(options).find((option) => option.value === value);
  return (
    <Listbox value={value} onChange={onChange}>
      <ListboxButton
        aria-label={label}
        className={`field flex items-center gap-2 text-left ${className ?? ''}`}
      >
        {icon}
        {current?.colour && <Swatch colour={current.colour} />}
        <span className="min-w-0 flex-1 truncate">{current?.label ?? (value || label)}</span>
        <ChevronDown aria-hidden className="size-3.5 shrink-0 text-quiet" />
      </ListboxButton>
      <ListboxOptions
        anchor="bottom start"
        className="z-30 max-h-72 min-w-(--button-width) overflow-auto rounded-[3px] border border-quiet bg-white py-1 [--anchor-gap:2px] focus:outline-none"
      >
        <OptionList options={options} value={value} />
      </ListboxOptions>
    </Listbox>
  );
}

function OptionList({ options, value }: Pick<Props, 'options' | 'value'>) {
  return optionsOf(options).map((option) => (
    <ListboxOption
      key={option.value}
      value={option.value}
      className="flex cursor-pointer items-center gap-2 px-2 py-1 data-focus:bg-slip-deep"
    >
      {option.colour && <Swatch colour={option.colour} />}
      <span className="flex-1">{option.label}</span>
      {option.value === value && <Check aria-hidden className="size-3.5" />}
    </ListboxOption>
  ));
}

function optionsOf(options: Props['options']): readonly ChoiceOption[] {
  return typeof options === 'function' ? options() : options;
}
