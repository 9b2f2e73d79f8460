'use client';

import { Printer } from 'lucide-react';
import Link from 'next/link';
import { describeScreen, layoutSheet } from '@/core/film';
import { planPress } from '@/core/press';
import { type JobGarment, type JobSheet, effectiveChokeMm, garmentOf, otherGarments } from '@/core/sheet';
import { KerameusError, formatLength, trimNumber } from '@/core/units';
import { Problem } from '../controls/Problem';
import { Swatch } from '../controls/Choice';
import { useJob } from '../state/useJob';
import { usePool, useSurvey } from '../workspace/table/usePool';

const STATION_NAMES = { flash: 'Flash', cool: 'Cool', empty: 'Empty head', turn: 'Next turn' } as const;

/** One page for the operator: the run, screens, inks, flashes, garment, size and place of the print, a picture. */
export function PressSheet({ jobId }: { readonly jobId: string }) {
  const { job, sheet, error } = useJob(jobId);
  const pool = usePool();
  const { survey } = useSurvey(pool, sheet, job?.artwork.hasOuterMap ?? false);
  if (!job || !sheet) {
    return (
      <div className="p-6">
        {error ? <Problem report={error} /> : <p className="caption">Fetching the job …</p>}
      </div>
    );
  }
  const plan = planPress(sheet);
  const { press } = sheet;
  const cell = 'border-b border-line px-2 py-1 align-middle';
  return (
    <div className="min-h-full bg-slip-deep p-6 print:bg-white print:p-0">
      <div className="mx-auto mb-3 flex max-w-[800px] items-center gap-3 print:hidden">
        <Link href={`/jobs/${jobId}`} className="plain-button">
          Back to the job
        </Link>
        <div className="flex-1" />
        <button type="button" className="main-button" onClick={() => window.print()}>
          <Printer aria-hidden className="size-4" /> Print
        </button>
      </div>
      <article className="mx-auto max-w-[800px] bg-white p-8 print:max-w-none print:p-0">
        <header className="flex items-start justify-between gap-6">
          <div>
            <h1 className="text-lg font-semibold">{sheet.name}</h1>
            <p>
              {press.name}: {plan.headsUsed} of {press.heads} heads, {plan.flashesUsed} of {press.flashes}{' '}
              flashes
              {plan.turns > 1 ? `, ${plan.turns} turns` : ''}
            </p>
            <dl className="mt-3 grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
              <dt className="text-quiet">Garment</dt>
              <dd className="flex items-center gap-1.5">
                <Swatch colour={garmentOf(sheet).colour} /> {garmentOf(sheet).name}
                {leftOut(sheet, garmentOf(sheet))}
                {otherGarments(sheet).map((each) => (
                  <span key={each.colour} className="inline-flex items-center gap-1.5">
                    , <Swatch colour={each.colour} /> {each.name}
                    {leftOut(sheet, each)}
                  </span>
                ))}
              </dd>
              <dt className="text-quiet">Print</dt>
              <dd>
                {formatLength(sheet.print.widthMm, 'in')} × {formatLength(sheet.print.heightMm, 'in')} (
                {trimNumber(sheet.print.widthMm, 0)} × {trimNumber(sheet.print.heightMm, 0)} mm)
              </dd>
              <dt className="text-quiet">On the film</dt>
              <dd>{placeOnFilm(sheet)}</dd>
              <dt className="text-quiet">Fit</dt>
              <dd>
                base choked {formatLength(effectiveChokeMm(sheet), 'mm')}, press tolerance{' '}
                {formatLength(press.toleranceMm, 'mm')}
              </dd>
            </dl>
          </div>
          {/* eslint-disable-next-line @next/next/no-img-element -- made by our own worker at the right size */}
          <img
            src={`/api/jobs/${jobId}/picture?v=${job.version}`}
            alt={`Print of ${sheet.name} on ${garmentOf(sheet).name}`}
            className="max-h-56 border border-line"
          />
        </header>
        <table className="mt-5 w-full border-collapse">
          <thead>
            <tr className="border-b-2 border-ink text-left">
              <th className="px-2 py-1">Head</th>
              <th className="px-2 py-1">Film</th>
              <th className="px-2 py-1">Ink</th>
              <th className="px-2 py-1 text-right">Mesh</th>
              <th className="px-2 py-1">Screen</th>
              <th className="px-2 py-1 text-right">Covers</th>
            </tr>
          </thead>
          <tbody>
            {plan.places.map((place, index) => {
              const { plate, station } = place;
              if (!plate) {
                return (
                  <tr key={index} className="text-quiet">
                    <td className={cell}>{place.head ?? ''}</td>
                    <td className={cell} colSpan={5}>
                      {station.kind === 'screen' ? '' : STATION_NAMES[station.kind]}
                    </td>
                  </tr>
                );
              }
              const k = sheet.plates.indexOf(plate);
              const found = survey?.plates[k];
              return (
                <tr key={index}>
                  <td className={cell}>{place.head}</td>
                  <td className={`${cell} font-semibold`}>{plate.number}</td>
                  <td className={cell}>
                    <span className="flex items-center gap-2">
                      <span
                        aria-hidden
                        className="inline-block h-5 w-8 border border-black/30"
                        style={{ background: plate.ink.colour }}
                      />
                      {plate.ink.name}
                      {place.again ? ', again' : ''}
                    </span>
                  </td>
                  <td className={`${cell} text-right`}>{plate.mesh}</td>
                  <td className={cell}>{found && found.toned === 0 ? 'solid' : describeScreen(plate)}</td>
                  <td className={`${cell} text-right`}>
                    {found ? `${trimNumber(found.coverage * 100, 1)} %` : '–'}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
        <p className="caption mt-4">
          {sheet.film.date} · version {job.version} of the job
        </p>
      </article>
    </div>
  );
}

function placeOnFilm(sheet: JobSheet): string {
  try {
    const { print, widthMm, heightMm } = layoutSheet(sheet);
    return `${formatLength(print.x, 'in')} from the left, ${formatLength(print.y, 'in')} from the top of ${formatLength(widthMm, 'in')} × ${formatLength(heightMm, 'in')}`;
  } catch (thrown) {
    if (thrown instanceof KerameusError) return thrown.message;
    throw thrown;
  }
}

/** What does not run for a garment. */
function leftOut({ plates }: JobSheet, { without }: JobGarment): string {
  const names = plates
    .filter(({ id }) => without.includes(id))
    .map(({ number, ink }) => `${number} ${ink.name}`);
  return names.length > 0 ? ` (without ${names.join(', ')})` : '';
}
