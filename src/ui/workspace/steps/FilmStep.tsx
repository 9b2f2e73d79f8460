'use client';

import { ClipboardList, Download, LoaderCircle, Shirt } from 'lucide-react';
import Link from 'next/link';
import { type SheetLayout, filmBaseName, layoutSheet } from '@/core/film';
import { type JobSheet, LIMITS } from '@/core/sheet';
import { type ErrorReport, KerameusError, MM_PER_INCH } from '@/core/units';
import type { TaskView } from '@/protocol/tasks';
import { Choice } from '../../controls/Choice';
import { LengthField } from '../../controls/LengthField';
import { Problem } from '../../controls/Problem';
import { TextField } from '../../controls/TextField';
import { useUnit } from '../../state/useStored';
import { FindingList } from './FindingList';
import { SheetDrawing } from './SheetDrawing';
import type { StepProps } from './stepProps';

interface Props extends StepProps {
  readonly films: TaskView | null;
  /** Version of the job on the page. */
  readonly version: number;
  readonly jobId: string;
  readonly onCancel: () => void;
}

const TYPED = 'typed';

function tryLayout(sheet: JobSheet): { layout: SheetLayout | null; problem: ErrorReport | null } {
  try {
    return { layout: layoutSheet(sheet), problem: null };
  } catch (thrown) {
    if (thrown instanceof KerameusError) return { layout: null, problem: thrown.toReport() };
    throw thrown;
  }
}

