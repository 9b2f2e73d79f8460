import type { JobSheet } from '../sheet';
import { type BoxMm, type MarkLine, type RegistrationMark, markBox } from './boxes';

/** From the print's edge to the lines at its middles and corners, and how long they are. */
export const LINE_GAP_MM = 2;
export const LINE_LENGTH_MM = 5;
/** Where the lines of the pallet's middle begin and end, from the sheet's edge. */
const PALLET_EDGE_MM = 1;
const PALLET_LINE_MM = 14;

type Marks = JobSheet['film']['marks'];

/** Lines outside the print at its middles, its corners, and the corners of its bleed. */
export function printLines({ centre, crop, bleedMm }: Marks, { x, y, width, height }: BoxMm): MarkLine[] {
  const at = (xs: readonly number[], ys: readonly number[], outside: number) => {
    const near = outside + LINE_GAP_MM;
    const far = near + LINE_LENGTH_MM;
    return [
      ...xs.flatMap((each) => [
        upright(each, y - far, y - near),
        upright(each, y + height + near, y + height + far),
      ]),
      ...ys.flatMap((each) => [
        lying(each, x - far, x - near),
        lying(each, x + width + near, x + width + far),
      ]),
    ];
  };
  return [
    ...(centre ? at([x + width / 2], [y + height / 2], 0) : []),
    ...(crop ? at([x, x + width], [y, y + height], 0) : []),
    ...(bleedMm > 0
      ? at([x - bleedMm, x + width + bleedMm], [y - bleedMm, y + height + bleedMm], bleedMm)
      : []),
  ];
}

function upright(xMm: number, fromMm: number, toMm: number): MarkLine {
  return { x0Mm: xMm, y0Mm: fromMm, x1Mm: xMm, y1Mm: toMm };
}

function lying(yMm: number, fromMm: number, toMm: number): MarkLine {
  return { x0Mm: fromMm, y0Mm: yMm, x1Mm: toMm, y1Mm: yMm };
}

/**
 * Lines at the sheet's own middle, which lies on the pallet's, from its upper and lower edge inwards, and one across at the collar;
 * shorter where the print or a registration mark is near.
 */
export function palletLines(
  { marks: wanted, collar }: JobSheet['film'],
  print: BoxMm,
  marks: readonly RegistrationMark[],
  widthMm: number,
  heightMm: number,
): MarkLine[] {
  if (!wanted.pallet) return [];
  const x = widthMm / 2;
  const blocked = [print, ...marks.map((mark) => markBox(mark, wanted.sizeMm / 2))];
  const onLine = blocked.filter((box) => box.x - LINE_GAP_MM < x && x < box.x + box.width + LINE_GAP_MM);
  const top = Math.min(PALLET_LINE_MM, ...onLine.map((box) => box.y - LINE_GAP_MM));
  const bottom = Math.max(
    heightMm - PALLET_LINE_MM,
    ...onLine.map((box) => box.y + box.height + LINE_GAP_MM),
  );
  const lines = [upright(x, PALLET_EDGE_MM, top), upright(x, bottom, heightMm - PALLET_EDGE_MM)];
  if (collar) lines.push(lying(collar.lineMm, x - PALLET_LINE_MM, x + PALLET_LINE_MM));
  return lines.filter(({ x0Mm, y0Mm, x1Mm, y1Mm }) => x1Mm - x0Mm + (y1Mm - y0Mm) >= LINE_GAP_MM);
}
