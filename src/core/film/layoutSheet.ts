import { type JobSheet, LABEL_FIELDS, type Plate } from '../sheet';
import { KerameusError, MM_PER_INCH, formatLength, mmToPx, trimNumber } from '../units';

type Marks = JobSheet['film']['marks'];

export interface BoxMm {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** A registration mark, centred here. */
export interface RegistrationMark {
  readonly xMm: number;
  readonly yMm: number;
}

/** A straight line of the marks' own width, upright or lying. */
export interface MarkLine {
  readonly x0Mm: number;
  readonly y0Mm: number;
  readonly x1Mm: number;
  readonly y1Mm: number;
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
  /** Lines at the print's middles and corners. */
  readonly lines: readonly MarkLine[];
  /** Where the step wedge stands, WEDGE_STEPS patches side by side; null without one. */
  readonly wedge: BoxMm | null;
  readonly label: SheetLabel;
}

/** Film tones of the wedge in the margin, finer at both ends. */
export const WEDGE_STEPS = [0.02, 0.05, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 0.95, 0.98] as const;
const WEDGE_PATCH_MM = 6;

/** From the print's edge to the lines at its middles and corners, and how long they are. */
const LINE_GAP_MM = 2;
const LINE_LENGTH_MM = 5;
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

function markBox(mark: RegistrationMark, armMm: number): BoxMm {
  return { x: mark.xMm - armMm, y: mark.yMm - armMm, width: 2 * armMm, height: 2 * armMm };
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
  const { x: wantX, y: wantY } = placeOfPrint(sheet);
  const printXPx = Math.round(mmToPx(wantX, dpi));
  const printYPx = Math.round(mmToPx(wantY, dpi));
  const print: BoxMm = {
    x: (printXPx * MM_PER_INCH) / dpi,
    y: (printYPx * MM_PER_INCH) / dpi,
    ...stretchedPrint(sheet),
  };
  refuseOutside(print, widthMm, heightMm);
  const marks = film.marks.register ? placeMarks(film.marks, print, widthMm, heightMm) : [];
  const wedge = film.marks.wedge ? placeWedge(film.marks, print, marks, widthMm, heightMm) : null;
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
    lines: printLines(film.marks, print),
    wedge,
    label: placeLabel(film.marks, print, marks, wedge, widthMm, heightMm),
  };
}

/** The print's size on film, in millimetres. */
export function stretchedPrint({ film, print }: JobSheet): { width: number; height: number } {
  return {
    width: print.widthMm * (1 + film.stretch.x / 1000),
    height: print.heightMm * (1 + film.stretch.y / 1000),
  };
}

/** Where the print's top left corner is wanted on the sheet. */
function placeOfPrint(sheet: JobSheet): { x: number; y: number } {
  const { film } = sheet;
  const { width, height } = stretchedPrint(sheet);
  const centred = { x: (film.sheetWidthMm - width) / 2, y: (film.sheetHeightMm - height) / 2 };
  if (film.collar) return { x: centred.x, y: film.collar.lineMm + film.collar.belowMm };
  return film.printAtMm ?? centred;
}

/** Lines outside the print at its middles and its corners. */
function printLines({ centre, crop }: Marks, { x, y, width, height }: BoxMm): MarkLine[] {
  const near = LINE_GAP_MM;
  const far = LINE_GAP_MM + LINE_LENGTH_MM;
  const upright = (x0Mm: number, a: number, b: number) => ({ x0Mm, y0Mm: a, x1Mm: x0Mm, y1Mm: b });
  const lying = (y0Mm: number, a: number, b: number) => ({ x0Mm: a, y0Mm, x1Mm: b, y1Mm: y0Mm });
  const at = (xs: readonly number[], ys: readonly number[]) => [
    ...xs.flatMap((each) => [
      upright(each, y - far, y - near),
      upright(each, y + height + near, y + height + far),
    ]),
    ...ys.flatMap((each) => [lying(each, x - far, x - near), lying(each, x + width + near, x + width + far)]),
  ];
  return [
    ...(centre ? at([x + width / 2], [y + height / 2]) : []),
    ...(crop ? at([x, x + width], [y, y + height]) : []),
  ];
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

function placeMarks(wanted: Marks, print: BoxMm, widthMm: number, heightMm: number): RegistrationMark[] {
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
      `Registration marks at the sheet's ${wanted.place}, ${both(from)} from its edges, would stand on the print or nearer than ${both(CLEAR_OF_PRINT_MM)} to it.`,
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
    `The sheet of ${both(widthMm)} x ${both(heightMm)} has no room for registration marks round a print ${both(print.height)} high at this place.`,
    `Centred, a print up to ${both(Math.max(0, heightMm - need))} high fits this sheet, and this print fits a sheet at least ${both(print.height + need)} high.`,
  );
}

