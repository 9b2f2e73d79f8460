'use client';

import { Ban, X } from 'lucide-react';
import { useMemo, useState } from 'react';
import { type InkOffer, MOST_SCREENS, fitsPress } from '@/core/pipeline';
import { chooseInkSet, wishInk } from '@/core/separation';
import { type JobSheet, fullToneLayer } from '@/core/sheet';
import type { Closeness } from '@/core/solving';
import { trimNumber } from '@/core/units';
import { Chart } from '../../controls/Chart';
import { Choice } from '../../controls/Choice';
import { useDesk, useSheet } from '../desk/desk';
import { type InkAdvice, useInkAdvice, useInkSearch } from './useInkAdvice';

const INK = '#1d1d1b';
const CLAY = '#b4532a';
const QUIET = '#8a877d';

/** Chart and numbers below it have the same places across. */
const LEFT = 30;
const RIGHT = 8;

const off = (difference: number) => trimNumber(difference, difference < 1 ? 2 : 1);

/** What each number of screens would print, and the inks that it would take. */
export function ScreensSection() {
  const sheet = useSheet();
  const change = useDesk((desk) => desk.change);
  useInkSearch();
  const advice = useInkAdvice();
  const [looked, setLooked] = useState<number | null>(null);
  const now = advice.offers.find((offer) => isPresent(offer, sheet)) ?? null;
  const shown = advice.offers.find(({ inks }) => inks.length === looked) ?? now;
  return (
    <>
      <ScreensChart advice={advice} count={sheet.plates.length} />
      <div
        role="radiogroup"
        aria-label="Screens"
        className="flex"
        style={{ paddingLeft: LEFT, paddingRight: RIGHT }}
        onPointerLeave={() => setLooked(null)}
      >
        {Array.from({ length: MOST_SCREENS }, (_, k) => k + 1).map((count) => {
          const offer = advice.offers.find(({ inks }) => inks.length === count);
          const isNow = offer !== undefined && offer === now;
          return (
            <button
              key={count}
              type="button"
              role="radio"
              aria-checked={isNow}
              disabled={!offer}
              title={offer ? describe(offer) : undefined}
              className={`h-7 min-w-0 flex-1 tabular-nums disabled:opacity-35 ${isNow ? 'bg-ink text-white' : 'hover:bg-slip-deep'}`}
              onPointerEnter={() => setLooked(count)}
              onFocus={() => setLooked(count)}
              onBlur={() => setLooked(null)}
              onClick={() => offer && change((latest) => chooseInkSet(latest, offer.inks))}
            >
              {count}
            </button>
          );
        })}
      </div>
      <p className="caption">
        Difference from the artwork: black on average, grey less than this on 95 %, dashed with all inks of
        stock, clay the job.
      </p>
      <p className="mt-1 text-xs" data-testid="screens">
        {shown ? (
          describe(shown)
        ) : advice.offers.length === 0 ? (
          advice.all ? (
            'Nothing of the artwork prints on this garment: there is nothing to choose inks by.'
          ) : (
            'Looking for inks …'
          )
        ) : (
          <Present advice={advice} count={sheet.plates.length} />
        )}
        {shown && !fitsPress(sheet, shown)
          ? ` It takes more heads or flashes than ${sheet.press.name} has.`
          : ''}
      </p>
      <Steadiness advice={advice} />
      <Banned />
    </>
  );
}

function isPresent({ inks }: InkOffer, { plates }: JobSheet): boolean {
  return (
    inks.length === plates.length &&
    inks.every(({ role, ink }) =>
      plates.some(
        (plate) =>
          plate.role === role &&
          plate.ink.name === ink.name &&
          plate.ink.colour === ink.colour &&
          plate.ink.opacity === ink.opacity,
      ),
    )
  );
}

function describe({ inks, mean, p95 }: InkOffer): string {
  const names = inks.map(({ ink }) => ink.name).join(', ');
  return `${inks.length} ${inks.length === 1 ? 'screen' : 'screens'}: ${off(mean)} from the artwork on average, less than ${off(p95)} on 95 %. ${names}.`;
}

