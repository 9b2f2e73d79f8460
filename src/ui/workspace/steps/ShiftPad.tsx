'use client';

import {
  ArrowDown,
  ArrowDownLeft,
  ArrowDownRight,
  ArrowLeft,
  ArrowRight,
  ArrowUp,
  ArrowUpLeft,
  ArrowUpRight,
  CircleDot,
} from 'lucide-react';
import type { ScreenShift } from '@/core/pipeline';
import { trimNumber } from '@/core/units';
import { LengthField } from '../../controls/LengthField';
import { TextField } from '../../controls/TextField';
import { MOST_SHIFT_MM, MOST_TURN_DEG } from '../../state/viewState';
import { useDesk, usePlate, useSheet } from '../desk/desk';

const PAD = [
  [ArrowUpLeft, -1, -1, 'up and to the left'],
  [ArrowUp, 0, -1, 'up'],
  [ArrowUpRight, 1, -1, 'up and to the right'],
  [ArrowLeft, -1, 0, 'to the left'],
  [CircleDot, 0, 0, 'back'],
  [ArrowRight, 1, 0, 'to the right'],
  [ArrowDownLeft, -1, 1, 'down and to the left'],
  [ArrowDown, 0, 1, 'down'],
  [ArrowDownRight, 1, 1, 'down and to the right'],
] as const;

const STILL: ScreenShift = { xMm: 0, yMm: 0, deg: 0 };

/** Lays the screen of the plate that is worked on off, on the table alone: by the press's tolerance in eight directions, or as it is typed. */
export function ShiftPad() {
  const { press } = useSheet();
  const plate = usePlate();
  const shifts = useDesk((desk) => desk.shifts);
  const setShifts = useDesk((desk) => desk.setShifts);
  if (!plate) return null;
  const now = shifts[plate.id] ?? STILL;
  const set = (change: Partial<ScreenShift>) => {
    const next = { ...now, ...change };
    const { [plate.id]: _own, ...others } = shifts;
    const isStill = next.xMm === 0 && next.yMm === 0 && next.deg === 0;
    setShifts(isStill ? others : { ...others, [plate.id]: next });
  };
  const length = { unit: 'mm' as const, minMm: -MOST_SHIFT_MM, maxMm: MOST_SHIFT_MM };
  return (
    <div className="mt-2" role="group" aria-label="Try it on the table">
      <p className="caption">Try it: {plate.ink.name} off, on the table alone</p>
      <div className="flex items-center gap-3">
        <div className="grid grid-cols-3 gap-0.5">
          {PAD.map(([Icon, x, y, where]) => {
            // The tolerance is how far, whichever way.
            const by = press.toleranceMm / (Math.hypot(x, y) || 1);
            const to = { xMm: x * by, yMm: y * by };
            const isThere = Math.abs(now.xMm - to.xMm) < 1e-6 && Math.abs(now.yMm - to.yMm) < 1e-6;
            return (
              <button
                key={where}
                type="button"
                aria-label={`${plate.ink.name} ${where}`}
                aria-pressed={isThere}
                className={`grid size-7 place-items-center border border-line ${isThere ? 'bg-ink text-white' : 'bg-white'}`}
                onClick={() => set(x === 0 && y === 0 ? STILL : to)}
              >
                <Icon aria-hidden className="size-4" />
              </button>
            );
          })}
        </div>
        <div className="min-w-0 flex-1">
          <LengthField label="right" valueMm={now.xMm} {...length} onChange={(xMm) => set({ xMm })} />
          <LengthField label="down" valueMm={now.yMm} {...length} onChange={(yMm) => set({ yMm })} />
          <TextField
            label="turned, degrees"
            value={trimNumber(now.deg, 3)}
            maxLength={6}
            check={(text) =>
              text !== '' && Math.abs(Number(text)) <= MOST_TURN_DEG
                ? null
                : `from -${MOST_TURN_DEG} to ${MOST_TURN_DEG}`
            }
            onChange={(text) => set({ deg: Number(text) })}
          />
        </div>
      </div>
    </div>
  );
}
