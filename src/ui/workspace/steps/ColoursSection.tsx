'use client';

import { Pipette, X } from 'lucide-react';
import { memo, useCallback, useLayoutEffect, useRef } from 'react';
import {
  assignColour,
  baseUnder,
  colourOf,
  offerBase,
  offerTint,
  predictFlat,
  removeColour,
  setBaseUnder,
  setCloseness,
  setTint,
} from '@/core/separation';
import {
  type JobSheet,
  type PaletteColour,
  type Plate,
  garmentOf,
  layerOf,
  paletteOf,
  isInk,
} from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { Choice, type ChoiceOption, Swatch } from '../../controls/Choice';
import { SheetSlider } from '../desk/SheetFields';
import { type DeskState, useDesk, useSheet } from '../desk/desk';
import { ClosenessSlider } from './ClosenessSlider';

const GARMENT = 'garment';
const OWN = 'new';

/** A click on the table picks a colour of the artwork. */
export function PickColour() {
  const picking = useDesk((desk) => desk.picking);
  const onPicking = useDesk((desk) => desk.pick);
  return (
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
  );
}

/** The flat colours of the artwork, and the ink that prints each. */
export function ColoursSection() {
  const sheet = useSheet();
  const areas = useDesk((desk) => desk.artwork.areas);
  const selected = useDesk((desk) => desk.selected);
  const select = useDesk((desk) => desk.select);
  const change = useDesk((desk) => desk.change);
  const newest = useRef(sheet);
  useLayoutEffect(() => {
    newest.current = sheet;
  });
  const optionsOf = useCallback((id: string) => inkOptions(newest.current, id), []);
  return (
    <>
      <ul className="mt-2 divide-y divide-slip-deep">
        {paletteOf(sheet).map((entry) => {
          const plate = sheet.plates.find((each) => each.id === entry.plateId);
          return (
            <ColourRow
              key={entry.id}
              entry={entry}
              area={areas[entry.colour] ?? 0}
              ink={plate?.ink ?? null}
              garment={garmentOf(sheet).colour}
              purity={layerOf(sheet).purity}
              off={predictFlat(sheet, entry).difference}
              white={offerBase(sheet, entry)?.difference ?? null}
              base={isInkOf(sheet, entry) ? baseUnder(sheet, entry) : null}
              offer={entry.plateId !== null && entry.plateId === selected ? tintOffer(sheet, entry) : null}
              shares={sharesPlate(sheet, entry)}
              chosen={entry.plateId !== null && entry.plateId === selected}
              optionsOf={optionsOf}
              select={select}
              change={change}
            />
          );
        })}
      </ul>
      {paletteOf(sheet).length === 0 && (
        <p className="mt-2">No flat colour was found. Spot plates need artwork with areas of one colour.</p>
      )}
    </>
  );
}

const isInkOf = (sheet: JobSheet, { plateId }: PaletteColour) =>
  sheet.plates.some((plate) => plate.id === plateId && isInk(plate));

/** The sheet with a colour that the base prints itself. */
function printedByBase(sheet: JobSheet, id: string): JobSheet {
  const base = sheet.plates.find(({ role }) => role === 'underbase');
  return base ? setTint(assignColour(sheet, id, base.id), id, 1) : sheet;
}

function inkOptions(sheet: JobSheet, id: string): ChoiceOption[] {
  const entry = colourOf(sheet, id);
  const inks = sheet.plates.filter(isInk);
  const alone = paletteOf(sheet).filter((each) => each.plateId === entry.plateId).length === 1;
  const bases = sheet.plates.filter(({ role }) => role === 'underbase');
  return [
    ...inks.map((plate) => ({ value: plate.id, label: plate.ink.name, colour: plate.ink.colour })),
    ...bases.map(({ id: value, ink }) => ({ value, label: `${ink.name} alone`, colour: ink.colour })),
    garmentOption(garmentOf(sheet).colour),
    ...(entry.plateId === null || !alone ? [{ value: OWN, label: 'an ink of its own' }] : []),
  ];
}

function garmentOption(colour: string): ChoiceOption {
  return { value: GARMENT, label: 'the garment supplies it', colour };
}