function noRoom(message: string, remedy: string): KerameusError {
  return new KerameusError({ code: 'no-room-for-marks', parameter: 'sheet', message, remedy });
}

/** Beside the print, below it first: where neither print nor marks are. */
function placeWedge(
  wanted: Marks,
  print: BoxMm,
  marks: readonly RegistrationMark[],
  widthMm: number,
  heightMm: number,
): BoxMm {
  const width = WEDGE_STEPS.length * WEDGE_PATCH_MM;
  const height = WEDGE_PATCH_MM;
  const blocked = marks.map((mark) => grow(markBox(mark, wanted.sizeMm / 2), 2));
  const near = LINE_GAP_MM + LINE_LENGTH_MM + 1;
  const middle = print.x + print.width / 2;
  for (const y of [print.y + print.height + near, print.y - near - height]) {
    for (const x of [print.x, print.x + print.width - width, middle - width / 2]) {
      const box = { x: Math.min(Math.max(x, 2), widthMm - width - 2), y, width, height };
      const fits = box.x >= 2 && y >= 2 && y + height <= heightMm - 2;
      if (fits && !blocked.some((other) => overlaps(box, other))) return box;
    }
  }
  throw noRoom(
    'There is no room for a step wedge above or below the print.',
    'Choose a larger sheet, or leave the wedge out.',
  );
}

function placeLabel(
  wanted: Marks,
  print: BoxMm,
  marks: readonly RegistrationMark[],
  wedge: BoxMm | null,
  widthMm: number,
  heightMm: number,
): SheetLabel {
  const blocked = [
    grow(print, 2),
    ...marks.map((mark) => grow(markBox(mark, wanted.sizeMm / 2), 2)),
    ...(wedge ? [grow(wedge, 1)] : []),
  ];
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
  // What is usual goes without saying: the line is short of room.
  const turned = [film.negative ? 'negative' : '', film.emulsion === 'down' ? 'emulsion down' : ''];
  const { x, y } = film.stretch;
  if (x !== 0 || y !== 0) turned.push(`stretched ${trimNumber(x, 2)} ‰ x ${trimNumber(y, 2)} ‰`);
  const fields: Readonly<Record<JobSheet['film']['labelFields'][number], string>> = {
    job: sheet.name,
    role,
    size,
    screen: describeScreen(plate),
    gain: describeGain(plate),
    mesh: `mesh ${plate.mesh}`,
    date: film.date,
  };
  const told = LABEL_FIELDS.filter((field) => film.labelFields.includes(field) && field !== 'date');
  const date = film.labelFields.includes('date') ? [fields.date] : [];
  const parts = [...told.map((field) => fields[field]), ...turned, ...date];
  return [title, parts.filter((part) => part !== '').join('  ·  ')];
}

/** A plate's screen in words, as labels and the press sheet tell it. */
export function describeScreen({ screen }: Pick<Plate, 'screen'>): string {
  if (screen.screening === 'solid') return 'solid only';
  if (screen.screening === 'dispersed') {
    return screen.dotUm ? `dispersed dots of ${trimNumber(screen.dotUm, 0)} µm` : 'dispersed dots';
  }
  return `${trimNumber(screen.lpi, 1)} lpi / ${trimNumber(screen.angleDeg, 1)}° ${screen.shape}`;
}

function describeGain({ screen }: Plate): string {
  if (screen.screening === 'solid') return '';
  if (screen.measured) return 'measured gain compensated';
  return screen.gain > 0 ? `gain ${trimNumber(screen.gain * 100, 0)} % compensated` : 'gain not compensated';
}
