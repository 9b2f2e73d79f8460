'use client';

import { Radio, RadioGroup } from '@headlessui/react';
import { TriangleAlert } from 'lucide-react';
import { artworkDpi, judgeResolution } from '@/core/checks';
import { changeBackground, changeGarment, changePrintWidth, setTogether } from '@/core/separation';
import {
  BACKGROUNDS,
  type JobGarment,
  type JobSheet,
  LIMITS,
  backgroundOf,
  fullToneLayer,
  garmentOf,
  otherGarments,
  setRuns,
} from '@/core/sheet';
import { MM_PER_INCH, formatLength, trimNumber } from '@/core/units';
import type { ArtworkView } from '@/protocol/jobs';
import { Swatch } from '../../controls/Choice';
import { SwitchSetting } from '../../controls/Setting';
import { ColourField } from '../../controls/ColourField';
import { type Unit, useUnit } from '../../state/useStored';
import { useDesk, useSheet } from '../desk/desk';
import { NewVersion } from './NewVersion';
import { PdfPages } from './PdfPages';
import { SheetLength } from '../desk/SheetFields';

const JUDGEMENTS = {
  vector: 'vector: sharp at any size',
  right: 'right for flat artwork',
  soft: 'soft: edges of lettering will show it',
  low: 'too low: ask for larger artwork, or print smaller',
} as const;

/** The same of artwork that prints by its tones. */
const OF_TONES = {
  ...JUDGEMENTS,
  right: 'right for tones and lettering',
  soft: 'soft: lettering and fine lines will show it',
} as const;

function measure(artwork: ArtworkView, unit: Unit): string {
  if (artwork.ownWidthMm === null || artwork.ownHeightMm === null) return 'states no size of its own';
  return `${formatLength(artwork.ownWidthMm, unit)} × ${formatLength(artwork.ownHeightMm, unit)} at its own resolution`;
}

/** What only a filter can make is a picture, and no sharper than its pixels: said with how fine they are at this size of print. */
function FilterPictures({ artwork, widthMm }: { readonly artwork: ArtworkView; readonly widthMm: number }) {
  const { filterPictures, filterWidthPx } = artwork;
  const what =
    filterPictures === 1
      ? 'One blur, shadow or other effect'
      : `${filterPictures} blurs, shadows or other effects`;
  const dpi = filterWidthPx === null ? null : filterWidthPx / (widthMm / MM_PER_INCH);
  return (
    <p className="caption" data-testid="filter-pictures">
      {what} became a picture{filterPictures === 1 ? '' : 's'}
      {dpi === null ? '' : ` of ${trimNumber(dpi, 0)} dpi at print size`}.
    </p>
  );
}

const BACKGROUND_WORDS = {
  keep: 'printed',
  outside: 'left to the garment round the design',
  everywhere: 'left to the garment everywhere',
} as const;

/** @param share of its pixels that are not quite opaque. */
function transparencyOf(share: number): string {
  if (share <= 0.001) return 'no transparency';
  return share > 0.999 ? 'nowhere opaque' : `${trimNumber(share * 100, 0)} % transparent`;
}

/** The file that came in. */
export function FileSection() {
  const artwork = useDesk((desk) => desk.artwork);
  const widthMm = useDesk((desk) => desk.sheet.print.widthMm);
  const [unit] = useUnit();
  const pixels = artwork.kind === 'vector' ? 'vector drawing' : `${artwork.widthPx} × ${artwork.heightPx} px`;
  const transparent = transparencyOf(artwork.transparentShare);
  return (
    <>
      <p className="mt-1 break-all">{artwork.fileName}</p>
      <p className="caption">
        {artwork.format.toUpperCase()} · {pixels} · {artwork.colourSpace}
        {artwork.kind === 'raster' ? `, ${artwork.bits} bits` : ''} · {transparent}
      </p>
      <p className="caption">{measure(artwork, unit)}</p>
      {artwork.oblong && (
        <p className="caption">
          Its pixels are not square: {artwork.oblong.widthPx} × {artwork.oblong.heightPx} px were brought to
          their true proportions.
        </p>
      )}
      {artwork.page && <PdfPages artwork={artwork} page={artwork.page} />}
      {artwork.filterPictures > 0 && <FilterPictures artwork={artwork} widthMm={widthMm} />}
      <NewVersion />
    </>
  );
}

