'use client';

import { useLayoutEffect, useState } from 'react';
import type { Station } from '@/core/sheet';

interface Props {
  readonly rail: React.RefObject<HTMLOListElement | null>;
  readonly run: readonly Station[];
  readonly folded: boolean;
  /** Passes that have printed; null: all. */
  readonly passes: number | null;
  readonly onMove: (passes: number | null) => void;
}

/** Where the pallet stands: pulling it along the run plays the build-up of the print. */
export function PalletMarker({ rail, run, folded, passes, onMove }: Props) {
  const total = run.filter((station) => station.kind === 'screen').length;
  const now = Math.min(passes ?? total, total);
  const [stops, setStops] = useState<readonly number[]>([]);

  useLayoutEffect(() => {
    const list = rail.current;
    if (!list) return;
    const measure = () => {
      const cards = [...list.querySelectorAll<HTMLElement>('[data-station]')];
      const found = [-5];
      cards.forEach((card, index) => {
        if (run[index]?.kind === 'screen') found.push(card.offsetLeft + card.offsetWidth + 5);
      });
      setStops(found);
    };
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(list);
    return () => observer.disconnect();
  }, [rail, run, folded]);

  if (total === 0 || stops.length !== total + 1) return null;
  const moveTo = (count: number) => onMove(count >= total ? null : Math.max(0, count));
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="Pallet: how far the print is built up"
      aria-valuemin={0}
      aria-valuemax={total}
      aria-valuenow={now}
      aria-valuetext={now === total ? 'complete' : `after ${now} of ${total} screens`}
      className="absolute top-0 z-10 h-6 w-6 -translate-x-1/2 cursor-ew-resize touch-none"
      style={{ left: stops[now] }}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={(event) => {
        if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
        const x = event.clientX - rail.current!.getBoundingClientRect().left;
        const distances = stops.map((stop) => Math.abs(stop - x));
        const nearest = distances.indexOf(Math.min(...distances));
        if (nearest !== now) moveTo(nearest);
      }}
      onKeyDown={(event) => {
        const targets: Readonly<Record<string, number>> = {
          ArrowLeft: now - 1,
          ArrowRight: now + 1,
          Home: 0,
          End: total,
        };
        const target = targets[event.key];
        if (target === undefined) return;
        event.preventDefault();
        event.stopPropagation();
        moveTo(target);
      }}
    >
      <span
        aria-hidden
        className={`pointer-events-none absolute top-0 left-1/2 w-[3px] -translate-x-1/2 bg-clay ${folded ? 'h-[58px]' : 'h-[98px]'}`}
      />
      <span
        aria-hidden
        className="absolute top-1 left-1/2 h-3.5 w-5 -translate-x-1/2 rounded-[2px] bg-clay"
      />
    </div>
  );
}
