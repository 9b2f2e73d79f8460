import { readFile, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { BLEND_MODES } from '@/core/drawing';
import { KerameusError } from '@/core/units';
import { type Ended, type Limits, runLimited } from './runLimited';

/** What a PDF and one of its pages say of themselves. */
export interface PdfFacts {
  readonly pages: number;
  /** Fonts of the page that the file does not bring along; others stand in for them. */
  readonly missingFonts: readonly string[];
  /** Of the page as it stands in the file, in square inches. */
  readonly areaIn2: number;
}

/** A page that was drawn. */
export interface DrawnPage {
  /** The SVG's path. */
  readonly path: string;
  /** What the reader found wrong in the page and drew all the same: parts may be missing. */
  readonly faults: number;
  /** Effects that cannot be kept as shapes and became pictures. */
  readonly pictures: number;
  /** Pixels an inch of these. */
  readonly pictureDpi: number;
}

const ASKING: Limits = { seconds: 20, memory: 1_000_000_000, fileSize: 1_000_000, answer: 1_000_000 };
const DRAWING: Limits = { seconds: 40, memory: 1_500_000_000, fileSize: 200_000_000, answer: 200_000 };
/** What cannot be kept as shapes becomes a picture with this many pixels an inch, as films have; of large pages with fewer, so that one of the whole page is no larger than drawings may embed. */
const PICTURE_DPI = 720;
const PICTURE_PIXELS = 36e6;
/** Files that are larger are not looked through for what they state of their pages. */
const MOST_SEARCHED = 100e6;
/** Longest side of a page, in points: 200 inches, which is the most that the format knew at first. */
const MOST_POINTS = 14_400;

function refuse(message: string, remedy: string): KerameusError {
  return new KerameusError({ code: 'pdf-refused', parameter: 'artwork', message, remedy });
}

const AGAIN = 'Export it again as PDF, SVG or PNG.';

async function run(program: string, args: readonly string[], limits: Limits, signal?: AbortSignal) {
  try {
    return await runLimited(program, args, limits, signal);
  } catch (thrown) {
    if ((thrown as NodeJS.ErrnoException).code !== 'ENOENT') throw thrown;
    throw refuse(
      'PDF files are read by a program that is not installed here.',
      'Install the system package poppler-utils, or export the artwork as SVG.',
    );
  }
}

/** What a program that did not read a PDF says, in our words. */
function whyNot({ over, stderr }: Ended): KerameusError {
  if (/incorrect password/i.test(stderr)) {
    return refuse('The PDF is locked by a password.', 'Save it without one.');
  }
  if (over === 'time') {
    return refuse('The PDF takes too long to read: too much stands inside of each other.', AGAIN);
  }
  if (/out of memory|bad_alloc|file size limit/i.test(stderr) || over === 'answer') {
    return refuse('The PDF takes more memory to read than is allowed.', AGAIN);
  }
  return refuse('The PDF is damaged or cut off: its pages cannot be read.', AGAIN);
}

/**
 * Looks into a PDF. Throws KerameusError `pdf-refused` for files that are locked, damaged or have no such page, and for pages without a size.
 *
 * @param page from 1 on.
 */
export async function readPdfFacts(file: string, page: number, signal?: AbortSignal): Promise<PdfFacts> {
  const at = ['-f', String(page), '-l', String(page)];
  const first = await run('pdfinfo', [file], ASKING, signal);
  if (first.code !== 0) throw whyNot(first);
  const pages = Number(/^Pages:\s+(\d+)/m.exec(first.stdout.toString('utf8'))?.[1] ?? 0);
  if (pages === 0) throw refuse('The PDF has no page.', AGAIN);
  if (page > pages) {
    throw refuse(
      pages === 1
        ? `The PDF has one page, and no page ${page}.`
        : `The PDF has ${pages} pages, and no page ${page}.`,
      `Choose a page from 1 to ${pages}.`,
    );
  }
  const told = await run('pdfinfo', [...at, '-box', file], ASKING, signal);
  if (told.code !== 0) throw whyNot(told);
  const boxes = told.stdout.toString('utf8');
  const areaIn2 = checkedArea(boxes, page);
  if (isLetter(boxes) && !(await couldBeLetter(file))) {
    throw refuse(`Page ${page} of the PDF has no size.`, AGAIN);
  }
  const fonts = await run('pdffonts', [...at, file], ASKING, signal);
  // Fonts are told, and no reason to refuse a page that can be drawn.
  const missingFonts = fonts.code === 0 ? missingFontsOf(fonts.stdout.toString('utf8')) : [];
  return { pages, missingFonts, areaIn2 };
}

/** The box that is drawn is the crop box; a damaged one is not to be drawn as some other page. */
function checkedArea(text: string, page: number): number {
  const boxes = /CropBox:\s+(\S+)\s+(\S+)\s+(\S+)\s+(\S+)/.exec(text)?.slice(1).map(Number) ?? [];
  const [left, bottom, right, top] = boxes;
  const sides = [right! - left!, top! - bottom!];
  if (sides.some((side) => !(side > 0))) {
    throw refuse(`Page ${page} of the PDF has no size.`, AGAIN);
  }
  if (sides.some((side) => side > MOST_POINTS)) {
    throw refuse(
      `Page ${page} of the PDF is ${Math.round(Math.max(...sides) / 72)} in long.`,
      `Pages are taken up to ${MOST_POINTS / 72} in.`,
    );
  }
  return (sides[0]! * sides[1]!) / 72 ** 2;
}

/** The page that the reader takes where a file states none that is valid. */
const LETTER = [0, 0, 612, 792];

function boxOf(text: string | undefined): number[] {
  return (text ?? '').trim().split(/\s+/).map(Number);
}

function isLetter(text: string): boolean {
  const box = boxOf(/MediaBox:([\d\s.-]+)$/m.exec(text)?.[1]);
  return LETTER.every((side, k) => box[k] === side);
}

/** Whether a file may state a page of that size: false where all boxes that can be read in it, which are not packed, are others. */
async function couldBeLetter(file: string): Promise<boolean> {
  if ((await stat(file)).size > MOST_SEARCHED) return true;
  const text = (await readFile(file)).toString('latin1');
  const boxes = [...text.matchAll(/\/MediaBox\s*\[([^\]]*)\]/g)].map(([, inside]) => boxOf(inside));
  const isFit = ([left, bottom, right, top]: number[]) =>
    Math.round(right! - left!) === LETTER[2] && Math.round(top! - bottom!) === LETTER[3];
  return boxes.length === 0 || boxes.some(isFit);
}

