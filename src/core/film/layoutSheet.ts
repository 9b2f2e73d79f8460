import type { JobSheet, Plate } from '../sheet';
import { KerameusError, MM_PER_INCH, MM_PER_POINT, formatLength, mmToPx, trimNumber } from '../units';

export interface BoxMm {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** A registration mark: a ring with a cross through it, centred here. */
export interface RegistrationMark {
  readonly xMm: number;
  readonly yMm: number;
}

/** Lines of text, the first one larger; the box is where they stand. */
export interface SheetLabel {
  readonly box: BoxMm;
  readonly titleMm: number;
  readonly textMm: number;
}

/** One film sheet, the same for every plate of a job but for the label's words. All lengths from the sheet's top left corner. */
export interface SheetLayout {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly dpi: number;
  /** The bitmap: whole device pixels inside the sheet. */
  readonly widthPx: number;
  readonly heightPx: number;
  /** The print's top left corner, on a whole device pixel. */
  readonly printXPx: number;
  readonly printYPx: number;
  readonly print: BoxMm;
  readonly marks: readonly RegistrationMark[];
  readonly label: SheetLabel;
}

/** Half the length of the cross; the ring is smaller. */
export const MARK_ARM_MM = 5;
export const MARK_RING_MM = 3;
/** Thin enough to align by, thick enough to hold on a coarse mesh. Common practice, no source. */
export const MARK_LINE_MM = 0.75 * MM_PER_POINT;
const MARK_FROM_EDGE_MM = MM_PER_INCH;
const CLEAR_OF_PRINT_MM = 0.25 * MM_PER_INCH;
/** A mark that does not stand in the sheet's middle keeps this far from its edge. */
const CLEAR_OF_EDGE_MM = 2;
const LABEL_MARGIN_MM = 5;
const LABEL_SIZES: readonly { titleMm: number; textMm: number }[] = [
  { titleMm: 4, textMm: 2.6 },
  { titleMm: 2.8, textMm: 2 },
];

function overlaps(a: BoxMm, b: BoxMm): boolean {
  return a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;
}

function grow(box: BoxMm, by: number): BoxMm {
  return { x: box.x - by, y: box.y - by, width: box.width + 2 * by, height: box.height + 2 * by };
}

function markBox(mark: RegistrationMark): BoxMm {
  return {
    x: mark.xMm - MARK_ARM_MM,
    y: mark.yMm - MARK_ARM_MM,
    width: 2 * MARK_ARM_MM,
    height: 2 * MARK_ARM_MM,
  };
}

function both(mm: number): string {
  return `${formatLength(mm, 'in')} (${trimNumber(mm, 1)} mm)`;
}

/**
 * Lays out a film sheet: the print, registration marks, room for the label.
 *
 * Marks stand at the centres of the sheet's sides, 1 in from its edges, where that is clear of the print by 0.25 in;
 * else two above the print and one below it. Throws KerameusError `print-off-sheet`, `no-room-for-marks`
 * or `no-room-for-label`, each saying what would fit.
 */
export function layoutSheet(sheet: JobSheet): SheetLayout {
  const { film } = sheet;
  const { sheetWidthMm: widthMm, sheetHeightMm: heightMm, dpi } = film;
  const wantX = film.printAtMm?.x ?? (widthMm - sheet.print.widthMm) / 2;
  const wantY = film.printAtMm?.y ?? (heightMm - sheet.print.heightMm) / 2;
  const printXPx = Math.round(mmToPx(wantX, dpi));
  const printYPx = Math.round(mmToPx(wantY, dpi));
  const print: BoxMm = {
    x: (printXPx * MM_PER_INCH) / dpi,
    y: (printYPx * MM_PER_INCH) / dpi,
    width: sheet.print.widthMm,
    height: sheet.print.heightMm,
  };
  refuseOutside(print, widthMm, heightMm);
  const marks = film.marks ? placeMarks(print, widthMm, heightMm) : [];
  return {
    widthMm,
    heightMm,
    dpi,
    widthPx: Math.floor(mmToPx(widthMm, dpi) + 1e-6),
    heightPx: Math.floor(mmToPx(heightMm, dpi) + 1e-6),
    printXPx,
    printYPx,
    print,
    marks,
    label: placeLabel(print, marks, widthMm, heightMm),
  };
}

function refuseOutside(print: BoxMm, widthMm: number, heightMm: number): void {
  const slack = 0.05;
  const overX = Math.max(-print.x, print.x + print.width - widthMm);
  const overY = Math.max(-print.y, print.y + print.height - heightMm);
  if (overX <= slack && overY <= slack) return;
  const size = `${both(print.width)} x ${both(print.height)}`;
  const fits = print.width <= widthMm && print.height <= heightMm;
  throw new KerameusError({
    code: 'print-off-sheet',
    parameter: 'sheet',
    message: `The print of ${size} runs ${both(Math.max(overX, overY))} off the sheet of ${both(widthMm)} x ${both(heightMm)}.`,
    remedy: fits ? 'Move the print, or centre it.' : 'Choose a larger sheet, or make the print smaller.',
  });
}

function placeMarks(print: BoxMm, widthMm: number, heightMm: number): RegistrationMark[] {
  const kept = grow(print, CLEAR_OF_PRINT_MM);
  const sides: RegistrationMark[] = [
    { xMm: widthMm / 2, yMm: MARK_FROM_EDGE_MM },
    { xMm: widthMm - MARK_FROM_EDGE_MM, yMm: heightMm / 2 },
    { xMm: widthMm / 2, yMm: heightMm - MARK_FROM_EDGE_MM },
    { xMm: MARK_FROM_EDGE_MM, yMm: heightMm / 2 },
  ];
  if (sides.every((mark) => !overlaps(markBox(mark), kept))) return sides;

  const away = CLEAR_OF_PRINT_MM + MARK_ARM_MM;
  const middle = print.x + print.width / 2;
  const apart = Math.max(print.width / 3, 2 * MARK_ARM_MM);
  const edge = MARK_ARM_MM + CLEAR_OF_EDGE_MM;
  const inside = (x: number) => Math.min(widthMm - edge, Math.max(edge, x));
  const three: RegistrationMark[] = [
    { xMm: inside(middle - apart), yMm: print.y - away },
    { xMm: inside(middle + apart), yMm: print.y - away },
    { xMm: middle, yMm: print.y + print.height + away },
  ];
  const sheet: BoxMm = { x: 0, y: 0, width: widthMm, height: heightMm };
  const onSheet = (mark: RegistrationMark) =>
    mark.xMm >= edge && mark.xMm <= widthMm - edge && mark.yMm >= edge && mark.yMm <= sheet.height - edge;
  if (three.every(onSheet)) return three;
  const need = 2 * (away + edge);
  throw new KerameusError({
    code: 'no-room-for-marks',
    parameter: 'sheet',
    message: `The sheet of ${both(widthMm)} x ${both(heightMm)} has no room for registration marks round a print ${both(print.height)} high at this place.`,
    remedy: `Centred, a print up to ${both(Math.max(0, heightMm - need))} high fits this sheet, and this print fits a sheet at least ${both(print.height + need)} high.`,
  });
}

function placeLabel(
  print: BoxMm,
  marks: readonly RegistrationMark[],
  widthMm: number,
  heightMm: number,
): SheetLabel {
  const blocked = [grow(print, 2), ...marks.map((mark) => grow(markBox(mark), 2))];
  for (const { titleMm, textMm } of LABEL_SIZES) {
    const height = titleMm * 1.5 + textMm * 1.5;
    // Wide enough for the longest line; words that do not fit are cut.
    for (const width of [Math.min(widthMm - 2 * LABEL_MARGIN_MM, textMm * 58), textMm * 40]) {
      if (width > widthMm - 2 * LABEL_MARGIN_MM) continue;
      const left = LABEL_MARGIN_MM;
      const right = widthMm - LABEL_MARGIN_MM - width;
      const bottom = heightMm - LABEL_MARGIN_MM - height;
      for (const [x, y] of [
        [left, bottom],
        [right, bottom],
        [left, LABEL_MARGIN_MM],
        [right, LABEL_MARGIN_MM],
      ] as const) {
        const box = { x, y, width, height };
        if (!blocked.some((other) => overlaps(box, other))) return { box, titleMm, textMm };
      }
    }
  }
  throw new KerameusError({
    code: 'no-room-for-label',
    parameter: 'sheet',
    message: `The sheet of ${both(widthMm)} x ${both(heightMm)} has no room for the label beside the print and its marks.`,
    remedy: 'Choose a larger sheet, make the print smaller, or centre it.',
  });
}

/** The two lines of a film's label; `count` films belong to the set. */
export function labelLines(sheet: JobSheet, plate: Plate, count: number): [string, string] {
  const { print, film } = sheet;
  const role = { underbase: 'underbase', colour: '', highlight: 'highlight' }[plate.role];
  const { number } = plate;
  const two = (value: number) => String(value).padStart(2, '0');
  // Numbers may have gaps once the order was changed; then the set is only counted.
  const gaps = sheet.plates.some((each) => each.number > count);
  const title = `${two(number)} ${gaps ? `(${count} films)` : `of ${two(count)}`}  ${plate.ink.name}`;
  const size = `${trimNumber(print.widthMm / MM_PER_INCH, 2)} x ${trimNumber(print.heightMm / MM_PER_INCH, 2)} in`;
  const screen = `${trimNumber(plate.screen.lpi, 1)} lpi / ${trimNumber(plate.screen.angleDeg, 1)}° ${plate.screen.shape}`;
  const gain =
    plate.screen.gain > 0
      ? `gain ${trimNumber(plate.screen.gain * 100, 0)} % compensated`
      : 'gain not compensated';
  // What is usual goes without saying: the line is short of room.
  const turned = [film.negative ? 'negative' : '', film.emulsion === 'down' ? 'emulsion down' : ''];
  const parts = [sheet.name, role, size, screen, gain, `mesh ${plate.mesh}`, ...turned, film.date];
  return [title, parts.filter((part) => part !== '').join('  ·  ')];
}
