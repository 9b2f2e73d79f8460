'use client';

import { ClipboardList, Shirt } from 'lucide-react';
import Link from 'next/link';
import { filmSize } from '@/core/film';
import type { JobSheet } from '@/core/sheet';
import { formatLength, trimNumber } from '@/core/units';
import { LengthField } from '../../controls/LengthField';
import { Problem } from '../../controls/Problem';
import { ChoiceSetting, SwitchSetting } from '../../controls/Setting';
import { TextField } from '../../controls/TextField';
import { useUnit } from '../../state/useStored';
import { plateOf, useDesk, useSheet } from '../desk/desk';
import { FilmPrinting } from './FilmPrinting';
import { FilmResults } from './FilmResults';
import { MediaChoice } from './MediaChoice';
import { SheetDrawing } from './SheetDrawing';
import { filmLayout } from './filmLayout';

type Film = JobSheet['film'];

/** Changes how films are made. */
export function useSetFilm(): (change: Partial<Film>) => void {
  const change = useDesk((desk) => desk.change);
  return (part) => change((sheet) => ({ ...sheet, film: { ...sheet.film, ...part } }));
}

/** The plate whose film is shown: the one that is worked on, or the first. */
export const useFilmPlate = () => useDesk((desk) => plateOf(desk) ?? desk.sheet.plates[0] ?? null);

/** What the controls below it do is seen while they are used. */
export function DrawingSection() {
  const sheet = useSheet();
  const plate = useFilmPlate();
  const { layout, problem } = filmLayout(sheet);
  return (
    <div
      data-stays
      className="sticky -top-4 z-10 -mx-4 -mt-4 space-y-2 border-b border-line bg-slip px-4 pt-4 pb-2"
    >
      {problem && <Problem report={problem} />}
      {layout && plate && <SheetDrawing sheet={sheet} layout={layout} plate={plate} />}
    </div>
  );
}

/** The newest films: their bars, their files, and the way to a printer. */
export function ResultsSection() {
  const sheet = useSheet();
  const jobId = useDesk((desk) => desk.jobId);
  const films = useDesk((desk) => desk.films);
  const cancel = useDesk((desk) => desk.cancelFilms);
  const remake = useDesk((desk) => desk.remake);
  const printers = useDesk((desk) => desk.stock.printers);
  const plate = useFilmPlate();
  const addressed = printers.filter((each) => each.uri !== '');
  return (
    <>
      <FilmResults
        jobId={jobId}
        sheet={sheet}
        films={films}
        onCancel={cancel}
        plate={plate ? { id: plate.id, name: plate.ink.name } : null}
        onRemake={remake}
      />
      {films?.state === 'done' && addressed.length > 0 && (
        <FilmPrinting
          key={films.id}
          jobId={jobId}
          filmsTaskId={films.id}
          printers={addressed}
          dpi={sheet.film.dpi}
        />
      )}
    </>
  );
}

/** The sheet of film, and where the print lies on it. */
export function SheetSection() {
  const sheet = useSheet();
  const sheets = useDesk((desk) => desk.stock.sheets);
  const [unit] = useUnit();
  const setFilm = useSetFilm();
  const { film } = sheet;
  const { layout } = filmLayout(sheet);
  return (
    <>
      <MediaChoice
        name="Size"
        label="Sheet size"
        sheets={sheets}
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
    </>
  );
}

function perMille(text: string): string | null {
  return Math.abs(Number(text)) <= 20 ? null : 'A number from -20 to 20.';
}

/** What kind of film it is, in a few words. */
export function filmState({ negative, emulsion, stretch }: Film): string {
  const stretched = stretch.x !== 0 || stretch.y !== 0 ? ', stretched' : '';
  return `${negative ? 'negative' : 'positive'}, emulsion ${emulsion}${stretched}`;
}

export function FilmSection() {
  const { film } = useSheet();
  const setFilm = useSetFilm();
  return (
    <>
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
    </>
  );
}

export function LinksSection() {
  const jobId = useDesk((desk) => desk.jobId);
  return (
    <section className="flex flex-wrap gap-2">
      <Link href={`/jobs/${jobId}/press`} className="plain-button">
        <ClipboardList aria-hidden className="size-4" /> Press sheet
      </Link>
      <Link href={`/jobs/${jobId}/approval`} className="plain-button">
        <Shirt aria-hidden className="size-4" /> For approval
      </Link>
    </section>
  );
}
