'use client';

import { type KeyboardEvent, type PointerEvent, useState } from 'react';
import type { JobSheet } from '@/core/sheet';
import {
  type CurvePoints,
  PLAIN_CURVE,
  addPoint,
  dropPoint,
  movePoint,
  roomOf,
  throughStages,
} from '@/core/stages';
import { trimNumber } from '@/core/units';
import { TextField } from '../../controls/TextField';
import { useDraft } from '../desk/desk';

const WIDTH = 264;
const HEIGHT = 132;
/** Room for the points at the border. */
const EDGE = 8;

export const percent = (share: number) => trimNumber(share * 100, 1);

const shareOf = (text: string) => Number(text.replace('%', '')) / 100;

export const isPlain = (points: CurvePoints) => JSON.stringify(points) === JSON.stringify(PLAIN_CURVE);

/** Refuses what lies beyond the neighbours of a point. */
const between =
  ([low, high]: readonly [number, number]) =>
  (text: string) => {
    const share = shareOf(text);
    if (share >= low - 1e-9 && share <= high + 1e-9) return null;
    return `A number from ${percent(low)} to ${percent(high)}: the curve goes on from point to point and never falls.`;
  };

const placeOf = ([x, y]: readonly [number, number]) =>
  [EDGE + x * (WIDTH - 2 * EDGE), HEIGHT - EDGE - y * (HEIGHT - 2 * EDGE)] as const;

interface Props {
  readonly settled: CurvePoints;
  /** The sheet with another curve. */
  readonly apply: (sheet: JobSheet, points: CurvePoints) => JobSheet;
  /** For those who do not see the drawing: what lies across, and what upwards. */
  readonly label: string;
  /** What fills the drawing below the curve. */
  readonly colour: string;
  /** What a point's two numbers are, such as "artwork" and "prints as". */
  readonly words: readonly [string, string];
  /** What the curve comes to, in words. */
  readonly describe: (through: (share: number) => number) => string;
  /** Said where the curve changes nothing. */
  readonly plain: string;
}

