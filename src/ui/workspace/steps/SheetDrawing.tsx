import { MARK_ARM_MM, MARK_RING_MM, type SheetLayout, labelLines } from '@/core/film';
import type { JobSheet, Plate } from '@/core/sheet';

interface Props {
  readonly sheet: JobSheet;
  readonly layout: SheetLayout;
  readonly plate: Plate;
}

/** The film sheet to scale: print, marks and label where they will stand. */
export function SheetDrawing({ sheet, layout, plate }: Props) {
  const lines = labelLines(sheet, plate, sheet.plates.length);
  const { box, titleMm, textMm } = layout.label;
  return (
    <svg
      viewBox={`-4 -4 ${layout.widthMm + 8} ${layout.heightMm + 8}`}
      className="max-h-80 w-full bg-table"
      role="img"
      aria-label={`Film sheet of ${plate.ink.name} with ${layout.marks.length} registration marks`}
    >
      <rect width={layout.widthMm} height={layout.heightMm} fill="#f3f4f0" />
      <rect {...layout.print} fill="#d4d6d1" stroke="#5c5c58" strokeWidth={0.6} strokeDasharray="3 2" />
      <text
        x={layout.print.x + layout.print.width / 2}
        y={layout.print.y + layout.print.height / 2}
        fontSize={12}
        textAnchor="middle"
        fill="#5c5c58"
      >
        print
      </text>
      <g stroke="#1d1d1b" strokeWidth={0.9} fill="none">
        {(sheet.film.marks ? layout.marks : []).map((mark) => (
          <g key={`${mark.xMm}/${mark.yMm}`}>
            <circle cx={mark.xMm} cy={mark.yMm} r={MARK_RING_MM} />
            <path
              d={`M${mark.xMm - MARK_ARM_MM} ${mark.yMm}h${2 * MARK_ARM_MM}M${mark.xMm} ${mark.yMm - MARK_ARM_MM}v${2 * MARK_ARM_MM}`}
            />
          </g>
        ))}
      </g>
      <g fill="#1d1d1b" visibility={sheet.film.label ? undefined : 'hidden'}>
        <text x={box.x} y={box.y + titleMm} fontSize={titleMm}>
          {lines[0]}
        </text>
        <text x={box.x} y={box.y + titleMm * 1.5 + textMm} fontSize={textMm}>
          {lines[1]}
        </text>
      </g>
    </svg>
  );
}
