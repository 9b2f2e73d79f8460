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
      {placed && <Shares sheet={sheet} placed={placed} />}
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

/** More plates than this at one place are told by their colours alone. */
const WITH_NAMES = 4;

/** The plates that print at a place, and how much each. */
function Shares({ sheet, placed }: { readonly sheet: JobSheet; readonly placed: PlacedReading }) {
  const printing = sheet.plates.filter(({ id }) => (placed.reading.plates[id] ?? 0) > 0);
  if (printing.length === 0) return <span className="text-quiet">no plate prints here</span>;
  return (
    <span className="flex min-w-0 gap-3 overflow-hidden">
      {printing.map(({ id, ink }) => {
        const percent = placed.reading.plates[id]! * 100;
        return (
          <span key={id} title={ink.name} className="flex items-center gap-1 font-semibold">
            <Swatch colour={ink.colour} />
            <span className={printing.length > WITH_NAMES ? 'sr-only' : 'font-normal'}>{ink.name}</span>
            <span>{percent < 0.5 ? '< 1' : Math.round(percent)}</span>
          </span>
        );
      })}
    </span>
  );
}