/** Whether a tint makes sense: the colour is not alone on its plate, or is a tint already. */
function sharesPlate(sheet: JobSheet, entry: PaletteColour): boolean {
  return entry.tint < 1 || paletteOf(sheet).filter((each) => each.plateId === entry.plateId).length > 1;
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
function tintOffer(sheet: JobSheet, entry: PaletteColour): TintOffer | null {
  if (sharesPlate(sheet, entry)) return null;
  const found = offerTint(sheet, entry);
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
  readonly entry: PaletteColour;
  /** Share of the artwork, 0..1. */
  readonly area: number;
  /** Null where the garment supplies the colour. */
  readonly ink: Plate['ink'] | null;
  readonly garment: string;
  readonly purity: number;
  /** CIEDE2000 between the colour and how it prints. */
  readonly off: number;
  /** How far from its print the base alone would print it, where that saves a screen. */
  readonly white: number | null;
  /** How much base lies under it; null where no ink prints it. */
  readonly base: number | null;
  /** A tint of another ink that would print it. */
  readonly offer: TintOffer | null;
  /** Whether its ink prints other colours too, so that a tint tells them apart. */
  readonly shares: boolean;
  /** Whether its plate is the selected one. */
  readonly chosen: boolean;
  readonly optionsOf: (id: string) => ChoiceOption[];
  readonly select: DeskState['select'];
  readonly change: DeskState['change'];
}

/** One colour of the artwork, and the ink that prints it. */
const ColourRow = memo(function ColourRow(props: RowProps) {
  const { entry, area, ink, garment, purity, off, offer, white, base, shares, chosen } = props;
  const { optionsOf, select, change } = props;
  const joined = ink !== null && entry.tint === 1 && ink.colour !== entry.colour && shares;
  const { plateId } = entry;
  return (
    <li className="py-1.5">
      <div className="flex items-center gap-2">
        <button
          type="button"
          aria-pressed={chosen}
          aria-label={ink ? `Choose the plate that prints ${entry.colour}` : `${entry.colour} has no plate`}
          title={ink ? `Choose the plate of ${ink.name}` : 'The garment supplies it'}
          disabled={plateId === null}
          className={`grid size-6 shrink-0 place-items-center border-b-2 ${chosen ? 'border-clay' : 'border-transparent'}`}
          onClick={() => plateId && select(plateId)}
        >
          <Swatch colour={entry.colour} />
        </button>
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
          options={() => optionsOf(entry.id)}
          onChange={(value) =>
            change((sheet) => assignColour(sheet, entry.id, value === GARMENT ? null : value))
          }
        />
      </div>
      {plateId !== null && shares && (
        <SheetSlider
          label="prints at"
          min={1}
          value={entry.tint}
          apply={(sheet, tint) => setTint(sheet, entry.id, tint)}
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
              onClick={() => change((sheet) => assignColour(sheet, entry.id, OWN))}
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
              change((sheet) => setTint(assignColour(sheet, entry.id, offer.plateId), entry.id, offer.tint))
            }
          >
            print as that tint
          </button>
        </p>
      )}
      {white !== null && (
        <p className="caption flex items-center gap-2 pl-6">
          <span className="flex-1">
            the base alone prints it {white.toFixed(1)} from that: one screen less
          </span>
          <button
            type="button"
            className="h-6 text-clay-deep underline"
            onClick={() => change((sheet) => printedByBase(sheet, entry.id))}
          >
            print with the base
          </button>
        </p>
      )}
      {chosen && base !== null && <ColourBase entry={entry} base={base} change={change} />}
      {chosen && <ColourRange entry={entry} purity={purity} change={change} />}
    </li>
  );
});

/** How much underbase lies under a colour, whatever its ink wants under others. */
function ColourBase({ entry, base, change }: Pick<RowProps, 'entry' | 'change'> & { readonly base: number }) {
  return (
    <div className="flex items-end gap-2">
      <div className="min-w-0 flex-1">
        <SheetSlider
          label="base under it"
          value={base}
          apply={(sheet, value) => setBaseUnder(sheet, entry.id, value)}
        />
      </div>
      {entry.base !== null && (
        <button
          type="button"
          className="caption h-6 underline"
          onClick={() => change((sheet) => setBaseUnder(sheet, entry.id, null))}
        >
          as its ink
        </button>
      )}
    </div>
  );
}

/** How near a pixel must come to a colour to belong to it; and taking the colour out. */
function ColourRange({ entry, purity, change }: Pick<RowProps, 'entry' | 'purity' | 'change'>) {
  return (
    <div className="flex items-center gap-2 pt-1">
      {entry.within && <span className="caption flex-1">only the area that was picked</span>}
      {!entry.within && (
        <ClosenessSlider
          colour={entry.colour}
          value={entry.closeness ?? purity}
          apply={(sheet, value) => setCloseness(sheet, entry.id, value)}
        />
      )}
      {entry.closeness !== null && (
        <button
          type="button"
          className="caption h-6 underline"
          onClick={() => change((sheet) => setCloseness(sheet, entry.id, null))}
        >
          as found
        </button>
      )}
      <button
        type="button"
        aria-label={`Take ${entry.colour} out; its pixels go to the nearest colour`}
        title="Take this colour out; its pixels go to the nearest colour"
        className="hit"
        onClick={() => change((sheet) => removeColour(sheet, entry.id))}
      >
        <X aria-hidden className="size-4" />
      </button>
    </div>
  );
}
