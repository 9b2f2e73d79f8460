'use client';

import { X } from 'lucide-react';
import { ciede2000, labFromRgb8, parseHexColour } from '@/core/colour';
import { type JobSheet, freeGarmentId, garmentOf, otherGarments, withoutGarment } from '@/core/sheet';
import { addGarment } from '@/core/separation';
import { useStock } from '../../state/useStock';
import { Choice } from '../../controls/Choice';

interface Props {
  readonly sheet: JobSheet;
  /** Id of the other garment on which the print is shown; null: the garment itself. */
  readonly shown: string | null;
  readonly folded: boolean;
  readonly onShow: (id: string | null) => void;
  readonly change: (make: (sheet: JobSheet) => JobSheet) => void;
}

/** What the run prints on: the garment that the plates are made for, and the job's other garments. */
export function GarmentPile({ sheet, shown, folded, onShow, change }: Props) {
  const { stock } = useStock();
  const others = otherGarments(sheet);
  const known = new Set([garmentOf(sheet), ...others].map((each) => each.colour));
  const offered = stock.garments.filter((each) => !known.has(each.colour));
  const current = others.find(({ id }) => id === shown) ?? garmentOf(sheet);
  const chip = (colour: string, name: string, active: boolean, onClick: () => void) => (
    <button
      key={colour}
      type="button"
      aria-label={`Show the print on ${name}`}
      aria-pressed={active}
      title={name}
      onClick={onClick}
      className={`size-6 border ${active ? 'border-clay ring-2 ring-clay' : 'border-black/40'}`}
      style={{ background: colour }}
    />
  );
  return (
    <div className="w-[104px] shrink-0 pt-6">
      <div
        className={`flex items-end border border-black/40 p-1 ${folded ? 'h-[30px]' : 'h-[34px]'}`}
        style={{ background: current.colour }}
      >
        <span className={`truncate text-[11px] ${isLight(current.colour) ? 'text-ink' : 'text-white'}`}>
          {current.name}
        </span>
      </div>
      {!folded && (
        <div className="mt-1.5 flex flex-wrap items-center gap-1">
          {chip(garmentOf(sheet).colour, garmentOf(sheet).name, shown === null, () => onShow(null))}
          {others.map(({ id, colour, name }) => chip(colour, name, shown === id, () => onShow(id)))}
          {others.length > 0 && shown !== null && (
            <button
              type="button"
              aria-label={`Take ${current.name} off the job`}
              onClick={() => {
                onShow(null);
                change((now) => withoutGarment(now, shown));
              }}
            >
              <X aria-hidden className="size-4" />
            </button>
          )}
          {offered.length > 0 && (
            <Choice
              label="Garment"
              className="h-6 w-[68px]"
              value=""
              shown={{ value: '', label: 'more' }}
              options={offered.map((each) => ({ value: each.colour, label: each.name, colour: each.colour }))}
              onChange={(colour) => {
                const { name } = offered.find((each) => each.colour === colour)!;
                change((now) => addGarment(now, { name, colour }));
                onShow(freeGarmentId(sheet.garments));
              }}
            />
          )}
        </div>
      )}
    </div>
  );
}

function isLight(colour: string): boolean {
  const lab = labFromRgb8(parseHexColour(colour));
  return ciede2000(lab, [0, 0, 0]) > 50;
}
