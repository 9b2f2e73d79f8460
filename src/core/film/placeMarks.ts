import type { JobSheet } from '../sheet';
import { KerameusError, MM_PER_INCH, formatBoth } from '../units';
import { type BoxMm, type RegistrationMark, grow, markBox, overlaps } from './boxes';
import { LINE_GAP_MM, LINE_LENGTH_MM } from './sheetLines';

/** Film tones of the wedge in the margin, finer at both ends. */
export const WEDGE_STEPS = [0.02, 0.05, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 0.95, 0.98] as const;
export const WEDGE_PATCH_MM = 6;
/** From the print's edge to a wedge. */
export const WEDGE_GAP_MM = LINE_GAP_MM + LINE_LENGTH_MM + 1;
export const CLEAR_OF_PRINT_MM = 0.25 * MM_PER_INCH;
/** A mark that does not stand in the sheet's middle keeps this far from its edge. */
export const CLEAR_OF_EDGE_MM = 2;

type Marks = JobSheet['film']['marks'];

/** Throws KerameusError `no-room-for-marks`. */
export function placeMarks(
  wanted: Marks,
  print: BoxMm,
  widthMm: number,
  heightMm: number,
): RegistrationMark[] {
  const kept = grow(print, CLEAR_OF_PRINT_MM);
  const arm = wanted.sizeMm / 2;
  const from = Math.max(wanted.fromEdgeMm, arm);
  const sides: RegistrationMark[] = [
    { xMm: widthMm / 2, yMm: from },
    { xMm: widthMm - from, yMm: heightMm / 2 },
    { xMm: widthMm / 2, yMm: heightMm - from },
    { xMm: from, yMm: heightMm / 2 },
  ];
  const corners: RegistrationMark[] = [from, heightMm - from].flatMap((yMm) =>
    [from, widthMm - from].map((xMm) => ({ xMm, yMm })),
  );
  const clear = (marks: readonly RegistrationMark[]) =>
    marks.every((mark) => !overlaps(markBox(mark, arm), kept));
  if (wanted.place === 'sides' || wanted.place === 'corners') {
    const marks = wanted.place === 'sides' ? sides : corners;
    if (clear(marks)) return marks;
    throw noRoom(
      `Registration marks at the sheet's ${wanted.place}, ${formatBoth(from)} from its edges, would stand on the print or nearer than ${formatBoth(CLEAR_OF_PRINT_MM)} to it.`,
      'Put them nearer to the edge, make them smaller, or choose where there is room.',
    );
  }
  if (wanted.place === 'auto' && clear(sides)) return sides;

  const away = CLEAR_OF_PRINT_MM + arm;
  const middle = print.x + print.width / 2;
  const apart = Math.max(print.width / 3, 2 * arm);
  const edge = arm + CLEAR_OF_EDGE_MM;
  const inside = (x: number) => Math.min(widthMm - edge, Math.max(edge, x));
  const three: RegistrationMark[] = [
    { xMm: inside(middle - apart), yMm: print.y - away },
    { xMm: inside(middle + apart), yMm: print.y - away },
    { xMm: middle, yMm: print.y + print.height + away },
  ];
  const onSheet = (mark: RegistrationMark) =>
    mark.xMm >= edge && mark.xMm <= widthMm - edge && mark.yMm >= edge && mark.yMm <= heightMm - edge;
  if (three.every(onSheet)) return three;
  const need = 2 * (away + edge);
  throw noRoom(
    `The sheet of ${formatBoth(widthMm)} x ${formatBoth(heightMm)} has no room for registration marks round a print ${formatBoth(print.height)} high at this place.`,
    `Centred, a print up to ${formatBoth(Math.max(0, heightMm - need))} high fits this sheet, and this print fits a sheet at least ${formatBoth(print.height + need)} high.`,
  );
}

function noRoom(message: string, remedy: string): KerameusError {
  return new KerameusError({ code: 'no-room-for-marks', parameter: 'sheet', message, remedy });
}

/** Beside the print, below it first: where neither print nor marks are. Throws KerameusError `no-room-for-marks`. */
export function placeWedge(
  wanted: Marks,
  print: BoxMm,
  marks: readonly RegistrationMark[],
  widthMm: number,
  heightMm: number,
): BoxMm {
  const width = WEDGE_STEPS.length * WEDGE_PATCH_MM;
  const height = WEDGE_PATCH_MM;
  const blocked = marks.map((mark) => grow(markBox(mark, wanted.sizeMm / 2), 2));
  const near = WEDGE_GAP_MM + wanted.bleedMm;
  // Beyond marks that stand above and below the print.
  const far = Math.max(near, CLEAR_OF_PRINT_MM + wanted.sizeMm + CLEAR_OF_EDGE_MM);
  const [left, right] = [2, widthMm - width - 2];
  const beside = [print.x, print.x + print.width - width, print.x + (print.width - width) / 2, left, right];
  for (const away of [near, far]) {
    for (const y of [print.y + print.height + away, print.y - away - height]) {
      for (const wantedX of beside) {
        const box = { x: Math.min(Math.max(wantedX, left), right), y, width, height };
        const fits = right >= left && y >= 2 && y + height <= heightMm - 2;
        if (fits && !blocked.some((other) => overlaps(box, other))) return box;
      }
    }
  }
  throw noRoom(
    'There is no room for a step wedge above or below the print.',
    'Choose a larger sheet, or leave the wedge out.',
  );
}
