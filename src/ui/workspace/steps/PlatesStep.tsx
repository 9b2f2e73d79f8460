'use client';

import { Pipette, X } from 'lucide-react';
import { memo, useCallback, useLayoutEffect, useRef, useState } from 'react';
import {
  assignColour,
  changePlate,
  mergePlates,
  nearestInks,
  offerTint,
  predictFlat,
  removeColour,
  setCloseness,
  setTint,
} from '@/core/separation';
import { type JobSheet, type Plate, type Stock, isSimulated } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { Choice, type ChoiceOption, Swatch } from '../../controls/Choice';
import { ColourField } from '../../controls/ColourField';
import { PercentSlider } from '../../controls/PercentSlider';
import { TextField } from '../../controls/TextField';
import { AllPlates } from './AllPlates';
import { FindingList } from './FindingList';
import { InksSection } from './InksSection';
import { MethodSection } from './MethodSection';
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

export const PlatesStep = memo(function PlatesStep(props: Props) {
  const { sheet, selected, onSelect, commit, findings, onGoTo, stock } = props;
  const inks = sheet.plates.filter((plate) => plate.role !== 'underbase');
  const plate = sheet.plates.find((each) => each.id === selected);
  return (
    <div className="space-y-5">
      <MethodSection {...props} />
      {isSimulated(sheet) ? <InksSection {...props} /> : <ColoursSection {...props} />}
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
});

/** The flat colours of the artwork, and the ink that prints each. */
function ColoursSection({ sheet, artwork, selected, change, picking, onPicking }: Props) {
  const newest = useRef(sheet);
  useLayoutEffect(() => {
    newest.current = sheet;
  });
  const optionsOf = useCallback((index: number) => inkOptions(newest.current, index), []);
  return (
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
        {sheet.palette.map((entry, index) => {
          const plate = sheet.plates.find((each) => each.id === entry.plateId);
          return (
            <ColourRow
              key={`${entry.colour}-${index}`}
              entry={entry}
              index={index}
              area={artwork.areas[entry.colour] ?? 0}
              ink={plate?.ink ?? null}
              garment={sheet.garment.colour}
              purity={sheet.purity}
              off={predictFlat(sheet, index).difference}
              offer={entry.plateId !== null && entry.plateId === selected ? tintOffer(sheet, index) : null}
              shares={sharesPlate(sheet, index)}
              chosen={entry.plateId !== null && entry.plateId === selected}
              optionsOf={optionsOf}
              change={change}
            />
          );
        })}
      </ul>
      {sheet.palette.length === 0 && (
        <p className="mt-2">No flat colour was found. Spot plates need artwork with areas of one colour.</p>
      )}
    </section>
  );
}

function inkOptions(sheet: JobSheet, index: number): ChoiceOption[] {
  const entry = sheet.palette[index]!;
  const inks = sheet.plates.filter((plate) => plate.role !== 'underbase');
  const alone = sheet.palette.filter((each) => each.plateId === entry.plateId).length === 1;
  return [
    ...inks.map((plate) => ({ value: plate.id, label: plate.ink.name, colour: plate.ink.colour })),
    garmentOption(sheet.garment.colour),
    ...(entry.plateId === null || !alone ? [{ value: OWN, label: 'an ink of its own' }] : []),
  ];
}

function garmentOption(colour: string): ChoiceOption {
  return { value: GARMENT, label: 'the garment supplies it', colour };
}

/** Whether a tint makes sense: the colour is not alone on its plate, or is a tint already. */
function sharesPlate(sheet: JobSheet, index: number): boolean {
  const entry = sheet.palette[index]!;
  return entry.tint < 1 || sheet.palette.filter((each) => each.plateId === entry.plateId).length > 1;
}

/** From this difference on a colour is seen to print otherwise; from the other one on it is a fault. */
const SEEN = 2;
const FAR = 5;

interface TintOffer {
  readonly plateId: string;
  readonly name: string;
  readonly tint: number;
  readonly difference: number;
}

/** A tint of another plate for a colour that has one to itself, and so would save a screen. */
function tintOffer(sheet: JobSheet, index: number): TintOffer | null {
  if (sharesPlate(sheet, index)) return null;
  const found = offerTint(sheet, index);
  return (
    found && {
      plateId: found.plate.id,
      name: found.plate.ink.name,
      tint: found.tint,
      difference: found.difference,
    }
  );
}

interface RowProps {
  readonly entry: JobSheet['palette'][number];
  readonly index: number;
  /** Share of the artwork, 0..1. */
  readonly area: number;
  /** Null where the garment supplies the colour. */
  readonly ink: Plate['ink'] | null;
  readonly garment: string;
  readonly purity: number;
  /** CIEDE2000 between the colour and how it prints. */
  readonly off: number;
  /** A tint of another ink that would print it. */
  readonly offer: TintOffer | null;
  /** Whether its ink prints other colours too, so that a tint tells them apart. */
  readonly shares: boolean;
  /** Whether its plate is the selected one. */
  readonly chosen: boolean;
  readonly optionsOf: (index: number) => ChoiceOption[];
  readonly change: StepProps['change'];
}

/** One colour of the artwork, and the ink that prints it. */
const ColourRow = memo(function ColourRow(props: RowProps) {
  const { entry, index, area, ink, garment, purity, off, offer, shares, chosen, optionsOf, change } = props;
  const joined = ink !== null && entry.tint === 1 && ink.colour !== entry.colour && shares;
  const { plateId } = entry;
  return (
    <li className="py-1.5">
      <div className="flex items-center gap-2">
        <Swatch colour={entry.colour} />
        <span className="w-11 shrink-0 text-right text-xs whitespace-nowrap text-quiet">
          {entry.within ? 'part' : `${trimNumber(area * 100, 1)} %`}
        </span>
        <Choice
          label={`Ink for ${entry.within ? 'a part of ' : ''}${entry.colour}`}
          className="w-full"
          value={plateId ?? GARMENT}
          shown={
            ink && plateId ? { value: plateId, label: ink.name, colour: ink.colour } : garmentOption(garment)
          }
          options={() => optionsOf(index)}
          onChange={(value) =>
            change((sheet) => assignColour(sheet, index, value === GARMENT ? null : value))
          }
        />
      </div>
      {plateId !== null && shares && (
        <PercentSlider
          label="prints at"
          min={1}
          value={entry.tint}
          onChange={(tint) => change((sheet) => setTint(sheet, index, tint))}
        />
      )}
      {(joined || off >= SEEN) && (
        <p className="caption flex items-center gap-2 pl-6">
          <span className={off >= FAR ? 'flex-1 font-semibold text-clay-deep' : 'flex-1'}>
            {ink === null
              ? `${off.toFixed(off < 3 ? 1 : 0)} from the garment`
              : `${joined ? `joined with ${ink.name}, ` : 'prints '}${off.toFixed(off < 3 ? 1 : 0)} from itself`}
          </span>
          {(joined || ink === null) && (
            <button
              type="button"
              className="h-6 text-clay-deep underline"
              aria-label={`Give ${entry.colour} an ink of its own`}
              onClick={() => change((sheet) => assignColour(sheet, index, OWN))}
            >
              own ink
            </button>
          )}
        </p>
      )}
      {offer && (
        <p className="caption flex items-center gap-2 pl-6">
          <span className="flex-1">
            {Math.round(offer.tint * 100)} % of {offer.name} prints within {offer.difference.toFixed(1)}
          </span>
          <button
            type="button"
            className="h-6 text-clay-deep underline"
            onClick={() =>
              change((sheet) => setTint(assignColour(sheet, index, offer.plateId), index, offer.tint))
            }
          >
            print as that tint
          </button>
        </p>
      )}
      {chosen && <ColourRange entry={entry} index={index} purity={purity} change={change} />}
    </li>
  );
});

/** How near a pixel must come to a colour to belong to it; and taking the colour out. */
function ColourRange({
  entry,
  index,
  purity,
  change,
}: Pick<RowProps, 'entry' | 'index' | 'purity' | 'change'>) {
  const [held, setHeld] = useState<number | null>(null);
  const shown = held ?? entry.closeness ?? purity;
  const settle = () => {
    if (held !== null) change((sheet) => setCloseness(sheet, index, held));
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
          onClick={() => change((sheet) => setCloseness(sheet, index, null))}
        >
          as found
        </button>
      )}
      <button
        type="button"
        aria-label={`Take ${entry.colour} out; its pixels go to the nearest colour`}
        title="Take this colour out; its pixels go to the nearest colour"
        className="hit"
        onClick={() => change((sheet) => removeColour(sheet, index))}
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
      {plate.role !== 'underbase' && others.length > 0 && !isSimulated(sheet) && (
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
