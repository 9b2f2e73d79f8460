'use client';

import { useState } from 'react';
import { baseUnderPlate } from '@/core/separation';
import { type JobSheet, LIMITS, effectiveChokeMm, garmentOf } from '@/core/sheet';
import { formatLength } from '@/core/units';
import { useDraft } from '../desk/desk';

const WIDTH = 280;
const HEIGHT = 96;
/** Millimetres across the drawing. */
const SPAN_MM = 1.6;

/** A section through the edge of the print: cloth, base, ink, to scale across. The edge of the base is dragged. */
export function FitSection({ sheet }: { readonly sheet: JobSheet }) {
  const settledMm = effectiveChokeMm(sheet);
  const { hold, take, drop } = useDraft(settledMm, (now, chokeMm) => ({
    ...now,
    fit: { ...now.fit, chokeMm },
  }));
  const [held, setHeld] = useState<{ x: number; fromMm: number; mm: number; pxPerMm: number } | null>(null);
  const chokeMm = held?.mm ?? settledMm;
  const ink = sheet.plates.find((plate) => plate.role === 'colour' && baseUnderPlate(sheet, plate) > 0);
  const base = sheet.plates.find((plate) => plate.role === 'underbase');
  if (!ink || !base) return null;
  const px = WIDTH / Math.max(SPAN_MM, 2.5 * (settledMm + sheet.fit.spreadMm));
  const edge = 64;
  const inkStart = edge - sheet.fit.spreadMm * px;
  const baseStart = edge + chokeMm * px;
  return (
    <figure>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full border border-line bg-white"
        role="img"
        aria-label={`Section through an edge: the base ends ${formatLength(chokeMm + sheet.fit.spreadMm, 'mm')} inside the ink`}
      >
        <rect x={0} y={70} width={WIDTH} height={26} fill={garmentOf(sheet).colour} />
        {Array.from({ length: 14 }, (_, k) => (
          <ellipse key={k} cx={k * 21 + 6} cy={71} rx={9} ry={2.6} fill={garmentOf(sheet).colour} />
        ))}
        <rect
          x={baseStart}
          y={55}
          width={WIDTH - baseStart}
          height={14}
          fill={base.ink.colour}
          stroke="#9a9a96"
          strokeWidth={0.6}
        />
        <path
          d={`M${inkStart} 69V60Q${inkStart} 41 ${inkStart + 12} 41H${WIDTH}V55H${baseStart}V69Z`}
          fill={ink.ink.colour}
        />
        <rect
          x={baseStart - 7}
          y={48}
          width={14}
          height={26}
          fill="transparent"
          className="cursor-ew-resize touch-none"
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            const drawn = event.currentTarget.ownerSVGElement!.getBoundingClientRect().width / WIDTH;
            setHeld({ x: event.clientX, fromMm: settledMm, mm: settledMm, pxPerMm: px * drawn });
          }}
          onPointerMove={(event) => {
            if (!held) return;
            const moved = held.fromMm + (event.clientX - held.x) / held.pxPerMm;
            const mm = Math.min(LIMITS.maxChokeMm, Math.max(0, Math.round(moved * 100) / 100));
            setHeld({ ...held, mm });
            hold(mm);
          }}
          onPointerUp={() => {
            if (held) take(held.mm);
            setHeld(null);
          }}
          onPointerCancel={() => {
            drop();
            setHeld(null);
          }}
        />
        <g stroke="#1d1d1b" strokeWidth={0.9} pointerEvents="none">
          <path d={`M${inkStart} 22V38M${baseStart} 22V52M${inkStart} 27H${baseStart}`} />
        </g>
        <text
          x={Math.max(4, (inkStart + baseStart) / 2)}
          y={16}
          fontSize={11}
          textAnchor="middle"
          fill="#1d1d1b"
        >
          {formatLength(chokeMm + sheet.fit.spreadMm, 'mm')}
        </text>
      </svg>
      <figcaption className="caption mt-1">
        {garmentOf(sheet).name}, {base.ink.name}, {ink.ink.name}: across to scale
      </figcaption>
    </figure>
  );
}
