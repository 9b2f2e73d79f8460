'use client';

import { useMemo, useState } from 'react';
import { smallestDotUm, toneRule } from '@/core/pipeline';
import { changePlates } from '@/core/separation';
import { type CurveKey, type Plate, curveKey, isCurveOf } from '@/core/sheet';
import { filmToneTable, gainCurves, smallestDot } from '@/core/tone';
import { trimNumber } from '@/core/units';
import { Chart } from '../../controls/Chart';
import { SwitchSetting } from '../../controls/Setting';
import { TextField } from '../../controls/TextField';
import { useDesk, usePlate, useSheet } from '../desk/desk';
import { ReadingsForm } from './ReadingsForm';

function describeCurve({ ink, mesh, lpi, shape }: CurveKey): string {
  return `${ink}, mesh ${mesh}, ${trimNumber(lpi, 1)} lpi ${shape}`;
}

const percent = (value: number) => trimNumber(value * 100, 1);

function within(min: number, max: number) {
  return (text: string) =>
    Number.isFinite(Number(text)) && Number(text) >= min && Number(text) <= max
      ? null
      : `A number from ${min} to ${max}.`;
}

/** What a plate's dots grow by, and what its film does about it. */
export function GainSection() {
  const plate = usePlate();
  return plate && <Gain key={plate.id} plate={plate} />;
}

/** The state of a plate's gain in a few words. */
export function gainState({ screen }: Plate): string {
  if (screen.measured) return `measured, ${screen.measured.length} steps`;
  return screen.gain > 0 ? `${percent(screen.gain)} % made up for` : 'taken to be alike';
}

function Gain({ plate }: { readonly plate: Plate }) {
  const sheet = useSheet();
  const jobId = useDesk((desk) => desk.jobId);
  const stock = useDesk((desk) => desk.stock);
  const saveStock = useDesk((desk) => desk.saveStock);
  const take = useDesk((desk) => desk.change);
  const { gain, measured, largest, holdSmallest, lpi } = plate.screen;
  const [reading, setReading] = useState(false);
  const key = curveKey(plate);
  const kept = stock.curves.find((each) => isCurveOf(each, key));
  const isKept = kept !== undefined && JSON.stringify(kept.tones) === JSON.stringify(measured);
  const change = (part: Partial<Plate['screen']>) =>
    take((now) => changePlates(now, [plate.id], (each) => ({ screen: { ...each.screen, ...part } })));
  const rule = useMemo(() => toneRule(sheet, plate), [sheet, plate]);
  const option = useMemo(() => {
    const film = filmToneTable(rule);
    const { toPrint } = gainCurves(rule);
    const steps = Array.from({ length: 51 }, (_, k) => k / 50);
    const line = (name: string, color: string, type: string, data: (readonly number[])[]) => ({
      name,
      type: 'line',
      showSymbol: false,
      lineStyle: { color, width: 1.5, type },
      itemStyle: { color },
      data,
    });
    return {
      animation: false,
      grid: { left: 34, right: 8, top: 8, bottom: 32 },
      tooltip: { trigger: 'axis', valueFormatter: (value: unknown) => `${Number(value).toFixed(1)} %` },
      xAxis: {
        type: 'value',
        min: 0,
        max: 100,
        name: 'wanted or on film, %',
        nameLocation: 'middle',
        nameGap: 20,
        splitLine: { show: false },
      },
      yAxis: { type: 'value', min: 0, max: 100, interval: 25 },
      series: [
        line(
          'film without compensation prints',
          '#b4532a',
          'dashed',
          steps.map((a) => [a * 100, toPrint(a) * 100]),
        ),
        line(
          'film made for it',
          '#1d1d1b',
          'solid',
          steps.map((a) => [a * 100, (film[Math.round(a * 65535)]! / 65535) * 100]),
        ),
        ...(measured
          ? [
              {
                name: 'read',
                type: 'scatter',
                symbolSize: 5,
                itemStyle: { color: '#b4532a' },
                data: measured.map(([a, b]) => [a * 100, b * 100]),
              },
            ]
          : []),
      ],
    };
  }, [rule, measured]);
  const smallest = smallestDot(lpi, smallestDotUm(plate.mesh));
  return (
    <>
      {measured ? (
        <p className="py-1">
          Measured: {measured.length} steps, 50 % prints {percent(gainCurves(rule).toPrint(0.5))} %
        </p>
      ) : (
        <>
          <TextField
            label="Gain at 50 %, %"
            value={percent(gain)}
            maxLength={4}
            check={within(0, 50)}
            onChange={(text) => change({ gain: Number(text) / 100 })}
          />
          <p className="caption">
            {gain > 0
              ? `film of ${percent(gainCurves(rule).toFilm(0.5))} % prints 50 %`
              : 'film and print are taken to be alike; 20 to 30 % is usual on cloth'}
          </p>
        </>
      )}
      <Chart label={`Tones of ${plate.ink.name} on film and in print`} option={option} />
      <p className="caption">clay: what film prints as · black: the film that is made</p>
      {!reading ? (
        <div className="mt-1 flex flex-wrap gap-2">
          <a className="plain-button" href={`/api/jobs/${jobId}/wedge?plate=${plate.id}`} download>
            Film of a step wedge
          </a>
          <button type="button" className="plain-button" onClick={() => setReading(true)}>
            Readings of a wedge …
          </button>
          {measured && (
            <button type="button" className="plain-button" onClick={() => change({ measured: null })}>
              Leave them out
            </button>
          )}
          {measured && !isKept && (
            <button
              type="button"
              className="plain-button"
              onClick={() =>
                saveStock({
                  ...stock,
                  curves: [
                    ...stock.curves.filter((each) => !isCurveOf(each, key)),
                    { ...key, tones: measured },
                  ],
                })
              }
            >
              Keep for {describeCurve(key)}
            </button>
          )}
          {!measured && kept && (
            <button type="button" className="plain-button" onClick={() => change({ measured: kept.tones })}>
              Use what {describeCurve(key)} measured
            </button>
          )}
        </div>
      ) : (
        <ReadingsForm
          label="Film and print in %, a step on each line"
          known={measured}
          onTake={(pairs) => {
            setReading(false);
            change({ measured: pairs });
          }}
          onCancel={() => setReading(false)}
        />
      )}
      <TextField
        label="Largest dot, %"
        value={percent(largest)}
        maxLength={4}
        check={within(50, 100)}
        onChange={(text) => change({ largest: Number(text) / 100 })}
      />
      <SwitchSetting
        name={`Below ${percent(smallest)} %: fewer dots of ${Math.round(smallestDotUm(plate.mesh))} µm`}
        on={holdSmallest}
        onChange={(on) => change({ holdSmallest: on })}
      />
    </>
  );
}
