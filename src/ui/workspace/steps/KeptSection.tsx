'use client';

import { Pipette, X } from 'lucide-react';
import { formatHexColour } from '@/core/colour';
import {
  changeKept,
  keepColour,
  keepFlat,
  keepOnOwnInk,
  keptOffers,
  leaveToTones,
  solidPlates,
} from '@/core/separation';
import { type JobSheet, type KeptPrint, LIMITS, garmentOf, keptOf, layerOf } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { Choice, type ChoiceOption, Swatch } from '../../controls/Choice';
import { type DeskState, useDesk, useSheet } from '../desk/desk';
import { ClosenessSlider } from './ClosenessSlider';
import { Outlining } from './Outlining';

const GARMENT = 'garment';
const DOTS = 'dots';
const OWN = 'own';

/** How a folded heading says it. */
export function keptState({ sheet, artwork }: DeskState): string {
  const kept = keptOf(sheet).filter(({ as }) => as !== DOTS).length;
  if (kept > 0) return kept === 1 ? '1 colour' : `${kept} colours`;
  const found = keptOffers(sheet, artwork.notes.keepable).length;
  return found === 0 ? 'nothing' : `nothing; ${found} flat ${found === 1 ? 'colour' : 'colours'} found`;
}

/** Flat colours of the artwork that are kept out of its tones: lettering, borders, plain areas. */
export function KeptSection() {
  const sheet = useSheet();
  const keepable = useDesk((desk) => desk.artwork.notes.keepable);
  const picking = useDesk((desk) => desk.picking);
  const pick = useDesk((desk) => desk.pick);
  const change = useDesk((desk) => desk.change);
  const kept = keptOf(sheet);
  const offers = keptOffers(sheet, keepable);
  const outlined = picking?.startsWith('within-') ? kept.find(({ id }) => picking === `within-${id}`) : null;
  if (outlined) return <Outlining take={`Keep ${outlined.colour} only here`} leave="Keep it as it was" />;
  const areaOf = (colour: string) =>
    keepable.find(({ rgb }) => formatHexColour(rgb) === colour)?.area ?? null;
  return (
    <>
      <p className="caption">
        {kept.length + offers.length === 0
          ? 'The artwork has no large flat areas. A colour that is picked on the table prints solid wherever it stands.'
          : 'Flat colours of the artwork, such as lettering, can print solid on one of the inks, with sharp edges and no dots of others.'}
      </p>
      <ul className="mt-1 divide-y divide-slip-deep">
        {kept.map((each) => (
          <KeptRow key={each.id} entry={each} area={areaOf(each.colour)} sheet={sheet} />
        ))}
        {offers.map(({ rgb, area }) => (
          <OfferRow key={formatHexColour(rgb)} colour={formatHexColour(rgb)} area={area} sheet={sheet} />
        ))}
      </ul>
      <div className="mt-2 flex flex-wrap gap-2">
        {offers.length > 1 && (
          <button
            type="button"
            className="plain-button"
            onClick={() => change((now) => keepFlat(now, keepable))}
          >
            Keep all of them
          </button>
        )}
        <button
          type="button"
          aria-pressed={picking === 'keep'}
          className={picking === 'keep' ? 'main-button' : 'plain-button'}
          onClick={() => pick(picking === 'keep' ? null : 'keep')}
        >
          <Pipette aria-hidden className="size-4" /> Pick a colour
        </button>
      </div>
    </>
  );
}

/** What a colour can be: each ink with how far from it the colour would print, an ink more, the garment, dots. */
function waysFor(sheet: JobSheet, colour: string): ChoiceOption[] {
  return [
    ...solidPlates(sheet, colour).map(({ plate, difference }) => ({
      value: plate.id,
      label: `${plate.ink.name}, ${trimNumber(difference, 1)} off`,
      colour: plate.ink.colour,
    })),
    ...(sheet.plates.length < LIMITS.maxPlates ? [{ value: OWN, label: 'an ink of its own', colour }] : []),
    { value: GARMENT, label: 'the garment supplies it', colour: garmentOf(sheet).colour },
    { value: DOTS, label: 'dots, like the rest' },
  ];
}

