'use client';

import { NARROW_GAP_MM, adviseBase, changePlate, setLightBase } from '@/core/separation';
import {
  type JobSheet,
  LIMITS,
  type Plate,
  artworkOf,
  effectiveChokeMm,
  garmentOf,
  channelOf,
  isSupplied,
  printsTones,
  isInk,
} from '@/core/sheet';
import { formatLength, mmToPx, trimNumber } from '@/core/units';
import { Choice, Swatch } from '../../controls/Choice';
import { SwitchSetting } from '../../controls/Setting';
import { SheetLength, SheetSlider } from '../desk/SheetFields';
import { type DeskState, useDesk, useSheet } from '../desk/desk';
import { CurveEditor, percent } from './CurveEditor';
import { FitSection } from './FitSection';

const OWN = 'own';

/** Why a base is proposed under an ink or not, and whether its strength still follows that. */
function baseReason(plate: Plate, garmentColour: string): string {
  const { strength, reason } = adviseBase(plate.ink, garmentColour);
  const proposed = strength === 1 ? `solid: ${reason}` : `none: ${reason}`;
  return plate.baseStrength === strength ? proposed : `yours; proposed is ${proposed}`;
}

const LENGTH = { unit: 'mm' as const, minMm: 0, maxMm: LIMITS.maxChokeMm };

const withFit = (sheet: JobSheet, fit: Partial<JobSheet['fit']>): JobSheet => ({
  ...sheet,
  fit: { ...sheet.fit, ...fit },
});

/** A length as the trade says it. */
const say = (mm: number, { film }: JobSheet) =>
  `${formatLength(mm, 'pt')} · ${formatLength(mm, 'px')} at 300 dpi · ${trimNumber(mmToPx(mm, film.dpi), 1)} dots of film`;

export const hasBase = ({ sheet }: Pick<DeskState, 'sheet'>): boolean =>
  sheet.plates.some(({ role }) => role === 'underbase');

/** The base of tones is one of them: how strong it is under which colour is solved for; so is one that the file brings. Where nothing has a base yet, it can be asked for. */
export const hasStrengths = ({ sheet }: Pick<DeskState, 'sheet'>): boolean =>
  (printsTones(sheet) ? hasMadeBase(sheet) : true) && sheet.plates.some(isInk);

/** A base below plates of the file that is made here. */
const hasMadeBase = (sheet: JobSheet): boolean =>
  isSupplied(sheet) && sheet.plates.some((plate) => plate.role === 'underbase' && channelOf(plate) === null);

export function EdgeSection() {
  const sheet = useSheet();
  return hasBase({ sheet }) ? (
    <FitSection sheet={sheet} />
  ) : (
    <p>No ink asks for an underbase on this garment, so there is none.</p>
  );
}

export function RegistrationSection() {
  const { press } = useSheet();
  const stock = useDesk((desk) => desk.stock);
  const change = useDesk((desk) => desk.change);
  return (
    <>
      <div className="mt-1 flex items-center justify-between gap-3">
        <span>Press</span>
        <Choice
          label="Press"
          className="w-44"
          value={stock.presses.find((each) => each.name === press.name)?.name ?? OWN}
          options={stock.presses.map((each) => ({
            value: each.name,
            label: `${each.name}, ${formatLength(each.toleranceMm, 'mm')}`,
          }))}
          onChange={(name) =>
            change((now) => ({
              ...withFit(now, { chokeMm: null }),
              press: stock.presses.find((each) => each.name === name)!,
            }))
          }
        />
      </div>
    </>
  );
}

export function UnderbaseSection() {
  const sheet = useSheet();
  const { fit } = sheet;
  const choke = effectiveChokeMm(sheet);
  return (
    <>
      <SheetLength
        label="Choke"
        valueMm={choke}
        {...LENGTH}
        hint={`${say(choke, sheet)}${fit.chokeMm === null ? ' · the press tolerance' : ''}`}
        apply={(now, chokeMm) => withFit(now, { chokeMm })}
      />
      {!printsTones(sheet) && (
        <SheetLength
          label="Under dark inks"
          valueMm={fit.underDarkMm}
          {...LENGTH}
          hint="runs this far under a dark ink without base"
          apply={(now, underDarkMm) => withFit(now, { underDarkMm })}
        />
      )}
      <SheetLength
        label="Keep at least"
        valueMm={fit.keepMm}
        {...LENGTH}
        hint="under fine strokes the choke gives way"
        apply={(now, keepMm) => withFit(now, { keepMm })}
      />
    </>
  );
}

