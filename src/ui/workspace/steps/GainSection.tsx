'use client';

import { useMemo, useState } from 'react';
import { smallestDotUm, toneRule } from '@/core/pipeline';
import { changePlates } from '@/core/separation';
import type { JobSheet, Plate } from '@/core/sheet';
import { filmToneTable, gainCurves, parseReadings, smallestDot } from '@/core/tone';
import { type ErrorReport, KerameusError, trimNumber } from '@/core/units';
import { Chart } from '../../controls/Chart';
import { Problem } from '../../controls/Problem';
import { SwitchSetting } from '../../controls/Setting';
import { TextField } from '../../controls/TextField';

interface Props {
  readonly sheet: JobSheet;
  readonly plate: Plate;
  readonly jobId: string;
  readonly commit: (sheet: JobSheet) => void;
}

const percent = (value: number) => trimNumber(value * 100, 1);

function within(min: number, max: number) {
  return (text: string) =>
    Number.isFinite(Number(text)) && Number(text) >= min && Number(text) <= max
      ? null
      : `A number from ${min} to ${max}.`;
}

/** What a plate's dots grow by, and what its film does about it. */
export function GainSection({ sheet, plate, jobId, commit }: Props) {
  const { gain, measured, largest, holdSmallest, lpi } = plate.screen;
  const [typing, setTyping] = useState<string | null>(null);
  const [problem, setProblem] = useState<ErrorReport | null>(null);
  const change = (part: Partial<Plate['screen']>) =>
    commit(changePlates(sheet, [plate.id], (each) => ({ screen: { ...each.screen, ...part } })));
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
  const take = () => {
    try {
      const pairs = parseReadings(typing ?? '');
      setProblem(null);
      setTyping(null);
      change({ measured: pairs.map(([film, print]): [number, number] => [film, print]) });
    } catch (thrown) {
      if (!(thrown instanceof KerameusError)) throw thrown;
      setProblem(thrown.toReport());
    }
  };
  const smallest = smallestDot(lpi, smallestDotUm(plate.mesh));
  return (
    <section>
      <h2 className="font-semibold">From film to print</h2>
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
      {typing === null ? (
        <div className="mt-1 flex flex-wrap gap-2">
          <a className="plain-button" href={`/api/jobs/${jobId}/wedge?plate=${plate.id}`} download>
            Film of a step wedge
          </a>
          <button
            type="button"
            className="plain-button"
            onClick={() =>
              setTyping((measured ?? []).map(([a, b]) => `${percent(a)} ${percent(b)}`).join('\n'))
            }
          >
            Readings of a wedge …
          </button>
          {measured && (
            <button type="button" className="plain-button" onClick={() => change({ measured: null })}>
              Leave them out
            </button>
          )}
        </div>
      ) : (
        <div className="mt-1 space-y-2">
          <label className="block">
            Film and print in %, a step on each line
            <textarea
              className="field mt-1 h-32 w-full font-mono"
              value={typing}
              placeholder={'10 19\n25 41\n50 69\n75 91'}
              onChange={(event) => setTyping(event.target.value)}
            />
          </label>
          {problem && <Problem report={problem} />}
          <div className="flex gap-2">
            <button type="button" className="plain-button" onClick={take}>
              Use them
            </button>
            <button
              type="button"
              className="plain-button"
              onClick={() => {
                setTyping(null);
                setProblem(null);
              }}
            >
              Cancel
            </button>
          </div>
        </div>
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
    </section>
  );
}
