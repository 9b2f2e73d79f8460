'use client';

import { Plus, X } from 'lucide-react';
import {
  type NamedPlate,
  addChannel,
  addOwnBase,
  leaveOut,
  setSuppliedBase,
  unusedChannels,
} from '@/core/separation';
import { type JobSheet, type Plate, channelOf, isInk } from '@/core/sheet';
import { Swatch } from '../../controls/Choice';
import { ChoiceSetting } from '../../controls/Setting';
import { useDesk, useSheet } from '../desk/desk';

const NONE = 'none';
const MADE = 'made';

/** The base that a job of supplied plates has: one of the file's plates, one that is made here, or none. */
function baseChoice({ plates }: JobSheet): string {
  const base = plates.find(({ role }) => role === 'underbase');
  if (!base) return NONE;
  return channelOf(base) === null ? MADE : base.id;
}

/** The plates that the file names: which of them print, and what is the base. */
export function SuppliedSection() {
  const sheet = useSheet();
  const named = useDesk((desk) => desk.artwork.notes.plates?.plates ?? NO_PLATES);
  const stock = useDesk((desk) => desk.stock.inks);
  const change = useDesk((desk) => desk.change);
  const own = sheet.plates.filter((plate) => channelOf(plate) !== null);
  const unused = unusedChannels(sheet, named);
  return (
    <>
      <ul>
        {own.map((plate) => (
          <SuppliedPlate key={plate.id} plate={plate} />
        ))}
        {unused.map((each) => (
          <li key={each.name} className="flex items-center gap-2 py-0.5 text-quiet">
            <Swatch colour={each.colour ?? '#ffffff'} />
            <span className="min-w-0 flex-1 truncate">{each.name}</span>
            <span className="caption">left out</span>
            <button
              type="button"
              className="hit"
              aria-label={`Print ${each.name}`}
              onClick={() => change((now) => addChannel(now, each, stock))}
            >
              <Plus aria-hidden className="size-4" />
            </button>
          </li>
        ))}
      </ul>
      <ChoiceSetting
        name="Underbase"
        value={baseChoice(sheet)}
        options={[
          { value: NONE, label: 'none' },
          { value: MADE, label: 'made here' },
          ...own
            .filter(({ role }) => isInk({ role }) || role === 'underbase')
            .map(({ id, ink }) => ({ value: id, label: ink.name, colour: ink.colour })),
        ]}
        onChange={(value) =>
          change((now) =>
            value === MADE
              ? addOwnBase(setSuppliedBase(now, null))
              : setSuppliedBase(now, value === NONE ? null : value),
          )
        }
      />
      <p className="caption">
        Each plate goes to film as the file has it: fit adds nothing but what is set. The file does not say in
        which order its plates print, nor what a white is for: look at the run, and at the underbase.
      </p>
    </>
  );
}

const NO_PLATES: readonly NamedPlate[] = [];

function SuppliedPlate({ plate }: { readonly plate: Plate }) {
  const change = useDesk((desk) => desk.change);
  const select = useDesk((desk) => desk.select);
  const channel = channelOf(plate)!;
  return (
    <li className="flex items-center gap-2 py-0.5">
      <Swatch colour={plate.ink.colour} />
      <button
        type="button"
        className="min-w-0 flex-1 truncate text-left hover:underline"
        onClick={() => select(plate.id)}
      >
        {plate.ink.name}
        {plate.ink.name !== channel && <span className="caption"> {channel}</span>}
      </button>
      <span className="caption">{ROLE_WORDS[plate.role]}</span>
      <button
        type="button"
        className="hit"
        aria-label={`Leave ${plate.ink.name} out`}
        onClick={() => change((now) => leaveOut(now, plate.id))}
      >
        <X aria-hidden className="size-4" />
      </button>
    </li>
  );
}

const ROLE_WORDS: Readonly<Record<Plate['role'], string>> = {
  underbase: 'underbase',
  colour: '',
  highlight: 'highlight',
  special: '',
};
