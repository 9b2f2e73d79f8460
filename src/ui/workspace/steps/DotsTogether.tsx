'use client';

import { useEffect, useState } from 'react';
import type { TablePool } from '@/browser';
import { ARRANGEMENTS, type Arrangement, arrangeDots, arrangementOf } from '@/core/checks';
import type { ShiftCost, Survey } from '@/core/pipeline';
import { type JobSheet, type Plate, garmentOf } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { type DeskState, useDesk, useSheet } from '../desk/desk';

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

type Share = (one: string, other: string) => number;

/** On how much of the print two plates both have dots. */
function sharesOf(sheet: JobSheet, survey: Survey): Share {
  const count = sheet.plates.length;
  return (one, other) => {
    const [p, q] = [one, other]
      .map((id) => sheet.plates.findIndex((plate) => plate.id === id))
      .sort((a, b) => a - b);
    return survey.overlaps[p! * count + q!]?.share ?? 0;
  };
}

/** Plates whose dots lie on those of another one. */
export function meetingPlates({ sheet, survey }: Pick<DeskState, 'sheet' | 'survey'>): readonly Plate[] {
  if (!survey) return [];
  const share = sharesOf(sheet, survey);
  const dotted = sheet.plates.filter(
    ({ role }, k) => role !== 'underbase' && (survey.plates[k]?.toned ?? 0) > 0,
  );
  return dotted.filter(({ id }) => dotted.some((other) => other.id !== id && share(id, other.id) > 0));
}

/** How the dots of plates that overlap stand to each other, and what each way costs when a plate lies off. */
export function DotsTogether() {
  const sheet = useSheet();
  const survey = useDesk((desk) => desk.survey);
  return survey && <Together sheet={sheet} survey={survey} />;
}

function Together({ sheet, survey }: { readonly sheet: JobSheet; readonly survey: Survey }) {
  const pool = useDesk((desk) => desk.pool);
  const change = useDesk((desk) => desk.change);
  const share = sharesOf(sheet, survey);
  const meeting = meetingPlates({ sheet, survey });
  const ids = meeting.map(({ id }) => id);
  const costs = useCosts(sheet, ids, share, pool);
  const now = arrangementOf(sheet, ids);
  const names = meeting.map(({ ink }) => ink.name);
  return (
    <>
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
              onClick={() => change((latest) => arrangeDots(latest, ids, each, share))}
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
        Colour shift (CIEDE2000) when one plate lies {trimNumber(sheet.press.toleranceMm, 2)} mm off, as{' '}
        {sheet.press.name} may
      </p>
    </>
  );
}

/** Simulated with the real dots; null until they are done. */
function useCosts(
  sheet: JobSheet,
  ids: readonly string[],
  share: Share,
  pool: TablePool,
): ReadonlyMap<Arrangement, ShiftCost> | null {
  const meet = ids.flatMap((p) => ids.map((q) => (p === q ? 0 : share(p, q))));
  const key = JSON.stringify([
    ids,
    meet,
    garmentOf(sheet),
    sheet.press.toleranceMm,
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
