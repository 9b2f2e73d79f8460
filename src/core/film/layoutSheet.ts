import type { JobSheet } from '../sheet';
import { KerameusError, MM_PER_INCH, formatBoth, mmToPx } from '../units';
import { type BoxMm, type MarkLine, type RegistrationMark, grow, markBox, overlaps } from './boxes';
import {
  CLEAR_OF_EDGE_MM,
  CLEAR_OF_PRINT_MM,
  WEDGE_GAP_MM,
  WEDGE_PATCH_MM,
  placeMarks,
  placeWedge,
} from './placeMarks';
import { LINE_GAP_MM, LINE_LENGTH_MM, palletLines, printLines } from './sheetLines';

type Marks = JobSheet['film']['marks'];

/** Lines of text, the first one larger; the box is where they stand. */
export interface SheetLabel {
  readonly box: BoxMm;
  readonly titleMm: number;
  readonly textMm: number;
}

/**
 * One film sheet, the same for every plate of a job but for the label's words, with the print upright. All lengths from the sheet's top
 * left corner. A turned film is this one turned a quarter clockwise, as `filmSize` says.
 */
export interface SheetLayout {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly dpi: number;
  readonly turned: boolean;
  /** The bitmap: whole device pixels inside the sheet. */
  readonly widthPx: number;
  readonly heightPx: number;
  /** The print's top left corner, on a whole device pixel. */
  readonly printXPx: number;
  readonly printYPx: number;
  readonly print: BoxMm;
  readonly marks: readonly RegistrationMark[];
  /** Lines at the print's middles and corners. */
  readonly lines: readonly MarkLine[];
  /** Where the step wedge stands, WEDGE_STEPS patches side by side; null without one. */
  readonly wedge: BoxMm | null;
  readonly label: SheetLabel;
}

const LABEL_MARGIN_MM = 5;
const LABEL_SIZES: readonly { titleMm: number; textMm: number }[] = [
  { titleMm: 4, textMm: 2.6 },
  { titleMm: 2.8, textMm: 2 },
];

/**
 * Lays out a film sheet: the print, registration marks, room for the label.
 *
 * Marks stand at the centres of the sheet's sides, 1 in from its edges, where that is clear of the print by 0.25 in;
 * else two above the print and one below it. Throws KerameusError `print-off-sheet`, `no-room-for-marks`
 * or `no-room-for-label`, each saying what would fit.
 */
export function layoutSheet(sheet: JobSheet): SheetLayout {
  const { film } = sheet;
  const { dpi, turned } = film;
  const { widthMm, heightMm } = uprightSheet(sheet);
  const { x: wantX, y: wantY } = placeOfPrint(sheet, widthMm, heightMm);
  const printXPx = Math.round(mmToPx(wantX, dpi));
  const printYPx = Math.round(mmToPx(wantY, dpi));
  const print: BoxMm = {
    x: (printXPx * MM_PER_INCH) / dpi,
    y: (printYPx * MM_PER_INCH) / dpi,
    ...stretchedPrint(sheet),
  };
  refuseOutside(sheet, print, widthMm, heightMm);
  const marks = film.marks.register ? placeMarks(film.marks, print, widthMm, heightMm) : [];
  const lines = [...printLines(film.marks, print), ...palletLines(film, print, marks, widthMm, heightMm)];
  const wedge = film.marks.wedge ? placeWedge(film.marks, print, marks, widthMm, heightMm) : null;
  return {
    widthMm,
    heightMm,
    dpi,
    turned,
    widthPx: Math.floor(mmToPx(widthMm, dpi) + 1e-6),
    heightPx: Math.floor(mmToPx(heightMm, dpi) + 1e-6),
    printXPx,
    printYPx,
    print,
    marks,
    lines,
    wedge,
    label: placeLabel(film.marks, print, marks, lines, wedge, widthMm, heightMm),
  };
}

/** The film as it lies on its sheet. */
export interface FilmSize {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly widthPx: number;
  readonly heightPx: number;
}

export function filmSize({ widthMm, heightMm, widthPx, heightPx, turned }: SheetLayout): FilmSize {
  if (!turned) return { widthMm, heightMm, widthPx, heightPx };
  return { widthMm: heightMm, heightMm: widthMm, widthPx: heightPx, heightPx: widthPx };
}

/** The sheet's sides with the print upright; of a roll as much as the film needs. */
function uprightSheet(sheet: JobSheet): { widthMm: number; heightMm: number } {
  const { sheetWidthMm: across, sheetHeightMm: along, turned } = sheet.film;
  const length = along ?? rollLengthMm(sheet);
  return turned ? { widthMm: length, heightMm: across } : { widthMm: across, heightMm: length };
}

