'use client';

import { LoaderCircle } from 'lucide-react';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Subject } from '@/browser';
import type { JobSheet } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import {
  type Shown,
  type TablePlace,
  fitPlace,
  useElementSize,
  useTableView,
  viewOf,
  zoomAt,
} from './useTableView';

interface Props {
  readonly sheet: JobSheet;
  readonly hasOuterMap: boolean;
  readonly subject: Subject;
  readonly onSubject: (subject: Subject) => void;
  readonly plateId: string | null;
  readonly lifted: readonly string[];
}

const SUBJECTS: readonly { readonly value: Subject; readonly label: string; readonly key: string }[] = [
  { value: 'artwork', label: 'Artwork', key: 'a' },
  { value: 'print', label: 'Print', key: 'p' },
  { value: 'film', label: 'Film', key: 'f' },
];

/** CSS pixels are 96 to the inch. */
const ACTUAL_SCALE = 96 / 25.4;
const WHEEL_STEP = 1.0015;

/** The big viewer: the predicted print, the artwork, or one plate as film. */
export function Table(props: Props) {
  const { sheet, subject, onSubject } = props;
  const [attach, size] = useElementSize();
  const [chosen, setChosen] = useState<TablePlace | null>(null);
  const box = useRef<HTMLDivElement | null>(null);
  const fitted = size.width > 0 ? fitPlace(sheet, size) : null;
  const fittedKey = fitted ? `${fitted.scale}/${fitted.centreXMm}/${fitted.centreYMm}` : '';
  const [fitState, setFitState] = useState<{ key: string; place: TablePlace | null }>({
    key: '',
    place: null,
  });
  if (fitState.key !== fittedKey) setFitState({ key: fittedKey, place: fitted });
  const place = chosen ?? fitState.place;
  const { shown, busy, failure } = useTableView({ ...props, place, size });

  const change = useCallback(
    (next: (place: TablePlace) => TablePlace) =>
      setChosen((before) => {
        const from = before ?? fitState.place;
        return from ? next(from) : before;
      }),
    [fitState.place],
  );
  const zoom = useCallback(
    (factor: number, x = size.width / 2, y = size.height / 2) =>
      change((from) => zoomAt(from, size, factor, x, y)),
    [change, size],
  );

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

  const pan = (dx: number, dy: number) =>
    change((from) => ({
      ...from,
      centreXMm: from.centreXMm - dx / from.scale,
      centreYMm: from.centreYMm - dy / from.scale,
    }));

  const onKeyDown = (event: React.KeyboardEvent) => {
    const step = event.shiftKey ? 160 : 40;
    const moves: Record<string, () => void> = {
      ArrowLeft: () => pan(step, 0),
      ArrowRight: () => pan(-step, 0),
      ArrowUp: () => pan(0, step),
      ArrowDown: () => pan(0, -step),
      '+': () => zoom(1.25),
      '=': () => zoom(1.25),
      '-': () => zoom(0.8),
      '0': () => setChosen(null),
    };
    for (const each of SUBJECTS) moves[each.key] = () => onSubject(each.value);
    const move = moves[event.key];
    if (!move || event.ctrlKey || event.metaKey || event.altKey) return;
    event.preventDefault();
    move();
  };

  return (
    <div
      ref={(element) => {
        box.current = element;
        attach(element);
      }}
      className="relative min-h-0 min-w-0 flex-1 touch-none overflow-hidden bg-table"
      tabIndex={0}
      role="application"
      aria-label="Table: arrow keys move, plus and minus enlarge, 0 fits, a shows the artwork, p the print, f the film"
      onKeyDown={onKeyDown}
      onPointerDown={(event) => {
        if ((event.target as HTMLElement).tagName !== 'CANVAS') return;
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={(event) => {
        if (event.currentTarget.hasPointerCapture(event.pointerId)) pan(event.movementX, event.movementY);
      }}
    >
      <Canvas shown={shown} place={place} width={size.width} height={size.height} />
      <div
        className="absolute top-3 left-3 flex border border-line bg-white"
        role="radiogroup"
        aria-label="What the table shows"
      >
        {SUBJECTS.map((each) => (
          <button
            key={each.value}
            type="button"
            role="radio"
            aria-checked={subject === each.value}
            onClick={() => onSubject(each.value)}
            className={`px-3 py-1 ${subject === each.value ? 'bg-ink text-white' : 'hover:bg-slip-deep'}`}
          >
            {each.label}
          </button>
        ))}
      </div>
      <div className="absolute top-3 right-3 flex items-center gap-1.5">
        {busy && <LoaderCircle aria-label="Drawing" className="size-4 animate-spin text-white" />}
        <span className="border border-line bg-white px-2 py-1" data-testid="zoom">
          {place ? trimNumber((place.scale / ACTUAL_SCALE) * 100, 0) : '–'} %
        </span>
        <button type="button" className="plain-button" onClick={() => setChosen(null)}>
          Fit
        </button>
        <button
          type="button"
          className="plain-button"
          onClick={() => change((from) => ({ ...from, scale: ACTUAL_SCALE }))}
        >
          Actual size
        </button>
      </div>
      {failure && (
        <p role="alert" className="absolute inset-x-3 bottom-3 border border-clay bg-white px-3 py-2">
          The table cannot be drawn: {failure} The job itself is safe.
        </p>
      )}
      {shown && <span hidden data-testid="table-settled" data-busy={busy} />}
    </div>
  );
}

interface CanvasProps {
  readonly shown: Shown | null;
  readonly place: TablePlace | null;
  readonly width: number;
  readonly height: number;
}

/** Shows the last drawing where it belongs now: pixel for pixel once it is settled, moved along while the next is drawn. */
function Canvas({ shown, place, width, height }: CanvasProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d', { alpha: false });
    if (!element || !context || !shown || !place || width === 0) return;
    if (element.width !== width || element.height !== height) {
      element.width = width;
      element.height = height;
    }
    const { drawing, view } = shown;
    const now = viewOf(place, { width, height });
    const same =
      now.scale === view.scale &&
      now.xMm === view.xMm &&
      now.yMm === view.yMm &&
      view.width === width &&
      view.height === height;
    const image = new ImageData(drawing.pixels, drawing.width, drawing.height);
    if (same) {
      context.putImageData(image, 0, 0);
      return;
    }
    const holder = new OffscreenCanvas(drawing.width, drawing.height);
    holder.getContext('2d')!.putImageData(image, 0, 0);
    const ratio = now.scale / view.scale;
    context.fillStyle = '#8a8a8a';
    context.fillRect(0, 0, width, height);
    context.drawImage(
      holder,
      (view.xMm - now.xMm) * now.scale,
      (view.yMm - now.yMm) * now.scale,
      drawing.width * ratio,
      drawing.height * ratio,
    );
  }, [shown, place, width, height]);
  return (
    <canvas
      ref={canvas}
      className="absolute inset-0 size-full cursor-grab active:cursor-grabbing"
      data-testid="table"
    />
  );
}