export function SizeSection() {
  const sheet = useSheet();
  const [unit] = useUnit();
  const dpi = artworkDpi(sheet);
  const judgement = judgeResolution(dpi, sheet.limits);
  return (
    <>
      <SheetLength
        label="Width"
        valueMm={sheet.print.widthMm}
        unit={unit}
        minMm={LIMITS.minPrintMm}
        maxMm={LIMITS.maxPrintMm}
        hint={`height ${formatLength(sheet.print.heightMm, unit)}`}
        apply={changePrintWidth}
      />
      <p className={`flex items-start gap-1.5 ${judgement === 'low' ? 'font-semibold' : ''}`}>
        {(judgement === 'low' || judgement === 'soft') && (
          <TriangleAlert aria-hidden className="mt-0.5 size-4 shrink-0 text-clay" />
        )}
        <span data-testid="resolution">
          {dpi === null ? '' : `${trimNumber(dpi, 0)} dpi at print size, `}
          {(fullToneLayer(sheet) ? OF_TONES : JUDGEMENTS)[judgement]}
        </span>
      </p>
    </>
  );
}

/** How near the print on a garment comes to the artwork, where tones are found for it. */
function Nearness({ garment }: { readonly garment: JobGarment }) {
  const difference = useDesk((desk) => desk.survey?.difference ?? null);
  const isFirst = useDesk((desk) => garmentOf(desk.sheet).id === garment.id);
  const together = useDesk((desk) => fullToneLayer(desk.sheet)?.together === true);
  if (!together) return null;
  const found = isFirst ? difference : difference?.others.find(({ garmentId }) => garmentId === garment.id);
  if (!found) return <span className="caption">…</span>;
  return (
    <span
      className="text-xs tabular-nums"
      title={`The print is ${trimNumber(found.mean, 1)} from the artwork on average, and less than ${trimNumber(found.p95, 0)} on 95 % of it`}
    >
      {trimNumber(found.mean, 1)} off
    </span>
  );
}

/** Whether an ink runs for some of the garments only. */
function hasInkOfSome({ garments, plates }: JobSheet): boolean {
  return plates.some(
    ({ id, role }) => role === 'colour' && garments.some(({ without }) => without.includes(id)),
  );
}

/** Whether the films of tones are found for all garments of the job, and how near they come on the first. */
function TogetherSwitch() {
  const sheet = useSheet();
  const change = useDesk((desk) => desk.change);
  const layer = fullToneLayer(sheet);
  if (!layer) return null;
  const first = garmentOf(sheet);
  const left = sheet.plates.filter(({ id }) => first.without.includes(id)).map(({ ink }) => ink.name);
  return (
    <>
      <SwitchSetting
        name="Find the films for all of them together"
        on={layer.together}
        onChange={(on) => change((now) => setTogether(now, on))}
      />
      {layer.together && (
        <>
          <p className="flex items-center gap-1.5">
            <Swatch colour={first.colour} />
            <span className="min-w-0 flex-1 truncate">
              {first.name}
              {left.length > 0 && <span className="text-quiet"> without {left.join(', ')}</span>}
            </span>
            <Nearness garment={first} />
          </p>
          {!hasInkOfSome(sheet) && (
            <p className="caption">
              Every ink runs for all of them. Where dark and light garments share films, a black for the light
              ones serves most: Plates proposes inks for all garments.
            </p>
          )}
        </>
      )}
    </>
  );
}