export function FilmStep({
  sheet,
  stock,
  selected,
  findings,
  onGoTo,
  commit,
  films,
  version,
  jobId,
  onCancel,
}: Props) {
  const [unit] = useUnit();
  const { film } = sheet;
  const { layout, problem } = tryLayout(sheet);
  const known = stock.sheets.find(
    (each) =>
      Math.abs(each.widthMm - film.sheetWidthMm) < 0.01 &&
      Math.abs(each.heightMm - film.sheetHeightMm) < 0.01,
  );
  const setFilm = (change: Partial<typeof film>) => commit({ ...sheet, film: { ...film, ...change } });
  const plate = sheet.plates.find((each) => each.id === selected) ?? sheet.plates[0];
  return (
    <div className="space-y-5">
      <section>
        <h2 className="font-semibold">Sheet</h2>
        <div className="mt-1 flex items-center justify-between gap-3">
          <span>Size</span>
          <Choice
            label="Sheet size"
            className="w-36"
            value={known?.name ?? TYPED}
            options={[
              ...stock.sheets.map((each) => ({ value: each.name, label: each.name })),
              ...(known ? [] : [{ value: TYPED, label: 'typed' }]),
            ]}
            onChange={(name) => {
              const chosen = stock.sheets.find((each) => each.name === name);
              if (chosen) setFilm({ sheetWidthMm: chosen.widthMm, sheetHeightMm: chosen.heightMm });
            }}
          />
        </div>
        <LengthField
          label="Width"
          valueMm={film.sheetWidthMm}
          unit={unit}
          minMm={25}
          maxMm={3000}
          onChange={(sheetWidthMm) => setFilm({ sheetWidthMm })}
        />
        <LengthField
          label="Height"
          valueMm={film.sheetHeightMm}
          unit={unit}
          minMm={25}
          maxMm={3000}
          onChange={(sheetHeightMm) => setFilm({ sheetHeightMm })}
        />
        <div className="flex items-center justify-between gap-3 py-1">
          <span>Print</span>
          <Choice
            label="Place of the print"
            className="w-36"
            value={film.printAtMm ? 'placed' : 'centred'}
            options={[
              { value: 'centred', label: 'centred' },
              { value: 'placed', label: 'placed' },
            ]}
            onChange={(value) =>
              setFilm({
                printAtMm:
                  value === 'centred' ? null : { x: layout?.print.x ?? 25, y: layout?.print.y ?? 25 },
              })
            }
          />
        </div>
        {film.printAtMm && (
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
        <div className="flex items-center justify-between gap-3 py-1">
          <span>Film printer</span>
          <Choice
            label="Film printer"
            className="w-44"
            value={stock.printers.find((each) => each.dpi === film.dpi)?.name ?? ''}
            options={stock.printers.map((each) => ({
              value: each.name,
              label: `${each.name}, ${each.dpi} dpi`,
            }))}
            onChange={(name) => setFilm({ dpi: stock.printers.find((each) => each.name === name)!.dpi })}
          />
        </div>
        <TextField
          label="Film resolution, dpi"
          value={String(film.dpi)}
          maxLength={4}
          check={(text) =>
            /^\d+$/.test(text) && Number(text) >= LIMITS.minDpi && Number(text) <= LIMITS.maxDpi
              ? null
              : `A whole number from ${LIMITS.minDpi} to ${LIMITS.maxDpi}.`
          }
          onChange={(text) => setFilm({ dpi: Number(text) })}
        />
      </section>
      <section>
        <h2 className="font-semibold">Film</h2>
        <div className="flex items-center justify-between gap-3 py-1">
          <span>Picture</span>
          <Choice
            label="Positive or negative"
            className="w-44"
            value={film.negative ? 'negative' : 'positive'}
            options={[
              { value: 'positive', label: 'positive' },
              { value: 'negative', label: 'negative' },
            ]}
            onChange={(value) => setFilm({ negative: value === 'negative' })}
          />
        </div>
        <div className="flex items-center justify-between gap-3 py-1">
          <span>Emulsion</span>
          <Choice
            label="Emulsion"
            className="w-44"
            value={film.emulsion}
            options={[
              { value: 'up', label: 'up, right-reading' },
              { value: 'down', label: 'down, mirrored' },
            ]}
            onChange={(value) => setFilm({ emulsion: value as 'up' | 'down' })}
          />
        </div>
        <label className="flex items-center gap-2 py-1">
          <input
            type="checkbox"
            className="size-4 accent-ink"
            checked={film.marks}
            onChange={(event) => setFilm({ marks: event.target.checked })}
          />
          Registration marks
        </label>
        <label className="flex items-center gap-2 py-1">
          <input
            type="checkbox"
            className="size-4 accent-ink"
            checked={film.label}
            onChange={(event) => setFilm({ label: event.target.checked })}
          />
          Label
        </label>
      </section>
      {problem && <Problem report={problem} />}
      {layout && plate && <SheetDrawing sheet={sheet} layout={layout} plate={plate} />}
      <Films films={films} sheet={sheet} version={version} onCancel={onCancel} />
      {!films && (
        <section>
          <h2 className="font-semibold">Files</h2>
          <ol className="caption mt-1">
            {sheet.plates.map((each) => (
              <li key={each.id}>{filmBaseName(each)}.tif</li>
            ))}
            <li>films.pdf, {sheet.plates.length} pages</li>
          </ol>
        </section>
      )}
      <section className="flex flex-wrap gap-2">
        <Link href={`/jobs/${jobId}/press`} className="plain-button">
          <ClipboardList aria-hidden className="size-4" /> Press sheet
        </Link>
        <Link href={`/jobs/${jobId}/approval`} className="plain-button">
          <Shirt aria-hidden className="size-4" /> For approval
        </Link>
      </section>
      <FindingList findings={findings.filter((finding) => finding.code !== problem?.code)} onGoTo={onGoTo} />
      <p className="caption">
        Tints and soft transitions print at {sheet.plates[0]?.screen.lpi ?? 45} lpi,{' '}
        {sheet.plates[0]?.screen.angleDeg ?? 22.5}°; dot gain is not compensated. Sheet{' '}
        {(film.sheetWidthMm / MM_PER_INCH).toFixed(2)} × {(film.sheetHeightMm / MM_PER_INCH).toFixed(2)} in.
      </p>
    </div>
  );
}

interface FilmsProps {
  readonly films: TaskView | null;
  readonly sheet: JobSheet;
  readonly version: number;
  readonly onCancel: () => void;
}

function size(bytes: number): string {
  return bytes > 1e6 ? `${(bytes / 1e6).toFixed(1)} MB` : `${Math.ceil(bytes / 1e3)} kB`;
}

/** The newest film set: its bars while it is made, its files when it is done. */
function Films({ films, version, onCancel }: FilmsProps) {
  if (!films) return null;
  if (films.state === 'failed' && films.error) return <Problem report={films.error} />;
  if (films.state === 'cancelled') return <p role="status">The films were cancelled; nothing was kept.</p>;
  if (films.state !== 'done') {
    return (
      <section aria-live="polite">
        <div className="flex items-center justify-between">
          <h2 className="flex items-center gap-1.5 font-semibold">
            <LoaderCircle aria-hidden className="size-4 animate-spin" />
            {films.progress?.step ?? 'Waiting for the worker'}
          </h2>
          <button type="button" className="plain-button" onClick={onCancel}>
            Cancel
          </button>
        </div>
        <ul className="mt-2 space-y-1">
          {films.progress?.items.map((item) => (
            <li key={item.name} className="flex items-center gap-2">
              <span className="w-28 truncate">{item.name}</span>
              <progress
                className="h-1.5 flex-1 accent-clay"
                value={item.done}
                max={1}
                aria-label={`Film ${item.name}`}
              />
              <span className="w-9 text-right text-xs">{Math.round(item.done * 100)} %</span>
            </li>
          ))}
        </ul>
      </section>
    );
  }
  return (
    <section>
      <h2 className="font-semibold">Films</h2>
      {films.version !== version && <p className="text-clay-deep">Made from an older state of the job.</p>}
      <ul className="mt-1 divide-y divide-slip-deep">
        {films.files.map((file) => (
          <li key={file.name}>
            <a
              href={`/api/tasks/${films.id}/files/${encodeURIComponent(file.name)}`}
              download={file.name}
              className="flex items-center gap-2 py-1 hover:underline"
            >
              <Download aria-hidden className="size-4" />
              <span className="flex-1 truncate">{file.name}</span>
              <span className="caption">{size(file.size)}</span>
            </a>
          </li>
        ))}
      </ul>
      {films.result?.seconds !== undefined && (
        <p className="caption mt-1">made in {films.result.seconds.toFixed(1)} s</p>
      )}
    </section>
  );
}
