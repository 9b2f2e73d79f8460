'use client';

import { useEffect, useMemo, useState } from 'react';
import type { TablePool } from '@/browser';
import { type MoirePoint, beatsOfPlates, describeBeat, riskWithMesh, shows } from '@/core/checks';
import type { Plate } from '@/core/sheet';
import { Chart } from '../../controls/Chart';
import { ChoiceSetting } from '../../controls/Setting';
import { useDesk, usePlate, useSheet } from '../desk/desk';

const INK = '#1d1d1b';
const CLAY = '#b4532a';

function useCurve(
  pool: TablePool,
  plate: Plate,
  others: readonly Plate[],
  by: 'angle' | 'lpi',
  dpi: number,
): readonly MoirePoint[] | null {
  const key = JSON.stringify([plate.mesh, plate.screen, others.map(({ screen }) => screen), by, dpi]);
  const [made, setMade] = useState<{ key: string; points: readonly MoirePoint[] } | null>(null);
  useEffect(() => {
    let gone = false;
    pool
      .moire(plate, others, by, dpi)
      .then((points) => !gone && setMade({ key, points }))
      .catch(() => undefined);
    return () => {
      gone = true;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the key holds what the curve depends on
  }, [pool, key]);
  return made?.points ?? null;
}

/** Which patterns the selected plate makes with its mesh and with the other plates, over its angle or its frequency. */
export function MoireSection() {
  const plate = usePlate();
  return plate && <Patterns plate={plate} />;
}

function Patterns({ plate }: { readonly plate: Plate }) {
  const sheet = useSheet();
  const survey = useDesk((desk) => desk.survey);
  const pool = useDesk((desk) => desk.pool);
  // Plates that have dots where this one has.
  const others = useMemo(() => {
    const index = sheet.plates.indexOf(plate);
    const count = sheet.plates.length;
    return sheet.plates.filter((_, k) => {
      const [p, q] = [Math.min(k, index), Math.max(k, index)];
      return k !== index && (survey?.overlaps[p * count + q]?.share ?? 0) > 0;
    });
  }, [sheet, plate, survey]);
  const [by, setBy] = useState<'angle' | 'lpi'>('angle');
  const { lpi, angleDeg } = plate.screen;
  const points = useCurve(pool, plate, others, by, sheet.film.dpi);
  const risk = useMemo(() => riskWithMesh({ lpi, angleDeg }, plate.mesh), [lpi, angleDeg, plate.mesh]);
  const withPlates = useMemo(
    () => beatsOfPlates([plate, ...others], () => true).filter(({ plates }) => plates.includes(plate)),
    [plate, others],
  );
  const now = by === 'angle' ? ((angleDeg % 90) + 90) % 90 : lpi;
  const option = useMemo(() => {
    const line = (name: string, colour: string, of: (point: MoirePoint) => number) => ({
      name,
      type: 'line',
      showSymbol: false,
      lineStyle: { color: colour, width: 1.5 },
      itemStyle: { color: colour },
      data: (points ?? []).map((point) => [point.at, of(point) * 100]),
    });
    return {
      animation: false,
      grid: { left: 34, right: 8, top: 8, bottom: 32 },
      tooltip: {
        trigger: 'axis',
        valueFormatter: (value: unknown) => `${Number(value).toFixed(0)} %`,
      },
      xAxis: {
        type: 'value',
        min: 'dataMin',
        max: 'dataMax',
        name: by === 'angle' ? 'angle, °' : 'frequency, lpi',
        nameLocation: 'middle',
        nameGap: 20,
        splitLine: { show: false },
      },
      yAxis: { type: 'value', min: 0, max: 100, interval: 25 },
      series: [
        {
          ...line('with the mesh', CLAY, ({ mesh }) => mesh),
          markLine: {
            symbol: 'none',
            silent: true,
            label: { show: false },
            lineStyle: { color: INK, type: 'solid' },
            data: [{ xAxis: now }],
          },
        },
        ...(others.length > 0 ? [line('with other plates', '#2f6f7a', ({ plates }) => plates)] : []),
      ],
    };
  }, [points, by, now, others.length]);
  return (
    <>
      <p>
        With mesh {plate.mesh}:{' '}
        {risk.worst && risk.share > 0
          ? `shows on ${Math.round(risk.share * 100)} % of meshes as they come, ${describeBeat(risk.worst)} at worst`
          : 'none that shows'}
      </p>
      {withPlates.slice(0, 2).map(({ plates, beat }) => (
        <p key={plates.map(({ id }) => id).join()}>
          With{' '}
          {plates
            .filter((each) => each !== plate)
            .map(({ ink }) => ink.name)
            .join(' and ')}
          : {describeBeat(beat)}, {shows(beat) ? 'shows' : 'too weak to show'}
        </p>
      ))}
      <ChoiceSetting
        name="Over"
        label="Patterns over"
        value={by}
        options={[
          { value: 'angle', label: 'the angle' },
          { value: 'lpi', label: 'the frequency' },
        ]}
        onChange={setBy}
      />
      <Chart
        label={`Patterns of ${plate.ink.name} over its ${by === 'angle' ? 'angle' : 'frequency'}`}
        option={option}
      />
      <p className="caption">
        clay: meshes, up to 4 % and 1° off, on which a pattern shows, %
        {others.length > 0 ? ' · blue: other plates with which one shows, %' : ''}
      </p>
    </>
  );
}
