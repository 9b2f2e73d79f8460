'use client';

import { Pipette, X } from 'lucide-react';
import { useState } from 'react';
import {
  assignColour,
  changePlate,
  mergePlates,
  nearestInks,
  removeColour,
  setCloseness,
  setTint,
} from '@/core/separation';
import type { JobSheet, Plate, Stock } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { Choice, type ChoiceOption, Swatch } from '../../controls/Choice';
import { ColourField } from '../../controls/ColourField';
import { PercentSlider } from '../../controls/PercentSlider';
import { TextField } from '../../controls/TextField';
import { AllPlates } from './AllPlates';
import { FindingList } from './FindingList';
import type { StepProps } from './stepProps';

const GARMENT = 'garment';
const OWN = 'new';

interface Props extends StepProps {
  /** Whether a click on the table picks a colour of the artwork, and how much of it. */
  readonly picking: Picking | null;
  readonly onPicking: (picking: Picking | null) => void;
}

/** A colour wherever it stands, or only the area of it that is clicked on. */
export type Picking = 'everywhere' | 'here';

export function PlatesStep(props: Props) {
  const { sheet, artwork, selected, onSelect, commit, findings, onGoTo, picking, onPicking, stock } = props;
  const inks = sheet.plates.filter((plate) => plate.role !== 'underbase');
  const plate = sheet.plates.find((each) => each.id === selected);
  return (
    <div className="space-y-5">
      <section>
        <div className="flex items-center justify-between">
          <h2 className="font-semibold">Colours</h2>
          <div className="flex" role="group" aria-label="Pick a colour on the table">
            {(['everywhere', 'here'] as const).map((how) => (
              <button
                key={how}
                type="button"
                aria-pressed={picking === how}
                className={picking === how ? 'main-button px-2' : 'plain-button px-2'}
                title={how === 'here' ? 'Only the area that is clicked on' : 'The colour wherever it stands'}
                onClick={() => onPicking(picking === how ? null : how)}
              >
                <Pipette aria-hidden className="size-4" /> {how}
              </button>
            ))}
          </div>
        </div>
        <ul className="mt-2 divide-y divide-slip-deep">
          {sheet.palette.map((entry, index) => (
            <li key={`${entry.colour}-${index}`} className="py-1.5">
              <div className="flex items-center gap-2">
                <Swatch colour={entry.colour} />
                <span className="w-11 shrink-0 text-right text-xs whitespace-nowrap text-quiet">
                  {entry.within ? 'part' : `${trimNumber((artwork.areas[entry.colour] ?? 0) * 100, 1)} %`}
                </span>
                <Choice
                  label={`Ink for ${entry.within ? 'a part of ' : ''}${entry.colour}`}
                  className="w-full"
                  value={entry.plateId ?? GARMENT}
                  options={inkOptions(sheet, inks, index)}
                  onChange={(value) => commit(assignColour(sheet, index, value === GARMENT ? null : value))}
                />
              </div>
              {entry.plateId !== null && sharesPlate(sheet, index) && (
                <PercentSlider
                  label="prints at"
                  min={5}
                  value={entry.tint}
                  onChange={(tint) => commit(setTint(sheet, index, tint))}
                />
              )}
              {entry.plateId !== null && entry.plateId === selected && (
                <ColourRange sheet={sheet} index={index} commit={commit} />
              )}
            </li>
          ))}
        </ul>
        {sheet.palette.length === 0 && (
          <p className="mt-2">No flat colour was found. Spot plates need artwork with areas of one colour.</p>
        )}
      </section>
      {plate ? (
        <PlateSheet
          sheet={sheet}
          stock={stock}
          plate={plate}
          inks={inks}
          commit={commit}
          onSelect={onSelect}
        />
      ) : (
        <p className="caption">Choose a screen in the run to change its ink.</p>
      )}
      <AllPlates {...props} />
      <FindingList findings={findings} onGoTo={onGoTo} />
    </div>
  );
}

function inkOptions(sheet: JobSheet, inks: readonly Plate[], index: number): ChoiceOption[] {
  const entry = sheet.palette[index]!;
  const alone = sheet.palette.filter((each) => each.plateId === entry.plateId).length === 1;
  return [
    ...inks.map((plate) => ({ value: plate.id, label: plate.ink.name, colour: plate.ink.colour })),
    { value: GARMENT, label: 'the garment supplies it', colour: sheet.garment.colour },
    ...(entry.plateId === null || !alone ? [{ value: OWN, label: 'an ink of its own' }] : []),
  ];
}