/** A curve whose points are dragged, moved by keys or typed. */
export function CurveEditor({ settled, apply, label, colour, words, describe, plain }: Props) {
  const draft = useDraft(settled, apply);
  const isSet = !isPlain(settled);
  /** What holds a point while it is moved: the pointer, or a key that is down. */
  const [by, setBy] = useState<'pointer' | 'key' | null>(null);
  const [chosen, setChosen] = useState(0);
  const points = draft.shown;
  const at = Math.min(chosen, points.length - 1);
  const room = roomOf(points, at);
  const hold = (next: CurvePoints, how: 'pointer' | 'key') => {
    setBy(how);
    draft.hold(next);
  };
  const take = (next: CurvePoints) => {
    setBy(null);
    draft.take(next);
  };
  const drop = () => {
    setBy(null);
    draft.drop();
  };
  const pointAt = (event: PointerEvent<SVGElement>): [number, number] => {
    const drawn = event.currentTarget.closest('svg')!.getBoundingClientRect();
    const scale = drawn.width / WIDTH;
    const share = (value: number, room: number) =>
      Math.min(1, Math.max(0, value / scale / room - EDGE / room));
    return [
      Math.round(share(event.clientX - drawn.left, WIDTH - 2 * EDGE) * 200) / 200,
      Math.round((1 - share(event.clientY - drawn.top, HEIGHT - 2 * EDGE)) * 200) / 200,
    ];
  };
  const begin = (event: PointerEvent<SVGElement>, index: number) => {
    event.stopPropagation();
    event.currentTarget.closest('svg')!.setPointerCapture(event.pointerId);
    setChosen(index);
    hold(points, 'pointer');
  };
  const beginNew = (event: PointerEvent<SVGElement>) => {
    const added = addPoint(settled, pointAt(event));
    if (!added) return;
    event.currentTarget.closest('svg')!.setPointerCapture(event.pointerId);
    setChosen(added.index);
    hold(added.points, 'pointer');
  };
  const onKey = (event: KeyboardEvent, index: number) => {
    const step = event.shiftKey ? 0.05 : 0.01;
    const [x, y] = points[index]!;
    const moves: Readonly<Record<string, readonly [number, number]>> = {
      ArrowUp: [x, y + step],
      ArrowDown: [x, y - step],
      ArrowRight: [x + step, y],
      ArrowLeft: [x - step, y],
    };
    const move = moves[event.key];
    if (move) hold(movePoint(points, index, move), 'key');
    else if (event.key === 'Delete' || event.key === 'Backspace') take(dropPoint(points, index));
    else if (event.key === 'Escape') drop();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const through = throughStages([{ kind: 'curve', points }]);
  const line = Array.from({ length: 101 }, (_, k) => placeOf([k / 100, through(k / 100)]).join(' ')).join(
    'L',
  );
  const [left, bottom] = placeOf([0, 0]);
  const [right, top] = placeOf([1, 1]);
  return (
    <>
      <p className="caption">{isSet ? describe(through) : plain}</p>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="mt-1 w-full touch-none border border-line bg-white select-none"
        role="group"
        aria-label={label}
        onPointerDown={beginNew}
        onPointerMove={(event) => by === 'pointer' && hold(movePoint(points, at, pointAt(event)), 'pointer')}
        onPointerUp={() => by === 'pointer' && take(points)}
        onPointerCancel={drop}
      >
        {[0.25, 0.5, 0.75].map((share) => (
          <path
            key={share}
            d={`M${placeOf([share, 0])[0]} ${bottom}V${top}M${left} ${placeOf([0, share])[1]}H${right}`}
            stroke="#e4e2dc"
          />
        ))}
        <path d={`M${line}V${bottom}H${left}Z`} fill={colour} opacity={0.25} />
        <path d={`M${left} ${bottom}L${right} ${top}`} stroke="#8a8984" strokeDasharray="2 3" />
        <path d={`M${line}`} fill="none" stroke="#1d1d1b" strokeWidth={1.5} />
        {points.map((point, k) => {
          const [x, y] = placeOf(point);
          return (
            <circle
              key={k}
              cx={x}
              cy={y}
              r={k === at ? 5 : 4}
              fill={k === at ? '#b4532a' : '#ffffff'}
              stroke="#1d1d1b"
              className="cursor-move"
              tabIndex={0}
              role="slider"
              aria-label={`Point ${k + 1} of the curve: ${percent(point[0])} % ${words[1]}`}
              aria-valuemin={0}
              aria-valuemax={100}
              aria-valuenow={Math.round(point[1] * 100)}
              aria-valuetext={`${percent(point[1])} %`}
              onFocus={() => setChosen(k)}
              onPointerDown={(event) => begin(event, k)}
              onKeyDown={(event) => onKey(event, k)}
              onKeyUp={() => by === 'key' && take(points)}
              onBlur={() => by === 'key' && take(points)}
            />
          );
        })}
      </svg>
      <p className="caption">
        press on a free place to add a point · arrow keys move it, Delete takes it away
      </p>
      <TextField
        key={`in-${at}`}
        label={`Point ${at + 1}: ${words[0]}, %`}
        value={percent(points[at]![0])}
        maxLength={6}
        check={between(room.x)}
        onChange={(text) => take(movePoint(points, at, [shareOf(text), points[at]![1]]))}
      />
      <TextField
        key={`out-${at}`}
        label={`Point ${at + 1}: ${words[1]}, %`}
        value={percent(points[at]![1])}
        maxLength={6}
        check={between(room.y)}
        onChange={(text) => take(movePoint(points, at, [points[at]![0], shareOf(text)]))}
      />
      {(isSet || points.length > 2) && (
        <div className="mt-1 flex flex-wrap gap-2">
          {points.length > 2 && (
            <button type="button" className="plain-button" onClick={() => take(dropPoint(points, at))}>
              Take point {at + 1} away
            </button>
          )}
          {isSet && (
            <button type="button" className="plain-button" onClick={() => take(PLAIN_CURVE)}>
              No curve
            </button>
          )}
        </div>
      )}
    </>
  );
}
