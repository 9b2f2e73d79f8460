import { MARK_INNER, type SheetLayout, WEDGE_STEPS, filmSize, labelLines } from '@/core/film';
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
  const { marks } = sheet.film;
  const arm = marks.sizeMm / 2;
  const shown = plate.withMarks;
  const film = filmSize(layout);
  return (
    <svg
      viewBox={`-4 -4 ${film.widthMm + 8} ${film.heightMm + 8}`}
      className="max-h-44 w-full bg-slip-deep"
      role="img"
      aria-label={`Film sheet of ${plate.ink.name} with ${layout.marks.length} registration marks`}
    >
      <rect width={film.widthMm} height={film.heightMm} fill="#ffffff" stroke="#8a8a85" strokeWidth={1.5} />
      <g transform={layout.turned ? `translate(${film.widthMm} 0) rotate(90)` : undefined}>
        <rect {...layout.print} fill="#d4d6d1" stroke="#5c5c58" strokeWidth={1} strokeDasharray="4 3" />
        <text
          x={layout.print.x + layout.print.width / 2}
          y={layout.print.y + layout.print.height / 2}
          fontSize={Math.min(layout.print.width, layout.print.height) * 0.12}
          textAnchor="middle"
          fill="#5c5c58"
        >
          print
        </text>
        {shown && (
          <g stroke="#1d1d1b" strokeWidth={Math.max(film.widthMm, film.heightMm) / 320} fill="none">
            {layout.marks.map((mark) => (
              <g key={`${mark.xMm}/${mark.yMm}`}>
                {marks.design === 'ring' ? (
                  <circle cx={mark.xMm} cy={mark.yMm} r={arm * MARK_INNER} />
                ) : (
                  <rect
                    x={mark.xMm - arm * MARK_INNER}
                    y={mark.yMm - arm * MARK_INNER}
                    width={2 * arm * MARK_INNER}
                    height={2 * arm * MARK_INNER}
                  />
                )}
                <path
                  d={`M${mark.xMm - arm} ${mark.yMm}h${2 * arm}M${mark.xMm} ${mark.yMm - arm}v${2 * arm}`}
                />
              </g>
            ))}
            <path
              d={layout.lines
                .map(({ x0Mm, y0Mm, x1Mm, y1Mm }) => `M${x0Mm} ${y0Mm}L${x1Mm} ${y1Mm}`)
                .join('')}
            />
          </g>
        )}
        {shown &&
          layout.wedge &&
          WEDGE_STEPS.map((step, k) => (
            <rect
              key={step}
              x={layout.wedge!.x + (k * layout.wedge!.width) / WEDGE_STEPS.length}
              y={layout.wedge!.y}
              width={layout.wedge!.width / WEDGE_STEPS.length}
              height={layout.wedge!.height}
              fill="#1d1d1b"
              fillOpacity={step}
            />
          ))}
        <g fill="#1d1d1b" visibility={sheet.film.label && plate.withMarks ? undefined : 'hidden'}>
          <text x={box.x} y={box.y + titleMm} fontSize={titleMm}>
            {lines[0]}
          </text>
          <text x={box.x} y={box.y + titleMm * 1.5 + textMm} fontSize={textMm}>
            {lines[1]}
          </text>
        </g>
      </g>
    </svg>
  );
}
