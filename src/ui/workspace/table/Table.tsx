'use client';

import { Grid2x2, LoaderCircle, SunMedium } from 'lucide-react';
import {
  useCallback,
  useEffect,
  useImperativeHandle,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
} from 'react';
import type { DrawOrder, Subject, TablePool } from '@/browser';
import { clipToPrint } from '@/core/pipeline';
import { type JobGarment, type JobSheet, fullToneLayer } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { useUnit } from '../../state/useStored';
import { SURROUNDINGS, type TablePlace, type ViewState } from '../../state/viewState';
import { DifferenceLegend } from './DifferenceLegend';
import { OutlineCorners } from './OutlineCorners';
import { RULER_PX, Rulers } from './Rulers';
import { TableNotices } from './TableNotices';
import { ReasonsLegend } from './ReasonsLegend';
import { subjectIn, subjectsOf } from './subjects';
import { TableToolbar } from './TableToolbar';
import { WipeBar } from './WipeBar';
import { fitPlace, printPoint, viewOf, zoomAt } from './tablePlace';
import type { Grip } from '../desk/desk';
import { TableSurface } from './tableSurface';
import { useElementSize, useTableView } from './useTableView';

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
  /** @param close at the film's own pixels. */
  goTo(point: TablePoint, close?: boolean): void;
  /** Begins to draw what comes next while the page is still taking the change in. */
  anticipate(next: Partial<Coming>): void;
}

/** What the table shows of a job. */
interface Coming {
  readonly sheet: JobSheet;
  readonly view: ViewState;
  readonly plateId: string | null;
}

interface Props {
  readonly pool: TablePool;
  readonly sheet: JobSheet;
  /** The garment of the job that the print is shown on. */
  readonly garment: JobGarment;
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
  /** Corners of an outline that is being clicked; null where none is. */
  readonly corners: readonly TablePoint[] | null;
  /** Closes that outline; null where it has too few corners. */
  readonly onClose: (() => void) | null;
  readonly passesTotal: number;
  /** What a drag moves; null: the table. */
  readonly grip: Pick<Grip, 'move' | 'drop'> | null;
}

/** CSS pixels are 96 to the inch. */
const ACTUAL_SCALE = 96 / 25.4;
const WHEEL_STEP = 1.0015;
/** Dots are drawn at the film's own pixels up to this many of them; beyond that the table comes nearer first. */
const MOST_DOT_PIXELS = 9e6;
/** A pointer that moved less than this between down and up has clicked. */
const CLICK_PX = 4;

/** The big viewer: the predicted print, the artwork, one plate as film, dots, or the difference from the artwork. */
export function Table(props: Props) {
  const {
    sheet,
    garment,
    view,
    onView,
    pool,
    hasOuterMap,
    plateId,
    comparing,
    onPoint,
    onPick,
    commands,
    pins,
  } = props;
  const subject = subjectIn(sheet, view.subject);
  const { wipe } = view;
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
    (coming: Coming): DrawOrder[] | null => {
      const at = dragging ?? coming.view.place ?? fitted;
      if (!at || size.width === 0 || size.height === 0) return null;
      const { subject: what, against: other, wipe: line } = coming.view;
      const window = viewOf(at, size);
      const order = (each: Subject): DrawOrder => ({
        sheet: coming.sheet,
        garment,
        hasOuterMap,
        subject: each === 'dots' && tooFarForDots(coming.sheet, window) ? 'print' : each,
        surround: coming.view.surround,
        plateId: coming.plateId,
        lifted: coming.view.lifted,
        shifts: coming.view.shifts,
        passes: coming.view.passes,
        awayM: coming.view.awayM,
        view: window,
      });
      if (comparing) return [order(other)];
      return line === null ? [order(what)] : [order(what), order(other)];
    },
    [dragging, fitted, size, hasOuterMap, comparing, garment],
  );
  const orders = useMemo(() => ordersOf({ sheet, view, plateId }), [ordersOf, sheet, view, plateId]);
  const [surface] = useState(() => new TableSurface());
  const { attach: attachCanvas, attachSign } = surface;
  const failure = useTableView(pool, surface, orders);
  useLayoutEffect(() => {
    const { surround } = view;
    surface.arrange({ place, size, surround, wipe: comparing ? null : wipe, across });
  }, [surface, place, size, view, wipe, comparing, across]);

  const able = useMemo(
    (): TableCommands => ({
      zoom,
      fit: () => onView({ place: null }),
      actualSize: () => change((from) => ({ ...from, scale: ACTUAL_SCALE })),
      actualDots: () => change((from) => ({ ...from, scale: sheet.film.dpi / 25.4 })),
      goTo: (point, close = false) =>
        change((from) => ({
          centreXMm: point.xMm,
          centreYMm: point.yMm,
          scale: Math.max(from.scale, close ? sheet.film.dpi / 25.4 : 12),
        })),
      anticipate: (next) => {
        const early = ordersOf({ sheet, view, plateId, ...next });
        // The table itself asks for the same and says what went wrong.
        if (early) void pool.draw(early).catch(() => undefined);
      },
    }),
    [zoom, change, onView, sheet, view, plateId, ordersOf, pool],
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
          if (props.grip) {
            props.grip.move(dx / held.place.scale, dy / held.place.scale);
            return;
          }
          setDragging({
            ...held.place,
            centreXMm: held.place.centreXMm - dx / held.place.scale,
            centreYMm: held.place.centreYMm - dy / held.place.scale,
          });
        }}
        onPointerUp={(event) => {
          const held = drag.current;
          drag.current = null;
          if (held?.moved && props.grip) {
            const { scale } = held.place;
            props.grip.drop((event.clientX - held.x) / scale, (event.clientY - held.y) / scale);
          } else if (held?.moved && dragging) onView({ place: dragging });
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
        <canvas
          ref={attachCanvas}
          className="absolute inset-0 size-full cursor-crosshair active:cursor-grabbing"
          data-testid="table"
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
        {place && props.corners && (
          <OutlineCorners corners={props.corners} place={place} size={size} onClose={props.onClose} />
        )}
        {wipe !== null && !comparing && (
          <WipeBar at={wipe} across={across} size={size} onMove={(at) => onView({ wipe: at })} />
        )}
        <TableToolbar
          view={view}
          subject={subject}
          subjects={subjectsOf(sheet)}
          onView={onView}
          across={across}
        />
        <div className="absolute top-3 right-3 flex items-center gap-1.5">
          <span ref={attachSign} className="table-sign" data-testid="table-settled">
            <LoaderCircle aria-label="Drawing" className="size-4" />
          </span>
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
        {subject === 'reasons' && !comparing && <ReasonsLegend />}
        <TableNotices
          garment={garment}
          together={fullToneLayer(sheet)?.together === true}
          view={view}
          onView={onView}
          comparing={comparing}
          passesTotal={props.passesTotal}
          dotsFar={dotsFar}
          onDots={able.actualDots}
        />
        {failure && (
          <p role="alert" className="absolute inset-x-3 bottom-3 border border-clay bg-white px-3 py-2">
            The table cannot be drawn: {failure} The job itself is safe.
          </p>
        )}
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