/** Names of fonts that are not embedded, without the mark of a subset. */
function missingFontsOf(table: string): string[] {
  const [, rule, ...rows] = table.split('\n');
  // Columns are as wide as their part of the rule.
  const widths = [...(rule ?? '').matchAll(/-+/g)].map(
    ({ index, 0: dashes }) => [index, index + dashes.length] as const,
  );
  const column = (row: string, k: number) => (widths[k] ? row.slice(...widths[k]).trim() : '');
  const missing = rows.flatMap((row) => {
    const [name, embedded] = [column(row, 0), column(row, 3)];
    return embedded === 'no' ? [name.replace(/^[A-Z]{6}\+/, '') || 'a font without a name'] : [];
  });
  return [...new Set(missing)];
}

/**
 * Draws a page as SVG into a folder: its crop box, paths and text as outlines, what cannot be kept so as pictures. Throws KerameusError `pdf-refused`.
 *
 * @param areaIn2 of the page.
 */
export async function pdfPageAsSvg(
  file: string,
  page: number,
  areaIn2: number,
  folder: string,
  signal?: AbortSignal,
  fileName = 'page.svg',
): Promise<DrawnPage> {
  const target = path.join(folder, fileName);
  const pictureDpi = Math.min(PICTURE_DPI, Math.floor(Math.sqrt(PICTURE_PIXELS / areaIn2)));
  const at = ['-f', String(page), '-l', String(page), '-r', String(pictureDpi)];
  const drawn = await run('pdftocairo', ['-svg', ...at, file, target], DRAWING, signal);
  const size = await stat(target).then(
    ({ size }) => size,
    () => 0,
  );
  if (drawn.code !== 0 || size === 0) {
    if (size >= DRAWING.fileSize) {
      throw refuse(
        `Page ${page} of the PDF becomes more than ${DRAWING.fileSize / 1e6} MB of shapes and pictures.`,
        'Make its pictures smaller: 300 dpi at print size is enough.',
      );
    }
    throw whyNot(drawn);
  }
  const text = await readFile(target, 'utf8');
  await writeFile(target, withAlphaMasks(withBlendModes(text)));
  const faults = (drawn.stderr.match(FAULT) ?? []).length;
  const pictures = (text.match(REPLACED) ?? []).length;
  return { path: target, faults, pictures, pictureDpi };
}

/** A line in which the reader tells what it could not make sense of. */
const FAULT = /^(?:Syntax|Internal) (?:Error|Warning)/gm;
/** A picture takes the place of all that lies below it: of what the page shows there, effect and all. */
const REPLACED = /\scomp-op="src"|\bcomp-op:src\b(?!-)/g;

const PICTURING: Limits = { seconds: 20, memory: 1_500_000_000, fileSize: 1_000_000, answer: 4_000_000 };

/** A small picture of a page, as a PNG. Throws KerameusError `pdf-refused`. @param side its longer one, in pixels. */
export async function pdfPagePicture(
  file: string,
  page: number,
  side: number,
  signal?: AbortSignal,
): Promise<Buffer> {
  const at = ['-f', String(page), '-l', String(page), '-singlefile', '-cropbox', '-scale-to', String(side)];
  const drawn = await run('pdftocairo', ['-png', ...at, file, '-'], PICTURING, signal);
  if (drawn.code !== 0 || drawn.stdout.length === 0) throw whyNot(drawn);
  return drawn.stdout;
}

/** Blend modes are written in words of a draft of the format that later became other ones. */
export function withBlendModes(svg: string): string {
  return svg
    .replace(
      /(style="[^"]*?)\bcomp-op:([a-z-]+)/g,
      (_, before: string, mode: string) => `${before}${blendOf(mode)}`,
    )
    .replace(/\scomp-op="([a-z-]+)"/g, (_, mode: string) => ` style="${blendOf(mode)}"`);
}

const ALPHA_MASK = /<mask id="([^"]+)">(\s*)<g filter="url\(#alpha\)">/g;

/** Masks by opacity are written as masks by lightness of what a filter has made white: the standard has a word for them, and drawings may have few filters. */
export function withAlphaMasks(svg: string): string {
  return svg.replace(ALPHA_MASK, '<mask id="$1" mask-type="alpha">$2<g>');
}

/** What a picture shows that takes another's place it shows as well when it lies over it. */
const OVER = ['src', 'src-over'];

function blendOf(mode: string): string {
  if (OVER.includes(mode)) return 'mix-blend-mode:normal';
  if (BLEND_MODES.some((each) => each === mode)) return `mix-blend-mode:${mode}`;
  throw refuse(
    `The PDF page combines shapes in a way that is not drawn (${mode}).`,
    'Flatten its transparency, or export it as a PNG at print size.',
  );
}
