'use client';

import { ClipboardList, Shirt } from 'lucide-react';
import Link from 'next/link';
import { type SheetLayout, filmSize, gangsOf, layoutSheet } from '@/core/film';
import type { JobSheet } from '@/core/sheet';
import { type ErrorReport, KerameusError, formatLength, trimNumber } from '@/core/units';
import type { TaskView } from '@/protocol/tasks';
import { LengthField } from '../../controls/LengthField';
import { Problem } from '../../controls/Problem';
import { ChoiceSetting, SwitchSetting } from '../../controls/Setting';
import { TextField } from '../../controls/TextField';
import { useUnit } from '../../state/useStored';
import { FilmMarks } from './FilmMarks';
import { FilmOutputs } from './FilmOutputs';
import { FilmPrinting } from './FilmPrinting';
import { FilmResults } from './FilmResults';
import { FindingList } from './FindingList';
import { MediaChoice } from './MediaChoice';
import { PrinterSection } from './PrinterSection';
import { SheetDrawing } from './SheetDrawing';
import type { StepProps } from './stepProps';

interface Props extends StepProps {
  readonly films: TaskView | null;
  readonly jobId: string;
  readonly onCancel: () => void;
  readonly onRemake: (plateId: string) => void;
}

function tryLayout(sheet: JobSheet): { layout: SheetLayout | null; problem: ErrorReport | null } {
  let layout: SheetLayout | null = null;
  try {
    layout = layoutSheet(sheet);
    gangsOf(sheet, layout, sheet.plates.length);
    return { layout, problem: null };
  } catch (thrown) {
    if (thrown instanceof KerameusError) return { layout, problem: thrown.toReport() };
    throw thrown;
  }
}

function perMille(text: string): string | null {
  return Math.abs(Number(text)) <= 20 ? null : 'A number from -20 to 20.';
}

