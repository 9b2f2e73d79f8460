import type { JobSheet } from '@/core/sheet';
import { formatLength } from '@/core/units';

interface Props {
  readonly sheet: JobSheet;
  readonly chokeMm: number;
}

const WIDTH = 280;
const HEIGHT = 96;
/** Millimetres across the drawing. */
const SPAN_MM = 1.6;

/** A section through the edge of the print: cloth, base, ink, to scale across. */
export function FitSection({ sheet, chokeMm }: Props) {
  const ink = sheet.plates.find((plate) => plate.role === 'colour' && plate.baseStrength > 0);
  const base = sheet.plates.find((plate) => plate.role === 'underbase');
  if (!ink || !base) return null;
  const px = WIDTH / Math.max(SPAN_MM, 2.5 * (chokeMm + sheet.fit.spreadMm));
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
        <rect x={0} y={70} width={WIDTH} height={26} fill={sheet.garment.colour} />
        {Array.from({ length: 14 }, (_, k) => (
          <ellipse key={k} cx={k * 21 + 6} cy={71} rx={9} ry={2.6} fill={sheet.garment.colour} />
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
        <g stroke="#1d1d1b" strokeWidth={0.9}>
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
        {sheet.garment.name}, {base.ink.name}, {ink.ink.name}: across to scale
      </figcaption>
    </figure>
  );
}
