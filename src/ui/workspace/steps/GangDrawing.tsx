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

/** Films beside each other on what they share, to scale, each in its ink. */
export function GangDrawing(props: Props) {
  const [unit] = useUnit();
  const { sheet, layout } = props;
  const size = filmSize(layout);
  const mm = (px: number) => (px * MM_PER_INCH) / layout.dpi;
  return tryGangs(props).map((gang, index) => (
    <figure key={index} className="py-1">
      <svg
        viewBox={`-4 -4 ${gang.widthMm + 8} ${gang.heightMm + 8}`}
        className="max-h-56 w-full"
        role="img"
        aria-label={`${gang.places.length} films beside each other`}
      >
        <rect width={gang.widthMm} height={gang.heightMm} fill="#f3f4f0" stroke="#b9b8b2" strokeWidth={2} />
        {gang.places.map(({ film, xPx, yPx }) => {
          const plate = sheet.plates[film];
          return (
            plate && (
              <g key={film} transform={`translate(${mm(xPx)} ${mm(yPx)})`}>
                <rect
                  width={size.widthMm}
                  height={size.heightMm}
                  fill="#ffffff"
                  stroke="#5c5c58"
                  strokeWidth={1.5}
                />
                <rect
                  x={size.widthMm * 0.36}
                  y={size.heightMm / 2 - size.widthMm * 0.14}
                  width={size.widthMm * 0.28}
                  height={size.widthMm * 0.28}
                  fill={plate.ink.colour}
                  stroke="#5c5c58"
                  strokeWidth={1.5}
                />
                <text
                  x={size.widthMm / 2}
                  y={size.heightMm / 2 - size.widthMm * 0.2}
                  fontSize={size.widthMm * 0.16}
                  textAnchor="middle"
                  fill="#1d1d1b"
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
  ));
}
