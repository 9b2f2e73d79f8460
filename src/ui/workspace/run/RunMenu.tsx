'use client';

import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { Plus } from 'lucide-react';
import type { Station } from '@/core/sheet';

interface Props {
  readonly onInsert: (station: Station) => void;
  /** Prints the selected screen once more; null when none is selected. */
  readonly onAgain: (() => void) | null;
  readonly onRenumber: () => void;
}

/** What can be put into the run, after the selected screen. */
export function RunMenu({ onInsert, onAgain, onRenumber }: Props) {
  const items: readonly (readonly [string, (() => void) | null])[] = [
    ['Flash', () => onInsert({ kind: 'flash' })],
    ['Cooling head', () => onInsert({ kind: 'cool' })],
    ['Empty head', () => onInsert({ kind: 'empty' })],
    ['Another turn', () => onInsert({ kind: 'turn' })],
    ['The same screen again', onAgain],
    ['Number films in print order', onRenumber],
  ];
  return (
    <Menu>
      <MenuButton className="plain-button px-1.5 py-0.5" aria-label="Add to the run" title="Add to the run">
        <Plus aria-hidden className="size-4" /> Add
      </MenuButton>
      <MenuItems
        anchor="top end"
        className="z-30 rounded-[3px] border border-quiet bg-white py-1 [--anchor-gap:2px] focus:outline-none"
      >
        {items.map(([label, act]) => (
          <MenuItem key={label} disabled={act === null}>
            <button
              type="button"
              onClick={act ?? undefined}
              className="block w-full px-3 py-1 text-left data-disabled:text-quiet data-focus:bg-slip-deep"
            >
              {label}
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}
