'use client';

import { Switch } from '@headlessui/react';
import { TriangleAlert } from 'lucide-react';
import { artworkDpi, checkSheet, judgeResolution } from '@/core/checks';
import { changeGarment, changePrintWidth } from '@/core/separation';
import { LIMITS } from '@/core/sheet';
import { formatLength, trimNumber } from '@/core/units';
import type { ArtworkView } from '@/protocol/jobs';
import { Swatch } from '../controls/Choice';
import { ColourField } from '../controls/ColourField';
import { LengthField } from '../controls/LengthField';
import { type Unit, useUnit } from '../state/useStored';
import type { StepProps } from './steps';

/** Made-up garments of the shop. */
const GARMENTS = [
  { name: 'Harbour navy', colour: '#16233f' },
  { name: 'Pitch black', colour: '#17171b' },
  { name: 'White', colour: '#fafaf8' },
  { name: 'Sand', colour: '#ece4d2' },
  { name: 'Moss', colour: '#3d4a33' },
  { name: 'Buoy red', colour: '#a32b28' },
  { name: 'Slate', colour: '#6d7378' },
] as const;

const JUDGEMENTS = {
  vector: 'vector: sharp at any size',
  right: 'right for flat artwork',
  soft: 'soft: edges of lettering will show it',
  low: 'too low: ask for larger artwork, or print smaller',
} as const;

function measure(artwork: ArtworkView, unit: Unit): string {
  if (artwork.ownWidthMm === null || artwork.ownHeightMm === null) return 'states no size of its own';
  return `${formatLength(artwork.ownWidthMm, unit)} × ${formatLength(artwork.ownHeightMm, unit)} at its own resolution`;
}

export function ArtworkStep({ sheet, artwork, commit }: StepProps) {
  const [unit] = useUnit();
  const dpi = artworkDpi(sheet);
  const judgement = judgeResolution(dpi);
  const pixels = artwork.kind === 'vector' ? 'vector drawing' : `${artwork.widthPx} × ${artwork.heightPx} px`;
  const transparent =
    artwork.transparentShare > 0.001
      ? `${trimNumber(artwork.transparentShare * 100, 0)} % transparent`
      : 'no transparency';
  const findings = checkSheet(sheet, artwork.missingFonts);
  return (
    <div className="space-y-5">
      <section>
        <h2 className="font-semibold">Artwork</h2>
        <p className="mt-1 break-all">{artwork.fileName}</p>
        <p className="caption">
          {artwork.format.toUpperCase()} · {pixels} · {artwork.colourSpace}
          {artwork.kind === 'raster' ? `, ${artwork.bits} bits` : ''} · {transparent}
        </p>
        <p className="caption">{measure(artwork, unit)}</p>
      </section>
      <section>
        <h2 className="font-semibold">Print size</h2>
        <LengthField
          label="Width"
          valueMm={sheet.print.widthMm}
          unit={unit}
          minMm={LIMITS.minPrintMm}
          maxMm={LIMITS.maxPrintMm}
          hint={`height ${formatLength(sheet.print.heightMm, unit)}`}
          onChange={(widthMm) => commit(changePrintWidth(sheet, widthMm))}
        />
        <p className={`flex items-start gap-1.5 ${judgement === 'low' ? 'font-semibold' : ''}`}>
          {(judgement === 'low' || judgement === 'soft') && (
            <TriangleAlert aria-hidden className="mt-0.5 size-4 shrink-0 text-clay" />
          )}
          <span data-testid="resolution">
            {dpi === null ? '' : `${trimNumber(dpi, 0)} dpi at print size, `}
            {JUDGEMENTS[judgement]}
          </span>
        </p>
      </section>
      <section>
        <h2 className="font-semibold">Garment</h2>
        <div className="mt-2 flex flex-wrap gap-1.5">
          {GARMENTS.map((garment) => (
            <button
              key={garment.name}
              type="button"
              title={garment.name}
              aria-label={`Garment ${garment.name}`}
              aria-pressed={sheet.garment.colour === garment.colour}
              onClick={() => commit(changeGarment(sheet, { ...garment }))}
              className={`size-8 border ${sheet.garment.colour === garment.colour ? 'border-clay ring-2 ring-clay' : 'border-black/30'}`}
              style={{ background: garment.colour }}
            />
          ))}
        </div>
        <div className="mt-2 flex items-center justify-between gap-2">
          <span className="truncate">{sheet.garment.name}</span>
          <ColourField
            label="Garment colour"
            value={sheet.garment.colour}
            onChange={(colour) => commit(changeGarment(sheet, { name: 'Garment', colour }))}
          />
        </div>
      </section>
      {sheet.background && (
        <section className="flex items-center gap-3">
          <Switch
            checked={sheet.background.dropped}
            onChange={(dropped) => commit({ ...sheet, background: { ...sheet.background!, dropped } })}
            className="group inline-flex h-5 w-9 shrink-0 items-center rounded-full bg-line px-0.5 data-checked:bg-clay"
            aria-label="Drop the background"
          >
            <span className="size-4 rounded-full bg-white group-data-checked:translate-x-4" />
          </Switch>
          <span className="flex items-center gap-1.5">
            Drop the background <Swatch colour={sheet.background.colour} />
          </span>
        </section>
      )}
      {findings.length > 0 && (
        <section>
          <h2 className="font-semibold">To look at</h2>
          <ul className="mt-1 space-y-2">
            {findings.map((finding) => (
              <li key={finding.message} className="flex items-start gap-1.5">
                <TriangleAlert aria-hidden className="mt-0.5 size-4 shrink-0 text-clay" />
                <span>
                  {finding.message} <span className="text-quiet">{finding.remedy}</span>
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}