/** Whether a tint makes sense: the colour is not alone on its plate, or is a tint already. */
function sharesPlate(sheet: JobSheet, index: number): boolean {
  const entry = sheet.palette[index]!;
  return entry.tint < 1 || sheet.palette.filter((each) => each.plateId === entry.plateId).length > 1;
}

interface RangeProps {
  readonly sheet: JobSheet;
  readonly index: number;
  readonly commit: (sheet: JobSheet) => void;
}

/** How near a pixel must come to a colour to belong to it; and taking the colour out. */
function ColourRange({ sheet, index, commit }: RangeProps) {
  const entry = sheet.palette[index]!;
  const [held, setHeld] = useState<number | null>(null);
  const shown = held ?? entry.closeness ?? sheet.purity;
  const settle = () => {
    if (held !== null) commit(setCloseness(sheet, index, held));
    setHeld(null);
  };
  return (
    <div className="flex items-center gap-2 pt-1">
      {entry.within && <span className="caption flex-1">only the area that was picked</span>}
      <label className={`flex min-w-0 flex-1 items-center gap-2 ${entry.within ? 'hidden' : ''}`}>
        <span className="caption shrink-0">closeness</span>
        <input
          type="range"
          className="min-w-0 flex-1 accent-ink"
          min={1}
          max={40}
          step={0.5}
          value={shown}
          onChange={(event) => setHeld(Number(event.target.value))}
          onPointerUp={settle}
          onKeyUp={settle}
          onBlur={settle}
        />
        <span className="w-8 text-right">{trimNumber(shown, 1)}</span>
      </label>
      {entry.closeness !== null && (
        <button
          type="button"
          className="caption h-6 underline"
          onClick={() => commit(setCloseness(sheet, index, null))}
        >
          as found
        </button>
      )}
      <button
        type="button"
        aria-label={`Take ${entry.colour} out; its pixels go to the nearest colour`}
        title="Take this colour out; its pixels go to the nearest colour"
        className="hit"
        onClick={() => commit(removeColour(sheet, index))}
      >
        <X aria-hidden className="size-4" />
      </button>
    </div>
  );
}

interface PlateSheetProps {
  readonly stock: Stock;
  readonly sheet: JobSheet;
  readonly plate: Plate;
  readonly inks: readonly Plate[];
  readonly commit: (sheet: JobSheet) => void;
  readonly onSelect: (id: string) => void;
}

function PlateSheet({ sheet, stock, plate, inks, commit, onSelect }: PlateSheetProps) {
  const near = nearestInks(stock.inks, plate.ink.colour).slice(0, 12);
  const change = (ink: Partial<Plate['ink']>) =>
    commit(changePlate(sheet, plate.id, { ink: { ...plate.ink, ...ink } }));
  const others = inks.filter((each) => each.id !== plate.id);
  return (
    <section key={plate.id}>
      <h2 className="font-semibold">Ink of {plate.ink.name}</h2>
      <TextField label="Name" value={plate.ink.name} maxLength={80} onChange={(name) => change({ name })} />
      <div className="flex items-center justify-between py-1">
        <span>Colour</span>
        <ColourField label="Ink colour" value={plate.ink.colour} onChange={(colour) => change({ colour })} />
      </div>
      <div className="flex items-center justify-between gap-3 py-1">
        <span>From stock</span>
        <Choice
          label={near[0] ? `nearest: ${near[0].ink.name}` : 'no inks in stock'}
          className="w-44"
          value=""
          options={near.map(({ ink, difference }) => ({
            value: ink.name,
            label: `${ink.name}, ${Math.round(difference)} apart`,
            colour: ink.colour,
          }))}
          onChange={(name) => change(near.find(({ ink }) => ink.name === name)!.ink)}
        />
      </div>
      <PercentSlider label="Opacity" value={plate.ink.opacity} onChange={(opacity) => change({ opacity })} />
      <TextField
        label="Mesh"
        value={String(plate.mesh)}
        maxLength={3}
        check={(text) =>
          /^\d+$/.test(text) && Number(text) >= 30 && Number(text) <= 500
            ? null
            : 'Threads per inch, 30 to 500.'
        }
        onChange={(text) => commit(changePlate(sheet, plate.id, { mesh: Number(text) }))}
      />
      {plate.role !== 'underbase' && others.length > 0 && (
        <div className="flex items-center justify-between gap-3 py-1">
          <span>Merge into</span>
          <Choice
            label="Merge into"
            className="w-40"
            value=""
            options={others.map((each) => ({
              value: each.id,
              label: each.ink.name,
              colour: each.ink.colour,
            }))}
            onChange={(into) => {
              commit(mergePlates(sheet, plate.id, into));
              onSelect(into);
            }}
          />
        </div>
      )}
    </section>
  );
}
