import { type JobSheet, LABEL_FIELDS, type Plate } from '../sheet';
import { KerameusError, MM_PER_INCH, formatBoth, mmToPx, trimNumber } from '../units';

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

/** Film tones of the wedge in the margin, finer at both ends. */
export const WEDGE_STEPS = [0.02, 0.05, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 0.95, 0.98] as const;
const WEDGE_PATCH_MM = 6;

/** From the print's edge to the lines at its middles and corners, and how long they are. */
const LINE_GAP_MM = 2;
const LINE_LENGTH_MM = 5;
/** From the print's edge to a wedge. */
const WEDGE_GAP_MM = LINE_GAP_MM + LINE_LENGTH_MM + 1;
/** Where the lines of the pallet's middle begin and end, from the sheet's edge. */
const PALLET_EDGE_MM = 1;
const PALLET_LINE_MM = 14;
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

/** Lines outside the print at its middles, its corners, and the corners of its bleed. */
function printLines({ centre, crop, bleedMm }: Marks, { x, y, width, height }: BoxMm): MarkLine[] {
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
function palletLines(
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
  if (film.density !== null) turned.push(`black at least ${trimNumber(film.density, 1)} D`);
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