export function StrengthSection() {
  const sheet = useSheet();
  // By lightness alone it does not matter what the inks want.
  const byInks = sheet.fit.lightBase?.over !== 'alone';
  return (
    <>
      {byInks && (
        <ul className="mt-1">
          {sheet.plates.filter(isInk).map((plate) => (
            <li key={plate.id} className="flex items-center gap-2">
              <Swatch colour={plate.ink.colour} />
              <div className="min-w-0 flex-1">
                <SheetSlider
                  label={plate.ink.name}
                  value={plate.baseStrength}
                  apply={(now, baseStrength) => changePlate(now, plate.id, { baseStrength })}
                />
                <p className="caption -mt-1 pb-0.5">{baseReason(plate, garmentOf(sheet).colour)}</p>
              </div>
            </li>
          ))}
        </ul>
      )}
      {!printsTones(sheet) && <LightBase />}
    </>
  );
}

/** None under black, all of it under what is nearly white. Common practice, no source. */
const FIRST_LIGHT: NonNullable<JobSheet['fit']['lightBase']> = {
  curve: [
    [0.2, 0],
    [0.85, 1],
  ],
  over: 'alone',
};

/** Base by the lightness of the artwork's colours: light ones get much of it, dark ones little. */
function LightBase() {
  const sheet = useSheet();
  const change = useDesk((desk) => desk.change);
  const { lightBase } = sheet.fit;
  return (
    <>
      <SwitchSetting
        name="By the artwork’s lightness"
        on={lightBase !== null}
        onChange={(on) => change((now) => setLightBase(now, on ? FIRST_LIGHT : null))}
      />
      {lightBase && (
        <>
          <CurveEditor
            settled={lightBase.curve}
            apply={(now, curve) => setLightBase(now, { ...(now.fit.lightBase ?? FIRST_LIGHT), curve })}
            label="Base: across the lightness of the artwork’s colour, upwards how much base lies under it"
            colour="#8a8984"
            words={['lightness', 'base']}
            describe={(through) => `lightness 50 gets ${percent(through(0.5))} %`}
            plain="as much base as the colour is light"
          />
          <SwitchSetting
            name="No less than each ink wants"
            on={lightBase.over === 'least'}
            onChange={(on) =>
              change((now) => setLightBase(now, { ...lightBase, over: on ? 'least' : 'alone' }))
            }
          />
          <p className="caption">
            Less than 100 % prints as dots of base. Colours whose base is set in the Plates step keep it.
          </p>
        </>
      )}
    </>
  );
}

type FitKey = 'thickenMm' | 'trapMm' | 'spreadMm' | 'guardMm' | 'highlightChokeMm' | 'closeGapsMm';

/** One length of fit. @param idle what is said of it while it is 0. */
function FitLength(props: {
  readonly name: FitKey;
  readonly label: string;
  readonly idle: string;
  readonly maxMm?: number;
}) {
  const { name, label, idle, maxMm = LIMITS.maxChokeMm } = props;
  const sheet = useSheet();
  const valueMm = sheet.fit[name];
  return (
    <SheetLength
      label={label}
      valueMm={valueMm}
      {...LENGTH}
      maxMm={maxMm}
      hint={valueMm > 0 ? say(valueMm, sheet) : idle}
      apply={(now, mm) => withFit(now, { [name]: mm })}
    />
  );
}

export function FitColoursSection() {
  const sheet = useSheet();
  const { spreadMm, trapMm, pairs } = sheet.fit;
  const toned = printsTones(sheet);
  const supplied = isSupplied(sheet);
  return (
    <>
      {(!toned || supplied) && (
        <FitLength
          name="trapMm"
          label="Trap"
          idle={
            supplied
              ? 'plates stay as the file has them'
              : 'colours that touch meet: a screen that lies off opens a gap'
          }
        />
      )}
      {(!toned || supplied) && (
        <FitLength
          name="spreadMm"
          label="Spread"
          idle={supplied ? 'plates end where the file has them' : 'over the base, into bare garment'}
        />
      )}
      {!toned && (
        <FitLength
          name="thickenMm"
          label="Lines at least"
          idle="thinner lines and dots grow to this width, into bare garment"
        />
      )}
      {(!toned || supplied) && spreadMm + trapMm + pairs.length > 0 && (
        <FitLength
          name="guardMm"
          label="Keep open below"
          idle="counters of small letters, reversed-out stars, slits"
          maxMm={LIMITS.maxGuardMm}
        />
      )}
      <FitLength
        name="highlightChokeMm"
        label="Highlight white choke"
        idle="white squeezes out; 1 px at 300 dpi is usual"
      />
      {artworkOf(sheet).kind === 'vector' && !toned && (
        <FitLength
          name="closeGapsMm"
          label="Close gaps below"
          idle={`slits between shapes; ${NARROW_GAP_MM} mm is what no press holds open`}
          maxMm={LIMITS.maxGapMm}
        />
      )}
    </>
  );
}
