import { MM_PER_INCH, trimNumber } from '@/core/units';
import type { Unit } from '../../state/useStored';
import type { TablePlace } from '../../state/viewState';
import type { TableSize } from './tablePlace';

export const RULER_PX = 20;

interface Props {
  readonly place: TablePlace | null;
  readonly size: TableSize;
  readonly unit: Unit;
  readonly pointer: { readonly xMm: number; readonly yMm: number } | null;
}

const STEPS: Readonly<Record<Unit, readonly number[]>> = {
  in: [0.05, 0.1, 0.25, 0.5, 1, 2, 5, 10],
  mm: [0.5, 1, 2, 5, 10, 20, 50, 100],
};
const LEAST_PX = 58;

interface Tick {
  readonly at: number;
  readonly label: string | null;
}

/** Ticks along one side: each label stands at a whole step of the user's unit from the print's corner. */
function ticks(startMm: number, lengthPx: number, scale: number, unit: Unit): Tick[] {
  const mm = unit === 'in' ? MM_PER_INCH : 1;
  const step = STEPS[unit].find((each) => each * mm * scale >= LEAST_PX) ?? STEPS[unit].at(-1)!;
  const fine = step / (unit === 'in' && step >= 0.25 ? 4 : 5);
  const found: Tick[] = [];
  const first = Math.ceil(startMm / mm / fine);
  const last = Math.floor((startMm + lengthPx / scale) / mm / fine);
  for (let k = first; k <= last; k++) {
    const value = k * fine;
    const whole = Math.abs(value / step - Math.round(value / step)) < 1e-6;
    found.push({ at: (value * mm - startMm) * scale, label: whole ? trimNumber(value, 2) : null });
  }
  return found;
}

/** Rulers above and left of the table, from the print's top left corner. */
export function Rulers({ place, size, unit, pointer }: Props) {
  if (!place || size.width === 0) return null;
  const x0 = place.centreXMm - size.width / 2 / place.scale;
  const y0 = place.centreYMm - size.height / 2 / place.scale;
  const line = { stroke: '#8f8f8b', strokeWidth: 1 };
  const text = { fontSize: 10, fill: '#5c5c58' };
  return (
    <>
      <svg
        aria-hidden
        className="absolute top-0 right-0 bg-slip"
        style={{ left: RULER_PX }}
        width={size.width}
        height={RULER_PX}
      >
        {ticks(x0, size.width, place.scale, unit).map(({ at, label }) => (
          <g key={at}>
            <line x1={at} x2={at} y1={label === null ? 15 : 8} y2={RULER_PX} {...line} />
            {label !== null && (
              <text x={at + 3} y={11} {...text}>
                {label}
              </text>
            )}
          </g>
        ))}
        {pointer && <path d={`M${(pointer.xMm - x0) * place.scale} ${RULER_PX}l-4-6h8z`} fill="#a8492b" />}
      </svg>
      <svg
        aria-hidden
        className="absolute bottom-0 left-0 bg-slip"
        style={{ top: RULER_PX }}
        width={RULER_PX}
        height={size.height}
      >
        {ticks(y0, size.height, place.scale, unit).map(({ at, label }) => (
          <g key={at}>
            <line y1={at} y2={at} x1={label === null ? 15 : 8} x2={RULER_PX} {...line} />
            {label !== null && (
              <text x={10} y={at - 3} {...text} transform={`rotate(-90 10 ${at - 3})`}>
                {label}
              </text>
            )}
          </g>
        ))}
        {pointer && <path d={`M${RULER_PX} ${(pointer.yMm - y0) * place.scale}l-6-4v8z`} fill="#a8492b" />}
      </svg>
      <span className="absolute top-0 left-0 grid size-5 place-items-center bg-slip text-[10px] text-quiet">
        {unit}
      </span>
    </>
  );
}
