'use client';

import { Pin, X } from 'lucide-react';
import { formatHexColour } from '@/core/colour';
import { readingSideMm } from '@/core/pipeline';
import type { JobSheet } from '@/core/sheet';
import { formatLength, trimNumber } from '@/core/units';
import { Swatch } from '../../controls/Choice';
import { useUnit } from '../../state/useStored';
import type { PlacedReading } from './usePool';

interface Props {
  readonly sheet: JobSheet;
  readonly live: PlacedReading | null;
  readonly pinned: readonly PlacedReading[];
  readonly onUnpin: (index: number) => void;
}

/** What stands under the pointer, and at the pinned places. */
export function Readings({ sheet, live, pinned, onUnpin }: Props) {
  return (
    <section aria-label="Readings" className="border-t border-line bg-slip">
      <Line
        sheet={sheet}
        placed={live}
        lead={
          <span className="caption shrink-0" title="Coverage as intended in print; a click pins a reading">
            plate, mean of {trimNumber(readingSideMm(sheet), 1)} mm
          </span>
        }
      />
      {pinned.map((placed, index) => (
        <Line
          key={`${placed.xMm}/${placed.yMm}`}
          sheet={sheet}
          placed={placed}
          lead={
            <span className="flex shrink-0 items-center gap-1">
              <Pin aria-hidden className="size-3.5" />
              {index + 1}
              <button
                type="button"
                className="hit"
                aria-label={`Take pin ${index + 1} out`}
                onClick={() => onUnpin(index)}
              >
                <X aria-hidden className="size-3.5" />
              </button>
            </span>
          }
        />
      ))}
    </section>
  );
}

interface LineProps {
  readonly sheet: JobSheet;
  readonly placed: PlacedReading | null;
  readonly lead: React.ReactNode;
}

function Line({ sheet, placed, lead }: LineProps) {
  const [unit] = useUnit();
  return (
    <div className="flex h-7 items-center gap-4 overflow-hidden px-3 whitespace-nowrap">
      <span className="w-32 shrink-0">
        {placed ? `${formatLength(placed.xMm, unit)}, ${formatLength(placed.yMm, unit)}` : 'off the table'}
      </span>
      {lead}
      <span className="flex min-w-0 gap-3 overflow-hidden">
        {sheet.plates.map((plate) => {
          const share = placed?.reading.plates[plate.id];
          return (
            <span
              key={plate.id}
              title={plate.ink.name}
              className={`flex items-center gap-1 ${share === undefined || share === 0 ? 'text-quiet' : 'font-semibold'}`}
            >
              <Swatch colour={plate.ink.colour} />
              <span className="sr-only">{plate.ink.name}</span>
              <span className="w-6 text-right">{share === undefined ? '–' : Math.round(share * 100)}</span>
            </span>
          );
        })}
      </span>
      {placed && (
        <span className="ml-auto flex shrink-0 items-center gap-1.5">
          <span className="caption">predicts</span>{' '}
          <Swatch colour={formatHexColour(placed.reading.predicted)} />
          <span className="caption">artwork</span> <Swatch colour={formatHexColour(placed.reading.artwork)} />
          <strong className="w-5 text-right">{Math.round(placed.reading.difference)}</strong>
          <span className="caption">apart</span>
        </span>
      )}
    </div>
  );
}
