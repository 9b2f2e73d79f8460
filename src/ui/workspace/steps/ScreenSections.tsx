'use client';

import { useMemo, useState } from 'react';
import { adviseScreen, frequenciesFor } from '@/core/checks';
import { smallestDotUm } from '@/core/pipeline';
import { changePlates } from '@/core/separation';
import { DOT_SHAPES, type Plate, SCREENINGS } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { Swatch } from '../../controls/Choice';
import { ChoiceSetting } from '../../controls/Setting';
import { TextField } from '../../controls/TextField';
import { type DeskState, plateOf, useDesk, usePlate, useSheet } from '../desk/desk';
import { AllPlates } from './AllPlates';
import { PlateGrid } from './PlateGrid';

const SHAPE_NAMES: Readonly<Record<Plate['screen']['shape'], string>> = {
  ellipse: 'ellipse',
  round: 'round',
  'square-round': 'round to square',
  diamond: 'diamond',
  line: 'line',
};

const SCREENING_NAMES: Readonly<Record<Plate['screen']['screening'], string>> = {
  grid: 'dots on a grid',
  dispersed: 'dispersed dots',
  solid: 'solid only',
};

function within(min: number, max: number) {
  return (text: string) =>
    Number.isFinite(Number(text)) && Number(text) >= min && Number(text) <= max
      ? null
      : `A number from ${min} to ${max}.`;
}

/** Share of the print on which the plate that is worked on has dots. */
export function tonedShare(desk: Pick<DeskState, 'sheet' | 'survey' | 'selected'>): number {
  const plate = plateOf(desk);
  return (plate && desk.survey?.plates[desk.sheet.plates.indexOf(plate)]?.toned) ?? 0;
}

export function ScreenTitle() {
  const plate = usePlate();
  return (
    plate && (
      <>
        <Swatch colour={plate.ink.colour} /> {plate.number} {plate.ink.name}
      </>
    )
  );
}

/** The screen of the plate that is worked on, and what it means. */
export function ScreenSection() {
  const plate = usePlate();
  return plate ? <Screen key={plate.id} plate={plate} /> : <p>No plates: nothing would print.</p>;
}

function Screen({ plate }: { readonly plate: Plate }) {
  const { dpi } = useDesk((desk) => desk.sheet.film);
  const stock = useDesk((desk) => desk.stock);
  const toned = useDesk(tonedShare);
  const take = useDesk((desk) => desk.change);
  const { screening, lpi, angleDeg, shape, ratio, dotUm } = plate.screen;
  const advice = useMemo(() => adviseScreen(plate, dpi), [plate, dpi]);
  const suits = frequenciesFor(plate.mesh, dpi);
  const change = (part: Partial<Plate['screen']>, mesh = plate.mesh) =>
    take((now) => changePlates(now, [plate.id], (each) => ({ mesh, screen: { ...each.screen, ...part } })));
  return (
    <>
      <p className="caption">
        {toned > 0
          ? `dots on ${trimNumber(toned * 100, 1)} % of the print, the rest solid`
          : 'all solid: the screen is not used'}
      </p>
      <ChoiceSetting
        name="Tones"
        value={screening}
        options={SCREENINGS.map((each) => ({ value: each, label: SCREENING_NAMES[each] }))}
        onChange={(value) => change({ screening: value })}
      />
      {screening === 'grid' && (
        <>
          <TextField
            label="Frequency, lpi"
            value={trimNumber(lpi, 1)}
            maxLength={5}
            check={within(10, Math.min(150, Math.floor(dpi / 4)))}
            onChange={(text) => change({ lpi: Number(text) })}
          />
          <TextField
            label="Angle, degrees"
            value={trimNumber(angleDeg, 2)}
            maxLength={7}
            check={within(-360, 360)}
            onChange={(text) => change({ angleDeg: Number(text) })}
          />
          {plate.screen.interlock === null && (
            <ChoiceSetting
              name="Shape"
              label="Dot shape"
              value={shape}
              options={DOT_SHAPES.map((each) => ({ value: each, label: SHAPE_NAMES[each] }))}
              onChange={(value) => change({ shape: value })}
            />
          )}
          {shape === 'ellipse' && plate.screen.interlock === null && (
            <TextField
              label="Length to width"
              value={trimNumber(ratio, 3)}
              maxLength={5}
              check={within(1, 2)}
              onChange={(text) => change({ ratio: Number(text) })}
            />
          )}
        </>
      )}
      {screening === 'dispersed' && (
        <TextField
          label="Dot, µm"
          value={trimNumber(dotUm ?? smallestDotUm(plate.mesh), 0)}
          maxLength={4}
          check={within(20, 1000)}
          onChange={(text) => change({ dotUm: Number(text) })}
        />
      )}
      <ChoiceSetting
        name="Mesh"
        value={String(plate.mesh)}
        options={stock.meshes.map((each) => ({
          value: String(each.count),
          label: `${each.count}, ${each.use}`,
        }))}
        onChange={(value) => change({}, Number(value))}
      />
      {screening === 'grid' && (
        <p className="caption mt-1">
          {trimNumber(advice.filmDotsAcross, 1)} film dots across a cell, {advice.greys} grey levels ·{' '}
          {trimNumber(advice.threads, 1)} threads to a cell · mesh {plate.mesh} at {dpi} dpi carries{' '}
          {suits.least === suits.most ? suits.most : `${suits.least} to ${suits.most}`} lpi
        </p>
      )}
      {screening === 'grid' &&
        toned > 0 &&
        advice.warnings.map(({ message, remedy }) => (
          <p key={message} className="mt-1 text-clay-deep">
            {message} {remedy}
          </p>
        ))}
      {screening === 'dispersed' && dotUm !== null && dotUm < smallestDotUm(plate.mesh) && (
        <p className="mt-1 text-clay-deep">
          Mesh {plate.mesh} holds dots from {Math.round(smallestDotUm(plate.mesh))} µm on: smaller ones are
          lost.
        </p>
      )}
    </>
  );
}

/** All screens in one grid. */
export function AllScreensSection() {
  return (
    <>
      <PlateGrid />
      <div className="mt-2 flex flex-wrap gap-2">
        <AllPlates />
        <SuggestButton />
      </div>
    </>
  );
}

/** Angles and frequencies for all plates with dots, in one gesture. */
function SuggestButton() {
  const sheet = useSheet();
  const survey = useDesk((desk) => desk.survey);
  const pool = useDesk((desk) => desk.pool);
  const change = useDesk((desk) => desk.change);
  const [working, setWorking] = useState(false);
  if (!survey) return null;
  const count = sheet.plates.length;
  // Dots that interlock stay as they lie.
  const dotted = sheet.plates.filter(
    ({ screen }, k) => survey.plates[k]!.toned > 0 && screen.interlock === null,
  );
  if (dotted.length === 0) return null;
  const suggest = async () => {
    setWorking(true);
    try {
      const at = dotted.map((plate) => sheet.plates.indexOf(plate));
      const meet = at.flatMap((p) =>
        at.map((q) => survey.overlaps[Math.min(p, q) * count + Math.max(p, q)]?.share ?? 0),
      );
      const screens = await pool.suggest(dotted, sheet.film.dpi, meet);
      change((now) =>
        changePlates(now, [...screens.keys()], (each) => ({
          screen: { ...each.screen, ...screens.get(each.id)! },
        })),
      );
    } finally {
      setWorking(false);
    }
  };
  return (
    <button type="button" className="plain-button" disabled={working} onClick={() => void suggest()}>
      Find angles
    </button>
  );
}
