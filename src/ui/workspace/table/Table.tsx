'use client';

import { Grid2x2, LoaderCircle, SunMedium } from 'lucide-react';
import { useCallback, useEffect, useImperativeHandle, useMemo, useRef, useState } from 'react';
import type { DrawOrder, Subject, TablePool } from '@/browser';
import { clipToPrint } from '@/core/pipeline';
import type { JobSheet } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { Choice } from '../../controls/Choice';
import { useUnit } from '../../state/useStored';
import { SURROUNDINGS, type TablePlace, type ViewState } from '../../state/viewState';
import { DifferenceLegend } from './DifferenceLegend';
import { RULER_PX, Rulers } from './Rulers';
import { TableCanvas } from './TableCanvas';
import { fitPlace, printPoint, useElementSize, useTableView, viewOf, zoomAt } from './useTableView';

export interface TablePoint {
  readonly xMm: number;
  readonly yMm: number;
}

/** What keys outside the table may ask of it. */
export interface TableCommands {
  zoom(factor: number): void;
  fit(): void;
  actualSize(): void;
  actualDots(): void;
  goTo(point: TablePoint): void;
  /** Begins to draw a changed job while the page is still taking the change in. */
  anticipate(sheet: JobSheet): void;
}

interface Props {
  readonly pool: TablePool;
  /** The job on the garment that is shown. */
  readonly sheet: JobSheet;
  readonly hasOuterMap: boolean;
  readonly plateId: string | null;
  readonly view: ViewState;
  readonly onView: (change: Partial<ViewState>) => void;
  /** Whether what the table is held against is shown alone, while its key is down. */
  readonly comparing: boolean;
  readonly onPoint: (point: TablePoint | null) => void;
  /** A click without a drag. */
  readonly onPick: (point: TablePoint) => void;
  readonly commands: React.Ref<TableCommands>;
  /** Pinned places, numbered. */
  readonly pins: readonly TablePoint[];
  readonly passesTotal: number;
}

export const SUBJECT_NAMES: Readonly<Record<Subject, string>> = {
  artwork: 'Artwork',
  print: 'Print',
  film: 'Film',
  dots: 'Dots',
  difference: 'Difference',
};

/** CSS pixels are 96 to the inch. */
const ACTUAL_SCALE = 96 / 25.4;
const WHEEL_STEP = 1.0015;
/** Dots are drawn at the film's own pixels up to this many of them; beyond that the table comes nearer first. */
const MOST_DOT_PIXELS = 9e6;
/** Distances from which dots are looked at. */
const DISTANCES_M = [0, 0.5, 1, 2, 4];
/** A pointer that moved less than this between down and up has clicked. */
const CLICK_PX = 4;

