import { type SheetLayout, filmSize, gangsOf } from '@/core/film';
import type { JobSheet } from '@/core/sheet';
import { KerameusError, MM_PER_INCH, formatLength } from '@/core/units';
import { useUnit } from '../../state/useStored';

interface Props {
  readonly sheet: JobSheet;
  readonly layout: SheetLayout;
}

function tryGangs({ sheet, layout }: Props) {
  try {
    return gangsOf(sheet, layout, sheet.plates.length);
  } catch (thrown) {
    // Said with the sheet.
    if (thrown instanceof KerameusError) return [];
    throw thrown;
  }
}

/** Films beside each other on what they share, to scale, each with its number and ink; a long roll lies down. */
export function GangDrawing(props: Props) {
  const [unit] = useUnit();
  const { sheet, layout } = props;
  const size = filmSize(layout);
  const mm = (px: number) => (px * MM_PER_INCH) / layout.dpi;
  return tryGangs(props).map((gang, index) => {
    const lies = gang.heightMm > 1.3 * gang.widthMm;
    const [width, height] = lies ? [gang.heightMm, gang.widthMm] : [gang.widthMm, gang.heightMm];
    const line = Math.max(width, height) / 220;
    return (
      <figure key={index} className="py-1">
        <svg
          viewBox={`${-2 * line} ${-2 * line} ${width + 4 * line} ${height + 4 * line}`}
          className="max-h-56 w-full"
          role="img"
          aria-label={`${gang.places.length} films beside each other`}
        >
          <rect width={width} height={height} fill="#ffffff" stroke="#8a8a85" strokeWidth={line} />
          {gang.places.map(({ film, xPx, yPx }) => {
            const plate = sheet.plates[film];
            const [x, y] = lies ? [mm(yPx), height - mm(xPx) - size.widthMm] : [mm(xPx), mm(yPx)];
            const [w, h] = lies ? [size.heightMm, size.widthMm] : [size.widthMm, size.heightMm];
            const unitSize = Math.min(w, h);
            return (
              plate && (
                <g key={film} transform={`translate(${x} ${y})`} stroke="#5c5c58" strokeWidth={line / 2}>
                  <rect width={w} height={h} fill="#eeeeea" />
                  <rect
                    x={w / 2 - unitSize * 0.18}
                    y={h / 2}
                    width={unitSize * 0.36}
                    height={unitSize * 0.24}
                    fill={plate.ink.colour}
                  />
                  <text
                    x={w / 2}
                    y={h / 2 - unitSize * 0.1}
                    fontSize={unitSize * 0.3}
                    textAnchor="middle"
                    fill="#1d1d1b"
                    stroke="none"
                  >
                    {plate.number}
                  </text>
                </g>
              )
            );
          })}
        </svg>
        <figcaption className="caption">
          {gang.places.length} films, {formatLength(gang.widthMm, unit)} x {formatLength(gang.heightMm, unit)}
        </figcaption>
      </figure>
    );
  });
}
