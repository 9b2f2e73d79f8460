import { smallestDotUm } from '@/core/pipeline';
import { changePlates } from '@/core/separation';
import { DOT_SHAPES, type Plate } from '@/core/sheet';
import { compensateGain, smallestDot } from '@/core/tone';
import { trimNumber } from '@/core/units';
import { Choice, Swatch } from '../../controls/Choice';
import { TextField } from '../../controls/TextField';
import { AllPlates } from './AllPlates';
import { FindingList } from './FindingList';
import { PlateGrid } from './PlateGrid';
import type { StepProps } from './stepProps';

const SHAPE_NAMES: Readonly<Record<Plate['screen']['shape'], string>> = {
  ellipse: 'ellipse',
  round: 'round',
  'square-round': 'round to square',
  diamond: 'diamond',
  line: 'line',
};

/** Screens of the plates: the selected one in full, and all of them in one grid. */
export function DotsStep(props: StepProps) {
  const { sheet, stock, survey, selected, findings, onGoTo, commit } = props;
  const plate = sheet.plates.find((each) => each.id === selected);
  if (!plate) return <p>No plates: nothing would print.</p>;
  const index = sheet.plates.indexOf(plate);
  const toned = survey?.plates[index]?.toned ?? 0;
  const { lpi, angleDeg, shape, gain, largest, holdSmallest } = plate.screen;
  const across = sheet.film.dpi / lpi;
  const threads = plate.mesh / lpi;
  const change = (part: Partial<Plate['screen']>, mesh = plate.mesh) =>
    commit(changePlates(sheet, [plate.id], (each) => ({ mesh, screen: { ...each.screen, ...part } })));
  const number = (min: number, max: number) => (text: string) =>
    Number.isFinite(Number(text)) && Number(text) >= min && Number(text) <= max
      ? null
      : `A number from ${min} to ${max}.`;
  return (
    <div className="space-y-5">
      <section key={plate.id}>
        <h2 className="flex items-center gap-1.5 font-semibold">
          <Swatch colour={plate.ink.colour} /> {plate.number} {plate.ink.name}
        </h2>
        <p className="caption">
          {toned > 0
            ? `dots on ${trimNumber(toned * 100, 1)} % of the print, the rest solid`
            : 'all solid: the screen is not used'}
        </p>
        <TextField
          label="Frequency, lpi"
          value={trimNumber(lpi, 1)}
          maxLength={5}
          check={number(10, Math.min(150, Math.floor(sheet.film.dpi / 4)))}
          onChange={(text) => change({ lpi: Number(text) })}
        />
        <TextField
          label="Angle, degrees"
          value={trimNumber(angleDeg, 2)}
          maxLength={7}
          check={number(-360, 360)}
          onChange={(text) => change({ angleDeg: Number(text) })}
        />
        <div className="flex items-center justify-between gap-3 py-1">
          <span>Shape</span>
          <Choice
            label="Dot shape"
            className="w-40"
            value={shape}
            options={DOT_SHAPES.map((each) => ({ value: each, label: SHAPE_NAMES[each] }))}
            onChange={(value) => change({ shape: value as Plate['screen']['shape'] })}
          />
        </div>
        <div className="flex items-center justify-between gap-3 py-1">
          <span>Mesh</span>
          <Choice
            label="Mesh"
            className="w-40"
            value={String(plate.mesh)}
            options={stock.meshes.map((each) => ({
              value: String(each.count),
              label: `${each.count}, ${each.use}`,
            }))}
            onChange={(value) => change({}, Number(value))}
          />
        </div>
        <p className="caption mt-1">
          {trimNumber(across, 1)} film dots across a cell, {Math.floor(across * across) + 1} grey levels ·{' '}
          {trimNumber(threads, 1)} threads to a cell
          {threads < 4 ? ': too coarse a mesh for this frequency' : ''}
        </p>
      </section>
      <section>
        <h2 className="font-semibold">From film to print</h2>
        <TextField
          key={`gain-${plate.id}`}
          label="Gain at 50 %, %"
          value={trimNumber(gain * 100, 1)}
          maxLength={4}
          check={number(0, 50)}
          onChange={(text) => change({ gain: Number(text) / 100 })}
        />
        <p className="caption">
          {gain > 0
            ? `film of ${trimNumber(compensateGain(0.5, gain) * 100, 0)} % prints 50 %`
            : 'film and print are taken to be alike; 20 to 30 % is usual on cloth'}
        </p>
        <TextField
          key={`largest-${plate.id}`}
          label="Largest dot, %"
          value={trimNumber(largest * 100, 1)}
          maxLength={4}
          check={number(50, 100)}
          onChange={(text) => change({ largest: Number(text) / 100 })}
        />
        <label className="flex items-center gap-2 py-1">
          <input
            type="checkbox"
            className="size-4 accent-ink"
            checked={holdSmallest}
            onChange={(event) => change({ holdSmallest: event.target.checked })}
          />
          No dot below {Math.round(smallestDotUm(plate.mesh))} µm,{' '}
          {trimNumber(smallestDot(lpi, smallestDotUm(plate.mesh)) * 100, 1)} %
        </label>
      </section>
      <section>
        <h2 className="font-semibold">All plates</h2>
        <PlateGrid
          sheet={sheet}
          stock={stock}
          selected={selected}
          onSelect={props.onSelect}
          commit={commit}
        />
        <div className="mt-2">
          <AllPlates {...props} />
        </div>
      </section>
      <FindingList findings={findings} onGoTo={onGoTo} />
    </div>
  );
}