/** The big viewer: the predicted print, the artwork, one plate as film, dots, or the difference from the artwork. */
export function Table(props: Props) {
  const { sheet, view, onView, pool, hasOuterMap, plateId, comparing, onPoint, onPick, commands, pins } =
    props;
  const { subject, against, wipe } = view;
  const [unit] = useUnit();
  const [attach, size] = useElementSize();
  const box = useRef<HTMLDivElement | null>(null);
  const [pointer, setPointer] = useState<TablePoint | null>(null);
  const [dragging, setDragging] = useState<TablePlace | null>(null);
  const { widthMm, heightMm } = sheet.print;
  const fitted = useMemo(
    () => (size.width > 0 ? fitPlace({ print: { widthMm, heightMm } }, size) : null),
    [widthMm, heightMm, size],
  );
  const place = dragging ?? view.place ?? fitted;
  const across = heightMm > widthMm;

  const change = useCallback(
    (next: (place: TablePlace) => TablePlace) => {
      const from = view.place ?? fitted;
      if (from) onView({ place: next(from) });
    },
    [view.place, fitted, onView],
  );
  const zoom = useCallback(
    (factor: number, x = size.width / 2, y = size.height / 2) =>
      change((from) => zoomAt(from, size, factor, x, y)),
    [change, size],
  );

  const ordersOf = useCallback(
    (shown: JobSheet): DrawOrder[] | null => {
      if (!place || size.width === 0 || size.height === 0) return null;
      const window = viewOf(place, size);
      const order = (what: Subject): DrawOrder => ({
        sheet: shown,
        hasOuterMap,
        subject: what === 'dots' && tooFarForDots(shown, window) ? 'print' : what,
        surround: view.surround,
        plateId,
        lifted: view.lifted,
        passes: view.passes,
        awayM: view.awayM,
        view: window,
      });
      if (comparing) return [order(against)];
      return wipe === null ? [order(subject)] : [order(subject), order(against)];
    },
    [
      place,
      size,
      hasOuterMap,
      view.surround,
      plateId,
      view.lifted,
      view.passes,
      view.awayM,
      subject,
      against,
      wipe,
      comparing,
    ],
  );
  const orders = useMemo(() => ordersOf(sheet), [ordersOf, sheet]);
  const { shown, busy, failure } = useTableView(pool, orders);

  const able = useMemo(
    (): TableCommands => ({
      zoom,
      fit: () => onView({ place: null }),
      actualSize: () => change((from) => ({ ...from, scale: ACTUAL_SCALE })),
      actualDots: () => change((from) => ({ ...from, scale: sheet.film.dpi / 25.4 })),
      goTo: (point) =>
        change((from) => ({ centreXMm: point.xMm, centreYMm: point.yMm, scale: Math.max(from.scale, 12) })),
      anticipate: (next) => {
        const early = ordersOf(next);
        // The table itself asks for the same and says what went wrong.
        if (early) void pool.draw(early).catch(() => undefined);
      },
    }),
    [zoom, change, onView, sheet.film.dpi, ordersOf, pool],
  );
  useImperativeHandle(commands, () => able, [able]);

  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      const bounds = element.getBoundingClientRect();
      zoom(WHEEL_STEP ** -event.deltaY, event.clientX - bounds.left, event.clientY - bounds.top);
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [zoom]);

  const drag = useRef<{ x: number; y: number; place: TablePlace; moved: boolean } | null>(null);
  const pointOf = (event: React.PointerEvent): TablePoint | null => {
    if (!place || !box.current) return null;
    const bounds = box.current.getBoundingClientRect();
    return printPoint(place, size, event.clientX - bounds.left, event.clientY - bounds.top);
  };
  const panBy = (dx: number, dy: number) =>
    change((from) => ({
      ...from,
      centreXMm: from.centreXMm - dx / from.scale,
      centreYMm: from.centreYMm - dy / from.scale,
    }));

  const onKeyDown = (event: React.KeyboardEvent) => {
    const step = event.shiftKey ? 160 : 40;
    const moves: Readonly<Record<string, () => void>> = {
      ArrowLeft: () => panBy(step, 0),
      ArrowRight: () => panBy(-step, 0),
      ArrowUp: () => panBy(0, step),
      ArrowDown: () => panBy(0, -step),
    };
    if (event.target !== event.currentTarget) return;
    const move = moves[event.key];
    if (!move || event.ctrlKey || event.metaKey || event.altKey) return;
    event.preventDefault();
    move();
  };

  const dotsFar =
    place !== null && subject === 'dots' && size.width > 0 && tooFarForDots(sheet, viewOf(place, size));
  return (
    <div className="relative min-h-0 min-w-0 flex-1 overflow-hidden bg-table">
      <Rulers place={place} size={size} unit={unit} pointer={pointer} />
      <div
        ref={(element) => {
          box.current = element;
          attach(element);
        }}
        className="absolute right-0 bottom-0 touch-none overflow-hidden focus-visible:outline-offset-[-3px]"
        style={{ left: RULER_PX, top: RULER_PX }}
        tabIndex={0}
        role="application"
        aria-label="Table: arrow keys move it, the question mark lists all keys"
        onKeyDown={onKeyDown}
        onPointerDown={(event) => {
          if ((event.target as HTMLElement).tagName !== 'CANVAS' || !place) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          drag.current = { x: event.clientX, y: event.clientY, place, moved: false };
        }}
        onPointerMove={(event) => {
          const held = drag.current;
          if (!held) {
            const point = pointOf(event);
            setPointer(point);
            onPoint(point);
            return;
          }
          const dx = event.clientX - held.x;
          const dy = event.clientY - held.y;
          if (!held.moved && Math.hypot(dx, dy) < CLICK_PX) return;
          held.moved = true;
          setDragging({
            ...held.place,
            centreXMm: held.place.centreXMm - dx / held.place.scale,
            centreYMm: held.place.centreYMm - dy / held.place.scale,
          });
        }}
        onPointerUp={(event) => {
          const held = drag.current;
          drag.current = null;
          if (held?.moved && dragging) onView({ place: dragging });
          else if (held) {
            const point = pointOf(event);
            if (point) onPick(point);
          }
          setDragging(null);
        }}
        onPointerLeave={() => {
          setPointer(null);
          onPoint(null);
        }}
      >
        <TableCanvas
          shown={shown}
          place={place}
          size={size}
          surround={view.surround}
          wipe={comparing ? null : wipe}
          across={across}
        />
        {place &&
          pins.map((pin, index) => {
            const x = (pin.xMm - place.centreXMm) * place.scale + size.width / 2;
            const y = (pin.yMm - place.centreYMm) * place.scale + size.height / 2;
            return (
              <span
                key={`${pin.xMm}/${pin.yMm}`}
                className="pointer-events-none absolute grid size-5 -translate-1/2 place-items-center rounded-full border border-ink bg-white text-[11px] font-semibold"
                style={{ left: x, top: y }}
              >
                {index + 1}
              </span>
            );
          })}
        {wipe !== null && !comparing && (
          <WipeBar at={wipe} across={across} size={size} onMove={(at) => onView({ wipe: at })} />
        )}
        <Toolbar {...props} across={across} />
        <div className="absolute top-3 right-3 flex items-center gap-1.5">
          {busy && (
            <LoaderCircle
              aria-label="Drawing"
              className="size-4 animate-spin text-white mix-blend-difference"
            />
          )}
          <span className="border border-line bg-white px-2 py-1" data-testid="zoom">
            {place ? trimNumber((place.scale / ACTUAL_SCALE) * 100, 0) : '–'} %
          </span>
          <button type="button" className="plain-button" onClick={() => able.fit()}>
            Fit
          </button>
          <button type="button" className="plain-button" onClick={() => able.actualSize()}>
            Actual size
          </button>
          <button
            type="button"
            className="plain-button"
            aria-label="Actual dots"
            title="Actual dots: a film pixel for each of the screen's"
            onClick={() => able.actualDots()}
          >
            <Grid2x2 aria-hidden className="size-4" />
          </button>
          <button
            type="button"
            className="plain-button"
            aria-label={`Surround: ${view.surround}`}
            title="Surround: light, middle, dark"
            onClick={() => {
              const next = (SURROUNDINGS.indexOf(view.surround) + 1) % SURROUNDINGS.length;
              onView({ surround: SURROUNDINGS[next]! });
            }}
          >
            <SunMedium aria-hidden className="size-4" />
          </button>
        </div>
        {subject === 'difference' && !comparing && <DifferenceLegend />}
        <Notices {...props} dotsFar={dotsFar} onDots={able.actualDots} />
        {failure && (
          <p role="alert" className="absolute inset-x-3 bottom-3 border border-clay bg-white px-3 py-2">
            The table cannot be drawn: {failure} The job itself is safe.
          </p>
        )}
        {shown && <span hidden data-testid="table-settled" data-busy={busy} data-drawn={shown.number} />}
      </div>
    </div>
  );
}

