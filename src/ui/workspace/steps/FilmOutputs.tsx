'use client';

import { NAME_FIELDS, checkNamePattern, filmBaseNames } from '@/core/film';
import { FILM_FORMATS, type JobSheet, type Stock } from '@/core/sheet';
import { KerameusError } from '@/core/units';
import { LengthField } from '../../controls/LengthField';
import { SwitchSetting } from '../../controls/Setting';
import { TextField } from '../../controls/TextField';
import { useUnit } from '../../state/useStored';
import { useDesk, useSheet } from '../desk/desk';
import { useSetFilm } from './FilmSections';
import { GangDrawing } from './GangDrawing';
import { filmLayout } from './filmLayout';
import { MediaChoice } from './MediaChoice';

const FORMAT_NAMES: Readonly<Record<(typeof FILM_FORMATS)[number], string>> = {
  pdf: 'PDF, a page for each film',
  'pdf-each': 'PDF, a file for each film',
  tiff: 'TIFF, 1 bit, a file for each film',
  png: 'PNG, 1 bit, a file for each film',
  'gang-pdf': 'PDF, films beside each other',
  'gang-tiff': 'TIFF, films beside each other',
  'tiff-screen': 'TIFF, 1 bit, nothing but the print',
  'pdf-inks': 'PDF of inks, all on one page',
  'pdf-inks-each': 'PDF of inks, a page for each',
  'tiff-inks': 'TIFF of inks',
  'png-print': 'the print, transparent PNG',
};

function patternProblem(pattern: string): string | null {
  try {
    checkNamePattern(pattern);
    return null;
  } catch (thrown) {
    if (thrown instanceof KerameusError) return `${thrown.message} ${thrown.remedy ?? ''}`;
    throw thrown;
  }
}

interface GangProps {
  readonly film: JobSheet['film'];
  readonly sheets: Stock['sheets'];
  readonly onChange: (gang: JobSheet['film']['gang']) => void;
}

/** What films that are ganged lie on. */
function GangMedia({ film, sheets, onChange }: GangProps) {
  const [unit] = useUnit();
  const { gang } = film;
  return (
    <>
      <MediaChoice
        name="On"
        label="What ganged films lie on"
        sheets={sheets}
        widthMm={gang.widthMm}
        heightMm={gang.heightMm}
        onChange={onChange}
      />
      <LengthField
        label="Its width"
        valueMm={gang.widthMm}
        unit={unit}
        minMm={25}
        maxMm={3000}
        onChange={(widthMm) => onChange({ ...gang, widthMm })}
      />
      {gang.heightMm !== null && (
        <LengthField
          label="Its height"
          valueMm={gang.heightMm}
          unit={unit}
          minMm={25}
          maxMm={3000}
          onChange={(heightMm) => onChange({ ...gang, heightMm })}
        />
      )}
    </>
  );
}

/** Which files are made, in a few words. */
export function filesState({ film }: JobSheet): string {
  return film.formats.map((format) => FORMAT_NAMES[format]).join(' · ');
}

/** Which files are made, and what they are called. */
export function FilesSection() {
  const sheet = useSheet();
  const sheets = useDesk((desk) => desk.stock.sheets);
  const set = useSetFilm();
  const { film } = sheet;
  const { layout } = filmLayout(sheet);
  const toggle = (format: (typeof FILM_FORMATS)[number], on: boolean) => {
    const formats = FILM_FORMATS.filter((each) => (each === format ? on : film.formats.includes(each)));
    if (formats.length > 0) set({ formats });
  };
  const rows = (formats: readonly (typeof FILM_FORMATS)[number][]) =>
    formats.map((format) => (
      <SwitchSetting
        key={format}
        name={FORMAT_NAMES[format]}
        on={film.formats.includes(format)}
        onChange={(on) => toggle(format, on)}
      />
    ));
  return (
    <>
      <h3 className="caption mt-1">films, exposed as they are</h3>
      {rows(['pdf', 'pdf-each', 'tiff', 'png'])}
      <h3 className="caption mt-1">films on one roll or larger sheet, with cut marks</h3>
      {rows(['gang-pdf', 'gang-tiff'])}
      {film.formats.some((format) => format === 'gang-pdf' || format === 'gang-tiff') && (
        <>
          <GangMedia film={film} sheets={sheets} onChange={(gang) => set({ gang })} />
          {layout && <GangDrawing sheet={sheet} layout={layout} />}
        </>
      )}
      <h3 className="caption mt-1">screens exposed without film</h3>
      {rows(['tiff-screen'])}
      <h3 className="caption mt-1">tones for a RIP that makes its own dots</h3>
      {rows(['pdf-inks', 'pdf-inks-each', 'tiff-inks'])}
      <h3 className="caption mt-1">for a digital printer or an approval</h3>
      {rows(['png-print'])}
      <TextField
        label="Names"
        value={film.names}
        maxLength={120}
        check={patternProblem}
        onChange={(names) => set({ names })}
      />
      <p className="caption">
        {patternProblem(film.names) === null && sheet.plates.length > 0
          ? `${filmBaseNames(sheet, sheet.plates).at(-1)!} · `
          : ''}
        {NAME_FIELDS.map((field) => `{${field}}`).join(' ')}
      </p>
    </>
  );
}