function keepAs(sheet: JobSheet, colour: string, value: string): JobSheet {
  if (value === OWN) return keepOnOwnInk(sheet, colour);
  if (value === GARMENT || value === DOTS) return keepColour(sheet, colour, { as: value });
  return keepColour(sheet, colour, { as: 'ink', plateId: value });
}

interface RowProps {
  /** Share of the artwork, 0..1; null: it was picked, and is not known. */
  readonly area: number | null;
  readonly sheet: JobSheet;
}

function Row({
  colour,
  area,
  sheet,
  value,
  shown,
}: RowProps & { readonly colour: string; readonly value: string; readonly shown?: ChoiceOption }) {
  const change = useDesk((desk) => desk.change);
  return (
    <div className="flex items-center gap-2">
      <Swatch colour={colour} />
      <span className="w-11 shrink-0 text-right text-xs whitespace-nowrap text-quiet">
        {area === null ? 'picked' : `${trimNumber(area * 100, 1)} %`}
      </span>
      <Choice
        label={`What prints ${colour}`}
        className="w-full"
        value={value}
        {...(shown ? { shown } : {})}
        options={() => waysFor(sheet, colour)}
        onChange={(next) => change((now) => keepAs(now, colour, next))}
      />
    </div>
  );
}

/** A flat colour that nobody has said anything of. */
function OfferRow({ colour, area, sheet }: RowProps & { readonly colour: string }) {
  return (
    <li className="py-1">
      <Row
        colour={colour}
        area={area}
        sheet={sheet}
        value={DOTS}
        shown={{ value: DOTS, label: 'dots, like the rest' }}
      />
    </li>
  );
}

/** From this difference on a solid is seen to print otherwise. */
const SEEN = 2;

function KeptRow({ entry, area, sheet }: RowProps & { readonly entry: KeptPrint }) {
  const change = useDesk((desk) => desk.change);
  const pick = useDesk((desk) => desk.pick);
  const { id, as, colour, plateId, within } = entry;
  const found = solidPlates(sheet, colour).find(({ plate }) => plate.id === plateId);
  const isLost = as === 'ink' && !found;
  const ways = waysFor(sheet, colour);
  const value = found ? found.plate.id : as === 'ink' ? DOTS : as;
  const shown = found
    ? { value, label: found.plate.ink.name, colour: found.plate.ink.colour }
    : ways.find((each) => each.value === value)!;
  return (
    <li className="py-1">
      <Row colour={colour} area={area} sheet={sheet} value={value} shown={shown} />
      {isLost && <p className="caption pl-6">No ink is near to it: it is made of dots.</p>}
      {found && found.difference >= SEEN && (
        <p className="caption pl-6 font-semibold text-clay-deep">
          {found.plate.ink.name} is {trimNumber(found.difference, 1)} from it.
        </p>
      )}
      <div className="flex items-center gap-2 pl-6">
        <ClosenessSlider
          colour={colour}
          value={entry.closeness ?? layerOf(sheet).purity}
          apply={(now, closeness) => changeKept(now, id, { closeness })}
        />
        <button
          type="button"
          className="caption h-6 underline"
          onClick={() =>
            within ? change((now) => changeKept(now, id, { within: null })) : pick(`within-${id}`)
          }
        >
          {within ? 'everywhere' : 'only inside …'}
        </button>
        <button
          type="button"
          className="hit"
          aria-label={`Take ${colour} off the list; it is made of dots`}
          title="Take it off the list; it is made of dots"
          onClick={() => change((now) => leaveToTones(now, id))}
        >
          <X aria-hidden className="size-4" />
        </button>
      </div>
    </li>
  );
}
