'use client';

import { useEffect, useState } from 'react';
import type { TablePool } from '@/browser';
import { type Arrangement, arrangeDots, arrangementOf, arrangementsOf } from '@/core/checks';
import { type Survey, coloursKey, dotsScore } from '@/core/pipeline';
import { type JobSheet, type Plate, isSimulated } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { type DeskState, useDesk, useSheet } from '../desk/desk';

const NAMES: Readonly<Record<Arrangement, string>> = {
  rotated: '30° apart',
  'one-angle': 'one angle',
  interlocked: 'interlocked',
  groups: 'in groups',
  dispersed: 'dispersed',
};

const MEANINGS: Readonly<Record<Arrangement, string>> = {
  rotated: 'Dots lie over each other as chance has it',
  'one-angle': 'Dots lie in each other, as far as the register holds',
  interlocked: 'Dots lie beside each other in each cell',
  groups: 'Dots of two or three inks lie beside each other, 30° apart from those of the others',
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
  const change = useDesk((desk) => desk.change);
  const share = sharesOf(sheet, survey);
  const meeting = meetingPlates({ sheet, survey });
  const ids = meeting.map(({ id }) => id);
  const costs = useCosts(sheet, ids, share);
  const now = arrangementOf(sheet, ids);
  const arrangements = arrangementsOf(ids.length);
  const names = meeting.map(({ ink }) => ink.name);
  // Of flat colours only what a shift costs is known, which is not all that makes dots good.
  const best =
    costs &&
    isSimulated(sheet) &&
    arrangements.reduce((p, q) => (costs.get(q)!.score < costs.get(p)!.score ? q : p));
  const columns = isSimulated(sheet) ? ['register', 'one off', 'grain'] : ['mean', 'at most'];
  return (
    <>
      <p className="caption">{names.join(', ')}</p>
      <div className="caption mt-1 flex justify-end pr-2 text-right">
        {columns.map((column) => (
          <span key={column} className="w-14">
            {column}
          </span>
        ))}
      </div>
      <div role="radiogroup" aria-label="How dots that meet lie">
        {arrangements.map((each) => (
          <button
            key={each}
            type="button"
            role="radio"
            aria-checked={now === each}
            title={MEANINGS[each]}
            className={`flex w-full items-baseline border-x border-t border-line px-2 py-1 text-left last:border-b ${now === each ? 'bg-ink text-white' : 'bg-white hover:bg-slip-deep'}`}
            onClick={() => change((latest) => arrangeDots(latest, ids, each, share))}
          >
            <span className="flex-1">
              {NAMES[each]}
              {best === each && <span className="ml-1.5 text-xs opacity-80">best</span>}
            </span>
            {columns.map((column, k) => (
              <span key={column} className="w-14 text-right text-xs tabular-nums">
                {costs ? trimNumber(costs.get(each)!.figures[k]!, 1) : '…'}
              </span>
            ))}
          </button>
        ))}
      </div>
      <p className="caption mt-1">
        {isSimulated(sheet)
          ? `From the artwork (CIEDE2000), printed with the real dots: in register, and when one plate lies ${trimNumber(sheet.press.toleranceMm, 2)} mm off, as ${sheet.press.name} may; grain as L* from 1 m.`
          : `Colour shift (CIEDE2000) when one plate lies ${trimNumber(sheet.press.toleranceMm, 2)} mm off, as ${sheet.press.name} may`}
      </p>
    </>
  );
}

/** What an arrangement costs, as figures that are shown, and as one that is compared: the less the better. */
interface Cost {
  readonly figures: readonly number[];
  readonly score: number;
}

async function costsOf(
  pool: TablePool,
  request: { readonly sheet: JobSheet; readonly hasOuterMap: boolean },
  ids: readonly string[],
  meet: readonly number[],
): Promise<ReadonlyMap<Arrangement, Cost>> {
  if (isSimulated(request.sheet)) {
    const judged = await pool.judgeDots(request, ids, meet);
    return new Map(
      [...judged].map(([each, found]) => [
        each,
        { figures: [found.off, found.shifted, found.grain], score: dotsScore(found) },
      ]),
    );
  }
  const costs = await pool.shiftCosts(request.sheet, ids, meet);
  return new Map(
    [...costs].map(([each, { mean, worst }]) => [each, { figures: [mean, worst], score: mean }]),
  );
}

/** Simulated with the real dots; null until they are done. */
function useCosts(
  sheet: JobSheet,
  ids: readonly string[],
  share: Share,
): ReadonlyMap<Arrangement, Cost> | null {
  const pool = useDesk((desk) => desk.pool);
  const hasOuterMap = useDesk((desk) => desk.artwork.hasOuterMap);
  const meet = ids.flatMap((p) => ids.map((q) => (p === q ? 0 : share(p, q))));
  const key = JSON.stringify([
    ids,
    meet,
    isSimulated(sheet) ? coloursKey(sheet) : null,
    sheet.garments,
    sheet.press.toleranceMm,
    sheet.film.dpi,
    sheet.run,
    sheet.plates.map(({ ink, mesh, screen }) => [ink.colour, ink.opacity, mesh, screen]),
  ]);
  const [known, setKnown] = useState<{ key: string; costs: ReadonlyMap<Arrangement, Cost> } | null>(null);
  useEffect(() => {
    if (ids.length < 2) return;
    let gone = false;
    // Not at once: the table draws the same change.
    const timer = setTimeout(() => {
      costsOf(pool, { sheet, hasOuterMap }, ids, meet)
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