function tooFarForDots(sheet: JobSheet, window: ReturnType<typeof viewOf>): boolean {
  const part = clipToPrint(sheet, window);
  if (!part) return false;
  const perPixel = sheet.film.dpi / 25.4 / window.scale;
  return part.view.width * part.view.height * perPixel * perPixel > MOST_DOT_PIXELS;
}

function Toolbar({ view, onView, across }: Props & { readonly across: boolean }) {
  const { subject, against, wipe } = view;
  return (
    <div className="absolute top-3 left-3 flex flex-wrap items-start gap-1.5">
      <div className="flex border border-line bg-white" role="radiogroup" aria-label="What the table shows">
        {(Object.keys(SUBJECT_NAMES) as Subject[]).map((each) => (
          <button
            key={each}
            type="button"
            role="radio"
            aria-checked={subject === each}
            onClick={() => onView({ subject: each })}
            className={`px-2.5 py-1 ${subject === each ? 'bg-ink text-white' : 'hover:bg-slip-deep'}`}
          >
            {SUBJECT_NAMES[each]}
          </button>
        ))}
      </div>
      {subject === 'dots' && (
        <Choice
          label="Dots seen from"
          className="w-32"
          value={String(view.awayM)}
          options={DISTANCES_M.map((each) => ({
            value: String(each),
            label: each === 0 ? 'close up' : `from ${each} m`,
          }))}
          onChange={(value) => onView({ awayM: Number(value) })}
        />
      )}
      <div className="flex">
        <button
          type="button"
          aria-pressed={wipe !== null}
          onClick={() => onView({ wipe: wipe === null ? 0.5 : null })}
          className={`border border-line px-2.5 py-1 ${wipe === null ? 'bg-white hover:bg-slip-deep' : 'bg-ink text-white'}`}
        >
          Wipe {across ? '↕' : '↔'}
        </button>
        {wipe !== null && (
          <Choice
            label="What the wipe uncovers"
            className="w-28 rounded-none border-l-0"
            value={against}
            options={(Object.keys(SUBJECT_NAMES) as Subject[])
              .filter((each) => each !== subject)
              .map((each) => ({ value: each, label: SUBJECT_NAMES[each] }))}
            onChange={(value) => onView({ against: value as Subject })}
          />
        )}
      </div>
    </div>
  );
}

