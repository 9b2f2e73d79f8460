'use client';

import { Eye, EyeOff, X } from 'lucide-react';
import { MOST_PATCHES, PATCH_ACTS, type Patch, type Plate, patchesOf, withPatches } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { PercentSlider } from '../../controls/PercentSlider';
import { ChoiceSetting } from '../../controls/Setting';
import { TextField } from '../../controls/TextField';
import { type DeskState, plateOf, useDesk, useDraft, usePlate } from '../desk/desk';
import { Outlining } from './Outlining';

const ACT_WORDS: Readonly<Record<Patch['act'], string>> = {
  lift: 'fuller tones',
  lighten: 'lighter tones',
  clear: 'nothing',
  fill: 'solid',
};

/** Whether the plate that is worked on has tones of its own that can be changed in places. */
export function hasPatches(desk: DeskState): boolean {
  return plateOf(desk)?.sources.some(({ kind }) => kind === 'tones' || kind === 'channel') ?? false;
}

/** How a folded heading says it. */
export function patchesState(desk: DeskState): string {
  const plate = plateOf(desk);
  const { length } = plate ? patchesOf(plate) : [];
  return length === 0 ? 'none' : String(length);
}

/** Places where the plate that is worked on prints otherwise than it was solved. */
export function PatchesSection() {
  const plate = usePlate();
  const outlining = useDesk(({ picking }) => picking === 'patch');
  const pick = useDesk((desk) => desk.pick);
  if (!plate) return null;
  if (outlining) return <Outlining take={`Change ${plate.ink.name} here`} leave="No patch" />;
  const patches = patchesOf(plate);
  return (
    <>
      <p className="caption">
        {patches.length === 0
          ? `${plate.ink.name} prints everywhere as it was solved. A patch changes it inside of an outline, and stays when inks are solved for again.`
          : `${plate.ink.name} prints otherwise inside of these outlines.`}
      </p>
      {patches.map((patch, k) => (
        <PatchFields key={patch.id} plate={plate} patch={patch} number={k + 1} />
      ))}
      <button
        type="button"
        className="plain-button mt-2"
        disabled={patches.length >= MOST_PATCHES}
        onClick={() => pick('patch')}
      >
        Outline a patch
      </button>
    </>
  );
}

interface FieldsProps {
  readonly plate: Plate;
  readonly patch: Patch;
  readonly number: number;
}

function PatchFields({ plate, patch, number }: FieldsProps) {
  const change = useDesk((desk) => desk.change);
  const set = (part: Partial<Patch>) =>
    change((now) =>
      withPatches(now, plate.id, (all) =>
        all.map((each) => (each.id === patch.id ? { ...each, ...part } : each)),
      ),
    );
  const amount = useDraft(patch.amount, (now, value) =>
    withPatches(now, plate.id, (all) =>
      all.map((each) => (each.id === patch.id ? { ...each, amount: value } : each)),
    ),
  );
  return (
    <div
      role="group"
      aria-label={`Patch ${number} of ${plate.ink.name}`}
      className="mt-2 border border-line p-2"
    >
      <div className="flex items-center justify-between">
        <span className="font-semibold">Patch {number}</span>
        <span>
          <button
            type="button"
            className="hit"
            aria-pressed={!patch.on}
            aria-label={patch.on ? `Look without patch ${number}` : `Look with patch ${number}`}
            title={patch.on ? 'Look without it' : 'Look with it'}
            onClick={() => set({ on: !patch.on })}
          >
            {patch.on ? <Eye aria-hidden className="size-4" /> : <EyeOff aria-hidden className="size-4" />}
          </button>
          <button
            type="button"
            className="hit"
            aria-label={`Take patch ${number} away`}
            title="Take it away"
            onClick={() =>
              change((now) => withPatches(now, plate.id, (all) => all.filter(({ id }) => id !== patch.id)))
            }
          >
            <X aria-hidden className="size-4" />
          </button>
        </span>
      </div>
      <ChoiceSetting
        name="Prints there"
        label={`Patch ${number} prints`}
        value={patch.act}
        options={PATCH_ACTS.map((act) => ({ value: act, label: ACT_WORDS[act] }))}
        // Half cleared or half solid is meant less often than all of it.
        onChange={(act) => set({ act, ...(act === 'clear' || act === 'fill' ? { amount: 1 } : {}) })}
      />
      <PercentSlider
        label="How much"
        value={amount.shown}
        onHold={(value) => (value === null ? amount.drop() : amount.hold(value))}
        onChange={amount.take}
      />
      <TextField
        label="Soft border, mm"
        value={trimNumber(patch.featherMm, 1)}
        maxLength={6}
        check={(text) => (Number(text) >= 0 && Number(text) <= 100 ? null : 'A number from 0 to 100.')}
        onChange={(text) => set({ featherMm: Number(text) })}
      />
    </div>
  );
}
