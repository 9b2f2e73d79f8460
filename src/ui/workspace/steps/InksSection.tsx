'use client';

import { Pin, Plus, X } from 'lucide-react';
import {
  addInk,
  chooseInkSet,
  leaveOut,
  setInkLimit,
  setLeaveOutLone,
  setWhite,
  toProcess,
  wishBase,
  wishInk,
} from '@/core/separation';
import { type Ink, LIMITS, type Plate, fullToneLayer, keptOf } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { Choice, Swatch } from '../../controls/Choice';
import { SwitchSetting } from '../../controls/Setting';
import { SheetSlider } from '../desk/SheetFields';
import { type DeskState, useDesk, useSheet } from '../desk/desk';
import { type InkAdvice, useInkAdvice } from './useInkAdvice';

/** An ink from stock more. */
export function AddInk() {
  const plates = useDesk((desk) => desk.sheet.plates);
  const stock = useDesk((desk) => desk.stock);
  const change = useDesk((desk) => desk.change);
  const names = new Set(plates.map(({ ink }) => ink.name));
  const offered = stock.inks.filter(({ name }) => !names.has(name));
  return (
    <Choice
      icon={<Plus aria-hidden className="size-4" />}
      label="Add an ink"
      className="w-36"
      value=""
      shown={{ value: '', label: plates.length < LIMITS.maxPlates ? 'from stock' : 'no room' }}
      options={
        plates.length < LIMITS.maxPlates
          ? offered.map(({ name, colour }) => ({ value: name, label: name, colour }))
          : []
      }
      onChange={(name) =>
        change((now) =>
          addInk(
            now,
            offered.find((ink) => ink.name === name)!,
          ),
        )
      }
    />
  );
}

const NO_NAMES: readonly string[] = [];

/** The inks whose tones print the artwork together. */
export function InksSection() {
  const plates = useDesk((desk) => desk.sheet.plates);
  const survey = useDesk((desk) => desk.survey);
  const selected = useDesk((desk) => desk.selected);
  const onSelect = useDesk((desk) => desk.select);
  const change = useDesk((desk) => desk.change);
  const pinned = useDesk((desk) => fullToneLayer(desk.sheet)?.pinned ?? NO_NAMES);
  const advice = useInkAdvice();
  const has = (role: Plate['role']) => plates.some((plate) => plate.role === role);
  const inks = plates.filter(({ role }) => role === 'colour');
  const coverageOf = (plate: Plate): string => {
    const found = survey?.plates[plates.indexOf(plate)];
    return found ? `${trimNumber(found.coverage * 100, 0)} %` : '';
  };
  return (
    <>
      <ul className="mt-2 divide-y divide-slip-deep">
        {inks.map((plate) => (
          <li
            key={plate.id}
            className={`flex items-center gap-2 py-0.5 ${plate.id === selected ? 'font-semibold' : ''}`}
          >
            <button
              type="button"
              aria-pressed={plate.id === selected}
              className="flex h-7 min-w-0 flex-1 items-center gap-2 text-left"
              onClick={() => onSelect(plate.id)}
            >
              <Swatch colour={plate.ink.colour} />
              <span className="truncate">{plate.ink.name}</span>
            </button>
            <span className="text-xs text-quiet">{coverageOf(plate)}</span>
            <Worth advice={advice} plateId={plate.id} />
            <button
              type="button"
              aria-pressed={pinned.includes(plate.ink.name)}
              aria-label={`Keep ${plate.ink.name} in every proposal`}
              title="In every proposal of inks"
              className={`hit ${pinned.includes(plate.ink.name) ? 'bg-ink text-white' : ''}`}
              onClick={() =>
                change((now) =>
                  wishInk(now, plate.ink.name, pinned.includes(plate.ink.name) ? 'free' : 'pin'),
                )
              }
            >
              <Pin aria-hidden className="size-4" />
            </button>
            <button
              type="button"
              aria-label={`Leave ${plate.ink.name} out`}
              title="Leave it out; the others are solved for again"
              className="hit disabled:opacity-40"
              disabled={inks.length === 1}
              onClick={() => change((now) => leaveOut(now, plate.id))}
            >
              <X aria-hidden className="size-4" />
            </button>
          </li>
        ))}
      </ul>
      <Swaps advice={advice} />
      <SwitchSetting
        name="White under them"
        on={has('underbase')}
        onChange={(on) => change((now) => setWhite(now, 'underbase', on))}
      />
      <SwitchSetting
        name="White on top"
        on={has('highlight')}
        onChange={(on) => change((now) => setWhite(now, 'highlight', on))}
      />
      {has('underbase') && <BaseWish />}
      <LoneDots />
      <Process />
      <Reach survey={survey} />
    </>
  );
}

/** How much base colours get that can be printed with more of it or with less. */
function BaseWish() {
  const wish = useDesk((desk) => fullToneLayer(desk.sheet)?.baseWish ?? 0);
  return <SheetSlider label="More base" min={-100} value={wish} apply={wishBase} />;
}

/** Whether dots that would stand alone are left out. */
function LoneDots() {
  const change = useDesk((desk) => desk.change);
  const on = useDesk((desk) => fullToneLayer(desk.sheet)?.leaveOutLone ?? false);
  return (
    <SwitchSetting
      name="Leave out lone dots"
      title="Single dots that would be seen, such as black ones in skin: other inks make up for them, as far as they come within 1"
      on={on}
      onChange={(next) => change((now) => setLeaveOutLone(now, next))}
    />
  );
}