interface WipeProps {
  readonly at: number;
  readonly across: boolean;
  readonly size: { readonly width: number; readonly height: number };
  readonly onMove: (at: number) => void;
}

/** The line of the wipe; dragged, or moved by arrow keys. */
function WipeBar({ at, across, size, onMove }: WipeProps) {
  const clamp = (value: number) => Math.min(1, Math.max(0, value));
  const style = across ? { top: at * size.height - 6 } : { left: at * size.width - 6 };
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="Wipe"
      aria-valuenow={Math.round(at * 100)}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-orientation={across ? 'vertical' : 'horizontal'}
      className={`absolute grid place-items-center ${across ? 'inset-x-0 h-3 cursor-row-resize' : 'inset-y-0 w-3 cursor-col-resize'}`}
      style={style}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={(event) => {
        if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
        const bounds = event.currentTarget.parentElement!.getBoundingClientRect();
        onMove(
          clamp(
            across
              ? (event.clientY - bounds.top) / bounds.height
              : (event.clientX - bounds.left) / bounds.width,
          ),
        );
      }}
      onKeyDown={(event) => {
        const by = { ArrowLeft: -0.02, ArrowUp: -0.02, ArrowRight: 0.02, ArrowDown: 0.02 }[event.key];
        if (by === undefined) return;
        event.preventDefault();
        event.stopPropagation();
        onMove(clamp(at + by));
      }}
    >
      <span className={`border border-ink/40 bg-white ${across ? 'h-[3px] w-full' : 'h-full w-[3px]'}`} />
    </div>
  );
}

interface NoticesProps extends Props {
  readonly dotsFar: boolean;
  readonly onDots: () => void;
}

/** What the table must say of itself, so that nothing on it is taken for what it is not. */
function Notices({ sheet, view, onView, comparing, passesTotal, dotsFar, onDots }: NoticesProps) {
  const half = view.passes !== null && view.passes < passesTotal;
  const line = 'flex items-center gap-3 border border-ink bg-white px-3 py-1';
  return (
    <div
      className="absolute bottom-3 left-1/2 flex -translate-x-1/2 flex-col items-center gap-1.5"
      role="status"
    >
      {comparing && <p className={line}>{SUBJECT_NAMES[view.against]}, while the key is held</p>}
      {half && view.subject !== 'film' && view.subject !== 'artwork' && (
        <p className={line}>
          The print after {view.passes} of {passesTotal} screens
          <button type="button" className="underline" onClick={() => onView({ passes: null })}>
            print all
          </button>
        </p>
      )}
      {view.lifted.length > 0 && (view.subject === 'print' || view.subject === 'dots') && (
        <p className={line}>
          {view.lifted.length === 1 ? '1 plate is lifted' : `${view.lifted.length} plates are lifted`}
          <button type="button" className="underline" onClick={() => onView({ lifted: [] })}>
            lay all down
          </button>
        </p>
      )}
      {view.shownGarment !== null && (
        <p className={line}>Shown on {sheet.garment.name}; the plates are made for another garment</p>
      )}
      {dotsFar && (
        <p className={line}>
          From here dots blend into tone
          <button type="button" className="underline" onClick={onDots}>
            go to the dots
          </button>
        </p>
      )}
    </div>
  );
}
