'use client';

import type { TablePlace } from '../../state/viewState';
import type { TablePoint } from './Table';
import type { TableSize } from './tablePlace';

interface Props {
  readonly corners: readonly TablePoint[];
  readonly place: TablePlace;
  readonly size: TableSize;
  /** Null where there are too few corners. */
  readonly onClose: (() => void) | null;
}

const CORNER_PX = 6;

/** An outline that is being clicked: its corners so far, and the edge that would close it. */
export function OutlineCorners({ corners, place, size, onClose }: Props) {
  const at = ({ xMm, yMm }: TablePoint) =>
    [
      (xMm - place.centreXMm) * place.scale + size.width / 2,
      (yMm - place.centreYMm) * place.scale + size.height / 2,
    ] as const;
  const points = corners.map(at);
  const path = points.map((point) => point.join(',')).join(' ');
  const [first, last] = [points[0], points.at(-1)];
  return (
    <svg className="pointer-events-none absolute inset-0 size-full" data-testid="outline">
      {/* Light over dark, so that it is seen on every colour. */}
      <polyline points={path} className="fill-none stroke-ink" strokeWidth={3} />
      <polyline points={path} className="fill-none stroke-white" strokeWidth={1} />
      {onClose && first && last && (
        <polyline
          points={`${last.join(',')} ${first.join(',')}`}
          className="fill-none stroke-white mix-blend-difference"
          strokeDasharray="4 4"
        />
      )}
      {points.map(([x, y], k) => (
        <circle
          key={`${x}/${y}/${k}`}
          cx={x}
          cy={y}
          r={k === 0 ? CORNER_PX : CORNER_PX / 2}
          className={`fill-white stroke-ink ${k === 0 && onClose ? 'pointer-events-auto cursor-pointer' : ''}`}
          onClick={k === 0 && onClose ? onClose : undefined}
        >
          {k === 0 && onClose && <title>Close the outline</title>}
        </circle>
      ))}
    </svg>
  );
}