function Present({ advice, count }: { readonly advice: InkAdvice; readonly count: number }) {
  const { present, offers } = advice;
  const best = offers.find(({ inks }) => inks.length === count);
  if (!present) return 'Measuring the inks of the job …';
  return `The job’s ${count}: ${off(present.mean)} from the artwork on average, less than ${off(present.p95)} on 95 %.${
    best && best.mean < present.mean - 0.05
      ? ` Other inks would come ${off(present.mean - best.mean)} nearer.`
      : ''
  }`;
}

/** What the press makes of it. */
function Steadiness({ advice: { present } }: { readonly advice: InkAdvice }) {
  const tolerance = useDesk((desk) => desk.sheet.press.toleranceMm);
  if (!present) return null;
  return (
    <p className="caption">
      Holds within {off(present.wander)} when all dots gain 5 points more or less than expected, and within{' '}
      {off(present.register)} when one plate lies {trimNumber(tolerance, 2)} mm off: both on average.
    </p>
  );
}

function ScreensChart({ advice, count }: { readonly advice: InkAdvice; readonly count: number }) {
  const { offers, all, present } = advice;
  const option = useMemo(() => {
    const line = (name: string, colour: string, of: (offer: Closeness) => number) => ({
      name,
      type: 'line',
      symbolSize: 5,
      lineStyle: { color: colour, width: 1.5 },
      itemStyle: { color: colour },
      data: offers.map((offer) => [offer.inks.length, of(offer)]),
    });
    return {
      animation: false,
      grid: { left: LEFT, right: RIGHT, top: 10, bottom: 6 },
      tooltip: {
        trigger: 'axis',
        confine: true,
        formatter: (points: readonly { data: readonly [number, number]; seriesName: string }[]) =>
          `${points[0]!.data[0]} screens<br>${points.map(({ data, seriesName }) => `${seriesName} ${off(data[1])}`).join('<br>')}`,
      },
      xAxis: {
        type: 'value',
        min: 0.5,
        max: MOST_SCREENS + 0.5,
        interval: 1,
        axisLabel: { show: false },
        axisTick: { show: false },
        splitLine: { show: false },
      },
      yAxis: { type: 'value', min: 0, splitNumber: 3 },
      series: [
        line('less than, on 95 %', QUIET, ({ p95 }) => p95),
        {
          ...line('average', INK, ({ mean }) => mean),
          ...(all
            ? {
                markLine: {
                  symbol: 'none',
                  silent: true,
                  label: { show: false },
                  lineStyle: { color: INK, type: 'dashed', width: 1 },
                  data: [{ yAxis: all.mean }],
                },
              }
            : {}),
        },
        ...(present
          ? [
              {
                name: 'the job',
                type: 'scatter',
                symbolSize: 10,
                itemStyle: { color: CLAY },
                data: [[count, present.mean]],
              },
            ]
          : []),
      ],
    };
  }, [offers, all, present, count]);
  return (
    <Chart
      label="Difference from the artwork over the number of screens"
      option={option}
      className="h-32 w-full"
    />
  );
}

/** Inks that no proposal is to have. */
function Banned() {
  const sheet = useSheet();
  const stock = useDesk((desk) => desk.stock.inks);
  const change = useDesk((desk) => desk.change);
  const banned = fullToneLayer(sheet)?.banned ?? [];
  return (
    <div className="mt-1 flex flex-wrap items-center gap-1">
      <Choice
        icon={<Ban aria-hidden className="size-4" />}
        label="Never propose an ink"
        className="w-52"
        value=""
        shown={{ value: '', label: 'never propose …' }}
        options={stock
          .filter(({ name }) => !banned.includes(name))
          .map(({ name, colour }) => ({ value: name, label: name, colour }))}
        onChange={(name) => change((latest) => wishInk(latest, name, 'ban'))}
      />
      {banned.map((name) => (
        <span key={name} className="field flex items-center gap-1 py-0 pr-0">
          {name}
          <button
            type="button"
            className="hit"
            aria-label={`Propose ${name} again`}
            title="Propose it again"
            onClick={() => change((latest) => wishInk(latest, name, 'free'))}
          >
            <X aria-hidden className="size-3.5" />
          </button>
        </span>
      ))}
    </div>
  );
}