/** Which plates run for one of the other garments: each is a button that is pressed while it does. */
function OtherGarment({ garment }: { readonly garment: JobGarment }) {
  const { plates } = useSheet();
  const change = useDesk((desk) => desk.change);
  return (
    <li className="mt-2">
      <span className="flex items-center gap-1.5">
        <Swatch colour={garment.colour} />
        <span className="min-w-0 flex-1 truncate">{garment.name}</span>
        <Nearness garment={garment} />
      </span>
      <span
        role="group"
        aria-label={`Plates that run on ${garment.name}`}
        className="mt-1 flex flex-wrap gap-1"
      >
        {plates.map(({ id, number, ink }) => {
          const runs = !garment.without.includes(id);
          return (
            <button
              key={id}
              type="button"
              aria-pressed={runs}
              aria-label={`${ink.name} runs on ${garment.name}`}
              title={runs ? `${ink.name} runs` : `${ink.name} is left out`}
              onClick={() => change((now) => setRuns(now, garment.id, id, !runs))}
              className={`flex h-6 items-center gap-1 border px-1 text-[11px] ${runs ? 'border-ink bg-white' : 'border-line text-quiet line-through opacity-60'}`}
            >
              <Swatch colour={ink.colour} /> {number}
            </button>
          );
        })}
      </span>
    </li>
  );
}

export function GarmentSection() {
  const sheet = useSheet();
  const stock = useDesk((desk) => desk.stock);
  const change = useDesk((desk) => desk.change);
  return (
    <>
      <div className="mt-2 flex flex-wrap gap-1.5">
        {stock.garments.map((garment) => (
          <button
            key={garment.name}
            type="button"
            title={garment.name}
            aria-label={`Garment ${garment.name}`}
            aria-pressed={garmentOf(sheet).colour === garment.colour}
            onClick={() => change((now) => changeGarment(now, { ...garment }))}
            className={`size-8 border ${garmentOf(sheet).colour === garment.colour ? 'border-clay ring-2 ring-clay' : 'border-black/30'}`}
            style={{ background: garment.colour }}
          />
        ))}
      </div>
      <div className="mt-2 flex items-center justify-between gap-2">
        <span className="truncate">{garmentOf(sheet).name}</span>
        <ColourField
          label="Garment colour"
          value={garmentOf(sheet).colour}
          onChange={(colour) => change((now) => changeGarment(now, { name: 'Garment', colour }))}
        />
      </div>
      {otherGarments(sheet).length > 0 && (
        <>
          <p className="caption mt-3">The same screens also print on</p>
          <TogetherSwitch />
          <ul>
            {otherGarments(sheet).map((garment) => (
              <OtherGarment key={garment.id} garment={garment} />
            ))}
          </ul>
        </>
      )}
    </>
  );
}

export function BackgroundTitle() {
  const colour = useDesk((desk) => backgroundOf(desk.sheet)!.colour);
  return (
    <>
      Background <Swatch colour={colour} />
    </>
  );
}

/** What becomes of the colour that the artwork stands on; asked where it is no paper. */
export function BackgroundSection() {
  const background = useDesk((desk) => backgroundOf(desk.sheet)!);
  const change = useDesk((desk) => desk.change);
  const onDrop = (drop: typeof background.drop) => change((now) => changeBackground(now, drop));
  return (
    <>
      {background.open && <p className="caption">Does it belong to the design? Until you say, it prints.</p>}
      <RadioGroup
        value={background.drop}
        onChange={onDrop}
        aria-label="What becomes of the background"
        className="mt-1 space-y-0.5"
      >
        {BACKGROUNDS.map((drop) => (
          <Radio
            key={drop}
            value={drop}
            onClick={() => background.open && onDrop(drop)}
            className="group flex h-7 cursor-pointer items-center gap-2"
          >
            <span className="grid size-4 shrink-0 place-items-center rounded-full border border-line group-data-checked:border-clay">
              <span className="size-2 rounded-full group-data-checked:bg-clay" />
            </span>
            {BACKGROUND_WORDS[drop]}
          </Radio>
        ))}
      </RadioGroup>
    </>
  );
}
