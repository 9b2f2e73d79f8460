'use client';

import { useEffect, useState } from 'react';
import type { TablePool } from '@/browser';
import { ARRANGEMENTS, type Arrangement, arrangeDots, arrangementOf } from '@/core/checks';
import type { ShiftCost, Survey } from '@/core/pipeline';
import type { JobSheet } from '@/core/sheet';
import { trimNumber } from '@/core/units';

const NAMES: Readonly<Record<Arrangement, string>> = {
  rotated: '30° apart',
  'one-angle': 'one angle',
  interlocked: 'interlocked',
  dispersed: 'dispersed',
};

const MEANINGS: Readonly<Record<Arrangement, string>> = {
  rotated: 'Dots lie over each other as chance has it',
  'one-angle': 'Dots lie over each other as the register has it',
  interlocked: 'Dots lie beside each other in each cell',
  dispersed: 'Dots of one size without a grid',
};

interface Props {
  readonly sheet: JobSheet;
  readonly survey: Survey;
  readonly pool: TablePool;
  readonly commit: (sheet: JobSheet) => void;
}

/** How the dots of plates that overlap stand to each other, and what each way costs when a plate lies off. */
export function DotsTogether({ sheet, survey, pool, commit }: Props) {
  const count = sheet.plates.length;
  const share = (one: string, other: string) => {
    const [p, q] = [one, other]
      .map((id) => sheet.plates.findIndex((plate) => plate.id === id))
      .sort((a, b) => a - b);
    return survey.overlaps[p! * count + q!]?.share ?? 0;
  };
  const dotted = sheet.plates.filter((plate, k) => plate.role !== 'underbase' && survey.plates[k]!.toned > 0);
  const ids = dotted
    .filter((plate) => dotted.some((other) => other !== plate && share(plate.id, other.id) > 0))
    .map((plate) => plate.id);
  const costs = useCosts(sheet, ids, share, pool);
  if (ids.length < 2) return null;
  const now = arrangementOf(sheet, ids);
  const names = dotted.filter((plate) => ids.includes(plate.id)).map((plate) => plate.ink.name);
  return (
    <section>
      <h2 className="font-semibold">Dots that meet</h2>
      <p className="caption">{names.join(', ')}</p>
      <div className="mt-1" role="radiogroup" aria-label="How dots that meet lie">
        {ARRANGEMENTS.map((each) => {
          const cost = costs?.get(each);
          return (
            <button
              key={each}
              type="button"
              role="radio"
              aria-checked={now === each}
              title={MEANINGS[each]}
              className={`flex w-full items-baseline gap-2 border-x border-t border-line px-2 py-1 text-left last:border-b ${now === each ? 'bg-ink text-white' : 'bg-white hover:bg-slip-deep'}`}
              onClick={() => commit(arrangeDots(sheet, ids, each, share))}
            >
              <span className="flex-1">{NAMES[each]}</span>
              <span className="text-xs tabular-nums">
                {cost ? `shifts by ${trimNumber(cost.mean, 1)}, at most ${trimNumber(cost.worst, 1)}` : '…'}
              </span>
            </button>
          );
        })}
      </div>
      <p className="caption mt-1">
        Colour shift (CIEDE2000) when one plate lies {trimNumber(sheet.fit.press.toleranceMm, 2)} mm off, as{' '}
        {sheet.fit.press.name} may
      </p>
    </section>
  );
}

/** Simulated with the real dots; null until they are done. */
function useCosts(
  sheet: JobSheet,
  ids: readonly string[],
  share: (one: string, other: string) => number,
  pool: TablePool,
): ReadonlyMap<Arrangement, ShiftCost> | null {
  const meet = ids.flatMap((p) => ids.map((q) => (p === q ? 0 : share(p, q))));
  const key = JSON.stringify([
    ids,
    meet,
    sheet.garment,
    sheet.fit.press.toleranceMm,
    sheet.film.dpi,
    sheet.run,
    sheet.plates.map(({ ink, mesh, screen }) => [ink.colour, ink.opacity, mesh, screen]),
  ]);
  const [known, setKnown] = useState<{ key: string; costs: ReadonlyMap<Arrangement, ShiftCost> } | null>(
    null,
  );
  useEffect(() => {
    if (ids.length < 2) return;
    let gone = false;
    // Not at once: the table draws the same change.
    const timer = setTimeout(() => {
      pool
        .shiftCosts(sheet, ids, meet)
        .then((costs) => !gone && setKnown({ key, costs }))
        .catch(() => undefined);
    }, 400);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
    // The key says when any of them is another.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key, pool]);
  return known?.key === key ? known.costs : null;
}