/** How much of a roll a film takes, in whole millimetres: the print, and room for what stands before and behind it. */
function rollLengthMm(sheet: JobSheet): number {
  const { marks, turned, collar, printAtMm } = sheet.film;
  const size = stretchedPrint(sheet);
  const arm = marks.sizeMm / 2;
  const room = [LABEL_MARGIN_MM];
  if (marks.register && (marks.place === 'sides' || marks.place === 'corners')) {
    room.push(Math.max(marks.fromEdgeMm, arm) + arm + CLEAR_OF_PRINT_MM);
  }
  if (marks.centre || marks.crop) room.push(LINE_GAP_MM + LINE_LENGTH_MM + CLEAR_OF_EDGE_MM);
  if (marks.bleedMm > 0) room.push(marks.bleedMm + LINE_GAP_MM + LINE_LENGTH_MM + CLEAR_OF_EDGE_MM);
  if (!turned) {
    const [{ titleMm, textMm }] = LABEL_SIZES as [(typeof LABEL_SIZES)[number]];
    const label = LABEL_MARGIN_MM + labelHeight(titleMm, textMm) + CLEAR_OF_EDGE_MM;
    room.push(label);
    if (marks.register) room.push(CLEAR_OF_PRINT_MM + 2 * arm + CLEAR_OF_EDGE_MM);
    // Marks, wedge and label stand behind each other where it comes to the worst.
    const beyond = marks.register ? CLEAR_OF_PRINT_MM + 2 * arm : WEDGE_GAP_MM + marks.bleedMm;
    if (marks.wedge) room.push(beyond + CLEAR_OF_EDGE_MM + WEDGE_PATCH_MM + label);
  }
  const most = Math.max(...room);
  const extent = turned ? size.width : size.height;
  const before = collar && !turned ? collar.lineMm + collar.belowMm : printAtMm?.[turned ? 'x' : 'y'];
  return Math.ceil((before ?? most) + extent + most - 1e-6);
}

/** The print's size on film, in millimetres. */
export function stretchedPrint({ film, print }: Pick<JobSheet, 'film' | 'print'>): {
  width: number;
  height: number;
} {
  return {
    width: print.widthMm * (1 + film.stretch.x / 1000),
    height: print.heightMm * (1 + film.stretch.y / 1000),
  };
}

/** Where the print's top left corner is wanted on the sheet. */
function placeOfPrint(sheet: JobSheet, widthMm: number, heightMm: number): { x: number; y: number } {
  const { film } = sheet;
  const { width, height } = stretchedPrint(sheet);
  const centred = { x: (widthMm - width) / 2, y: (heightMm - height) / 2 };
  if (film.collar) return { x: centred.x, y: film.collar.lineMm + film.collar.belowMm };
  return film.printAtMm ?? centred;
}

function refuseOutside(sheet: JobSheet, print: BoxMm, widthMm: number, heightMm: number): void {
  const slack = 0.05;
  const overX = Math.max(-print.x, print.x + print.width - widthMm);
  const overY = Math.max(-print.y, print.y + print.height - heightMm);
  if (overX <= slack && overY <= slack) return;
  const { turned, sheetHeightMm } = sheet.film;
  const size = `${formatBoth(print.width)} x ${formatBoth(print.height)}`;
  const by = [
    ...(overX > slack ? [`${formatBoth(overX)} in width`] : []),
    ...(overY > slack ? [`${formatBoth(overY)} in height`] : []),
  ].join(' and ');
  const on =
    sheetHeightMm === null
      ? `roll ${formatBoth(sheet.film.sheetWidthMm)} wide`
      : `sheet of ${formatBoth(widthMm)} x ${formatBoth(heightMm)}`;
  const fits = print.width <= widthMm && print.height <= heightMm;
  const [otherWidth, otherHeight] =
    sheetHeightMm === null
      ? [turned ? sheet.film.sheetWidthMm : Infinity, turned ? Infinity : sheet.film.sheetWidthMm]
      : [heightMm, widthMm];
  const fitsTurned = print.width <= otherWidth && print.height <= otherHeight;
  throw new KerameusError({
    code: 'print-off-sheet',
    parameter: 'sheet',
    message: `The print of ${size} runs off the ${on}${turned ? ', turned,' : ''} by ${by}.`,
    remedy: fits
      ? 'Move the print, or centre it.'
      : fitsTurned
        ? `${turned ? 'Leave the film unturned' : 'Turn the film a quarter'}: then the print fits.`
        : 'Choose a larger sheet, or make the print smaller.',
  });
}

function labelHeight(titleMm: number, textMm: number): number {
  return titleMm * 1.5 + textMm * 1.5;
}

function placeLabel(
  wanted: Marks,
  print: BoxMm,
  marks: readonly RegistrationMark[],
  lines: readonly MarkLine[],
  wedge: BoxMm | null,
  widthMm: number,
  heightMm: number,
): SheetLabel {
  const blocked = [
    grow(print, 2),
    ...marks.map((mark) => grow(markBox(mark, wanted.sizeMm / 2), 2)),
    ...lines.map(({ x0Mm, y0Mm, x1Mm, y1Mm }) =>
      grow({ x: x0Mm, y: y0Mm, width: x1Mm - x0Mm, height: y1Mm - y0Mm }, 1),
    ),
    ...(wedge ? [grow(wedge, 1)] : []),
  ];
  for (const { titleMm, textMm } of LABEL_SIZES) {
    const height = labelHeight(titleMm, textMm);
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
    message: `The sheet of ${formatBoth(widthMm)} x ${formatBoth(heightMm)} has no room for the label beside the print and its marks.`,
    remedy: 'Choose a larger sheet, make the print smaller, or centre it.',
  });
}