/** Process colours, or the way to them. */
function Process() {
  const change = useDesk((desk) => desk.change);
  const process = useDesk((desk) => fullToneLayer(desk.sheet)?.process ?? null);
  if (!process) {
    return (
      <button type="button" className="plain-button my-1" onClick={() => change(toProcess)}>
        Print with process colours
      </button>
    );
  }
  return (
    <>
      <SheetSlider label="Ink limit" min={100} max={400} value={process.inkLimit} apply={setInkLimit} />
      <p className="caption">
        Process colours: yellow, magenta, cyan and black cover this much together at most. Choose a number of
        screens for inks of stock instead.
      </p>
    </>
  );
}

/** How much farther from the artwork the print would be without a plate. */
function Worth({ advice, plateId }: { readonly advice: InkAdvice; readonly plateId: string }) {
  const { present } = advice;
  const isSolid = useDesk((desk) => keptOf(desk.sheet).some((each) => each.plateId === plateId));
  if (isSolid) {
    return (
      <span className="w-12 text-right text-xs" title="It prints colours that are kept solid">
        solid
      </span>
    );
  }
  const without = present?.plates.find((each) => each.plateId === plateId)?.without;
  if (!present || !without) return null;
  const cost = Math.max(0, without.mean - present.mean);
  return (
    <span
      className="w-12 text-right text-xs tabular-nums"
      title={`Without it, and with the others solved for again, the print is ${trimNumber(without.mean, 2)} from the artwork on average, ${trimNumber(cost, 2)} more`}
    >
      {cost < 0.05 ? 'spare' : `+${trimNumber(cost, 1)}`}
    </span>
  );
}

/** A swap that costs no more than this, or gains, is told. */
const NEARLY_NOTHING = 0.05;
const MOST_SWAPS = 2;

/** Inks that would serve as well as one of the job's, or better: of stock, or to be mixed. */
function Swaps({ advice: { present, idea } }: { readonly advice: InkAdvice }) {
  const sheet = useSheet();
  if (!present) return null;
  // What prints a colour solid is no ink to be swapped for its tones.
  const solid = new Set(keptOf(sheet).map(({ plateId }) => plateId));
  const plateOf = (wanted: string) =>
    sheet.plates.find(({ id, role }) => id === wanted && role === 'colour' && !solid.has(id));
  const found = present.plates
    .flatMap(({ plateId, swap }) => {
      const plate = plateOf(plateId);
      return plate && swap && swap.mean < present.mean + NEARLY_NOTHING ? [{ plate, swap }] : [];
    })
    .sort((p, q) => p.swap.mean - q.swap.mean)
    .slice(0, MOST_SWAPS);
  const ofIdea = idea && plateOf(idea.plateId);
  return (
    <>
      {found.map(({ plate, swap }) => (
        <Swap key={plate.id} plate={plate} ink={swap.ink} gain={present.mean - swap.mean} />
      ))}
      {ofIdea && <Swap plate={ofIdea} ink={idea.ink} gain={present.mean - idea.mean} />}
    </>
  );
}

interface SwapProps {
  readonly plate: Plate;
  readonly ink: Ink;
  /** How much nearer the print comes, CIEDE2000. */
  readonly gain: number;
}

function Swap({ plate, ink, gain }: SwapProps) {
  const change = useDesk((desk) => desk.change);
  return (
    <p className="caption flex items-center gap-2 py-0.5">
      <Swatch colour={ink.colour} />
      <span className="flex-1">
        {ink.name} in the place of {plate.ink.name}{' '}
        {gain > NEARLY_NOTHING ? `comes ${trimNumber(gain, 1)} nearer` : 'would cost nothing'}
      </span>
      <button
        type="button"
        className="field py-0 hover:bg-slip-deep"
        aria-label={`Swap ${plate.ink.name} for ${ink.name}`}
        onClick={() =>
          change((now) =>
            chooseInkSet(
              now,
              now.plates.map((each) => ({ role: each.role, ink: each.id === plate.id ? ink : each.ink })),
            ),
          )
        }
      >
        Swap
      </button>
    </p>
  );
}

/** How near the print comes to the artwork, and how much of what is left no amounts of these inks could avoid. */
function Reach({ survey }: { readonly survey: DeskState['survey'] }) {
  const difference = survey?.difference;
  const isChanged = useDesk((desk) => Boolean(fullToneLayer(desk.sheet)?.adjust));
  if (!difference?.printable) return <p className="caption">Looking at the whole print …</p>;
  const { mean, p95, printable, asItCame } = difference;
  return (
    <p className="caption" data-testid="reach">
      The print is {trimNumber(mean, 1)} from the {isChanged ? 'changed artwork' : 'artwork'} on average, and
      less than {trimNumber(p95, 0)} on 95 % of it; {trimNumber(printable.mean, 1)} of that is beyond these
      inks.{asItCame ? ` From the artwork as it came it is ${trimNumber(asItCame.mean, 1)} off.` : ''} Inks
      are not measured: expect more on the press.
    </p>
  );
}
