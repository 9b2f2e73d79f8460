'use client';

import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { Plus, X } from 'lucide-react';
import {
  type Plate,
  SPECIALS,
  SPECIAL_NAMES,
  type Special,
  addSpecial,
  changeSpecial,
  removeSpecial,
} from '@/core/sheet';
import { Swatch } from '../../controls/Choice';
import { useUnit } from '../../state/useStored';
import { type DeskState, useDesk, useSheet } from '../desk/desk';
import { SheetLength } from '../desk/SheetFields';

const specialsOf = ({ plates }: DeskState['sheet']) => plates.filter(({ special }) => special !== null);

export const hasSpecials = ({ sheet }: DeskState): boolean => sheet.plates.length > 0;

/** How a folded heading says it. */
export function specialsState({ sheet }: Pick<DeskState, 'sheet'>): string {
  const names = specialsOf(sheet).map(({ ink }) => ink.name);
  return names.length === 0 ? 'none' : names.join(', ');
}

/** Plates below or above the inks that print no colour of the artwork. */
export function SpecialSection() {
  const sheet = useSheet();
  const change = useDesk((desk) => desk.change);
  const specials = specialsOf(sheet);
  return (
    <>
      <p className="caption">
        They have screens, films and places in the run like all plates. The predicted print shows the whites,
        and leaves the others out: what they do to ink and cloth is not known to it.
      </p>
      <ul>
        {specials.map((plate) => (
          <li key={plate.id} className="mt-2 border-t border-line pt-2">
            <SpecialPlate plate={plate} special={plate.special!} />
          </li>
        ))}
      </ul>
      <Menu>
        <MenuButton className="plain-button mt-2">
          <Plus aria-hidden className="size-4" /> Add a special plate
        </MenuButton>
        <MenuItems
          anchor="bottom start"
          className="z-30 rounded-[3px] border border-quiet bg-white py-1 [--anchor-gap:2px] focus:outline-none"
        >
          {SPECIALS.map((kind) => (
            <MenuItem key={kind}>
              <button
                type="button"
                onClick={() => change((now) => addSpecial(now, kind))}
                className="block w-full px-3 py-1 text-left data-focus:bg-slip-deep"
              >
                {SPECIAL_NAMES[kind]}
                <span className="caption block">{WHERE[kind]}</span>
              </button>
            </MenuItem>
          ))}
        </MenuItems>
      </Menu>
    </>
  );
}

const WHERE: Readonly<Record<Special['kind'], string>> = {
  discharge: 'below everything: takes the colour out of the garment',
  blocker: 'below everything: holds back the dye of polyester',
  hit: 'on the flashed base: white once more, below chosen colours',
  halftone: 'beside the base: what of it is dots, on a mesh of its own',
  thin: 'on wet ink: veils what is under it',
  clear: 'on top: gloss, or a seal',
  puff: 'on top: rises in the dryer',
  adhesive: 'on top: holds the foil',
};

function SpecialPlate({ plate, special }: { readonly plate: Plate; readonly special: Special }) {
  const change = useDesk((desk) => desk.change);
  const select = useDesk((desk) => desk.select);
  return (
    <>
      <p className="flex items-center gap-1.5">
        <Swatch colour={plate.ink.colour} />
        <button
          type="button"
          className="min-w-0 flex-1 truncate text-left font-semibold hover:underline"
          onClick={() => select(plate.id)}
        >
          {plate.ink.name}
        </button>
        <span className="caption">mesh {plate.mesh}</span>
        <button
          type="button"
          className="hit"
          aria-label={`Take ${plate.ink.name} out`}
          onClick={() => change((now) => removeSpecial(now, plate.id))}
        >
          <X aria-hidden className="size-4" />
        </button>
      </p>
      {special.kind === 'halftone' ? (
        <p className="caption">
          It prints what of the base is less than solid, with the dots of the Dots step; the base keeps what
          is solid.
        </p>
      ) : (
        <Reach plate={plate} special={special} />
      )}
    </>
  );
}

/** How far a special plate reaches, and what it lies at. */
function Reach({ plate, special }: { readonly plate: Plate; readonly special: Special }) {
  const sheet = useSheet();
  const change = useDesk((desk) => desk.change);
  const [unit] = useUnit();
  const others = sheet.plates.filter((each) => each.special === null);
  const isAt = (id: string) => special.over === null || special.over.includes(id);
  const toggle = (id: string) => {
    const over = others.map((each) => each.id).filter((each) => (each === id ? !isAt(each) : isAt(each)));
    if (over.length === 0) return;
    change((now) => changeSpecial(now, plate.id, { over: over.length === others.length ? null : over }));
  };
  return (
    <>
      <SheetLength
        label="Reaches beyond by"
        valueMm={special.growMm}
        unit={unit}
        minMm={-2}
        maxMm={2}
        hint={special.growMm < 0 ? 'it stays inside of them' : 'negative: it stays inside of them'}
        apply={(now, growMm) => changeSpecial(now, plate.id, { growMm })}
      />
      <span
        role="group"
        aria-label={`Plates that ${plate.ink.name} lies at`}
        className="mt-1 flex flex-wrap gap-1"
      >
        {others.map(({ id, number, ink }) => (
          <button
            key={id}
            type="button"
            aria-pressed={isAt(id)}
            aria-label={`${plate.ink.name} lies at ${ink.name}`}
            title={ink.name}
            onClick={() => toggle(id)}
            className={`flex h-6 items-center gap-1 border px-1 text-[11px] ${isAt(id) ? 'border-ink bg-white' : 'border-line text-quiet opacity-60'}`}
          >
            <Swatch colour={ink.colour} /> {number}
          </button>
        ))}
      </span>
    </>
  );
}