export function FilmStep({
  sheet,
  stock,
  saveStock,
  selected,
  findings,
  onGoTo,
  commit,
  films,
  jobId,
  onCancel,
  onRemake,
}: Props) {
  const [unit] = useUnit();
  const { film } = sheet;
  const { layout, problem } = tryLayout(sheet);
  const setFilm = (change: Partial<typeof film>) => commit({ ...sheet, film: { ...film, ...change } });
  const plate = sheet.plates.find((each) => each.id === selected) ?? sheet.plates[0];
  const addressed = stock.printers.filter((each) => each.uri !== '');
  return (
    <div className="space-y-5">
      {/* What the controls below it do is seen while they are used. */}
      <div
        data-stays
        className="sticky -top-4 z-10 -mx-4 -mt-4 space-y-2 border-b border-line bg-slip px-4 pt-4 pb-2"
      >
        {problem && <Problem report={problem} />}
        {layout && plate && <SheetDrawing sheet={sheet} layout={layout} plate={plate} />}
      </div>
      <FilmResults
        jobId={jobId}
        sheet={sheet}
        films={films}
        onCancel={onCancel}
        plate={plate ? { id: plate.id, name: plate.ink.name } : null}
        onRemake={onRemake}
      />
      {films?.state === 'done' && addressed.length > 0 && (
        <FilmPrinting
          key={films.id}
          jobId={jobId}
          filmsTaskId={films.id}
          printers={addressed}
          dpi={film.dpi}
        />
      )}
      <section>
        <h2 className="font-semibold">Sheet</h2>
        <MediaChoice
          name="Size"
          label="Sheet size"
          sheets={stock.sheets}
          widthMm={film.sheetWidthMm}
          heightMm={film.sheetHeightMm}
          onChange={({ widthMm, heightMm }) => setFilm({ sheetWidthMm: widthMm, sheetHeightMm: heightMm })}
        />
        <LengthField
          label="Width"
          valueMm={film.sheetWidthMm}
          unit={unit}
          minMm={25}
          maxMm={3000}
          onChange={(sheetWidthMm) => setFilm({ sheetWidthMm })}
        />
        {film.sheetHeightMm !== null ? (
          <LengthField
            label="Height"
            valueMm={film.sheetHeightMm}
            unit={unit}
            minMm={25}
            maxMm={3000}
            onChange={(sheetHeightMm) => setFilm({ sheetHeightMm })}
          />
        ) : (
          layout && (
            <p className="caption">
              each film takes {formatLength(filmSize(layout).heightMm, unit)} of the roll
            </p>
          )
        )}
        <SwitchSetting name="Turned a quarter" on={film.turned} onChange={(turned) => setFilm({ turned })} />
        <ChoiceSetting
          name="Print"
          label="Place of the print"
          value={film.collar ? 'collar' : film.printAtMm ? 'placed' : 'centred'}
          options={[
            { value: 'centred', label: 'centred' },
            { value: 'collar', label: 'below the collar' },
            { value: 'placed', label: 'placed' },
          ]}
          onChange={(value) =>
            setFilm({
              collar: value === 'collar' ? { lineMm: 25.4, belowMm: 76.2 } : null,
              printAtMm: value === 'placed' ? { x: layout?.print.x ?? 25, y: layout?.print.y ?? 25 } : null,
            })
          }
        />
        {film.collar && (
          <>
            <LengthField
              label="Collar from the top"
              valueMm={film.collar.lineMm}
              unit={unit}
              maxMm={3000}
              onChange={(lineMm) => setFilm({ collar: { ...film.collar!, lineMm } })}
            />
            <LengthField
              label="Print below the collar"
              valueMm={film.collar.belowMm}
              unit={unit}
              maxMm={1000}
              onChange={(belowMm) => setFilm({ collar: { ...film.collar!, belowMm } })}
            />
          </>
        )}
        {film.printAtMm && !film.collar && (
          <>
            <LengthField
              label="From the left"
              valueMm={film.printAtMm.x}
              unit={unit}
              maxMm={3000}
              onChange={(x) => setFilm({ printAtMm: { ...film.printAtMm!, x } })}
            />
            <LengthField
              label="From the top"
              valueMm={film.printAtMm.y}
              unit={unit}
              maxMm={3000}
              onChange={(y) => setFilm({ printAtMm: { ...film.printAtMm!, y } })}
            />
          </>
        )}
      </section>
      <PrinterSection
        film={film}
        stock={stock}
        jobId={jobId}
        plate={plate}
        setFilm={setFilm}
        saveStock={saveStock}
      />
      <section>
        <h2 className="font-semibold">Film</h2>
        <ChoiceSetting
          name="Picture"
          label="Positive or negative"
          value={film.negative ? 'negative' : 'positive'}
          options={[
            { value: 'positive', label: 'positive' },
            { value: 'negative', label: 'negative' },
          ]}
          onChange={(value) => setFilm({ negative: value === 'negative' })}
        />
        <ChoiceSetting
          name="Emulsion"
          value={film.emulsion}
          options={[
            { value: 'up', label: 'up, right-reading' },
            { value: 'down', label: 'down, mirrored' },
          ]}
          onChange={(emulsion) => setFilm({ emulsion })}
        />
        <TextField
          label="Density of the black, D"
          value={film.density === null ? '' : trimNumber(film.density, 1)}
          maxLength={4}
          none="not told"
          check={(text) => (Number(text) >= 1 && Number(text) <= 6 ? null : 'A number from 1 to 6.')}
          onChange={(text) => setFilm({ density: text === '' ? null : Number(text) })}
        />
        <TextField
          label="Stretch across, ‰"
          value={trimNumber(film.stretch.x, 2)}
          maxLength={6}
          check={perMille}
          onChange={(text) => setFilm({ stretch: { ...film.stretch, x: Number(text) } })}
        />
        <TextField
          label="Stretch down, ‰"
          value={trimNumber(film.stretch.y, 2)}
          maxLength={6}
          check={perMille}
          onChange={(text) => setFilm({ stretch: { ...film.stretch, y: Number(text) } })}
        />
      </section>
      {plate && <FilmMarks sheet={sheet} plate={plate} commit={commit} />}
      <FilmOutputs sheet={sheet} layout={layout} sheets={stock.sheets} commit={commit} />
      <section className="flex flex-wrap gap-2">
        <Link href={`/jobs/${jobId}/press`} className="plain-button">
          <ClipboardList aria-hidden className="size-4" /> Press sheet
        </Link>
        <Link href={`/jobs/${jobId}/approval`} className="plain-button">
          <Shirt aria-hidden className="size-4" /> For approval
        </Link>
      </section>
      <FindingList findings={findings.filter((finding) => finding.code !== problem?.code)} onGoTo={onGoTo} />
    </div>
  );
}
