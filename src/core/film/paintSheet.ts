import { mmToPx } from '../units';
import type { JobSheet } from '../sheet';
import type { RegistrationMark } from './boxes';
import type { SheetLayout } from './layoutSheet';
import type { LabelFont, Outlines } from './textOutlines';

/** What is on a film beside the print, in device pixels: ready to be painted into any rows. */
export interface SheetFurniture {
  readonly rects: readonly { x0: number; y0: number; x1: number; y1: number }[];
  readonly rings: readonly { cx: number; cy: number; inner: number; outer: number }[];
  readonly text: Outlines;
  /** The rows that the text stands in, the last one excluded. */
  readonly textRows: readonly [from: number, to: number];
}

/** How a film is turned, and what stands on it. */
export interface FurnitureOptions {
  /** The bitmap is mirrored after its marks are painted; the label keeps its place beside them and stays readable. */
  readonly mirrored: boolean;
  readonly marks: boolean;
  readonly label: boolean;
}

type Rects = { x0: number; y0: number; x1: number; y1: number }[];
type Rings = { cx: number; cy: number; inner: number; outer: number }[];

/** Of a mark's cross: how large its ring or frame is. */
export const MARK_INNER = 0.6;

/** One registration mark in device pixels; its middle is the same on every film. */
function drawMark(
  mark: RegistrationMark,
  wanted: JobSheet['film']['marks'],
  dpi: number,
  thick: number,
  rects: Rects,
  rings: Rings,
): void {
  const px = (mm: number) => mmToPx(mm, dpi);
  const arm = Math.round(px(wanted.sizeMm / 2));
  const x0 = Math.round(px(mark.xMm) - thick / 2);
  const y0 = Math.round(px(mark.yMm) - thick / 2);
  const cx = x0 + thick / 2;
  const cy = y0 + thick / 2;
  rects.push({ x0, y0: Math.round(cy - arm), x1: x0 + thick, y1: Math.round(cy + arm) });
  rects.push({ x0: Math.round(cx - arm), y0, x1: Math.round(cx + arm), y1: y0 + thick });
  const radius = px((wanted.sizeMm / 2) * MARK_INNER);
  if (wanted.design === 'ring') {
    rings.push({ cx, cy, inner: radius - thick / 2, outer: radius + thick / 2 });
    return;
  }
  // A frame with two of its quarters filled: where two films lie over each other, a gap or a black seam shows.
  const [left, right] = [Math.round(cx - radius), Math.round(cx + radius)];
  const [top, bottom] = [Math.round(cy - radius), Math.round(cy + radius)];
  rects.push({ x0: left, y0: top, x1: right, y1: top + thick });
  rects.push({ x0: left, y0: bottom - thick, x1: right, y1: bottom });
  rects.push({ x0: left, y0: top, x1: left + thick, y1: bottom });
  rects.push({ x0: right - thick, y0: top, x1: right, y1: bottom });
  rects.push({ x0: left, y0: top, x1: x0, y1: y0 });
  rects.push({ x0: x0 + thick, y0: y0 + thick, x1: right, y1: bottom });
}

/** Marks and label of one film. Marks are at the same device pixels on every film of a job. */
export function sheetFurniture(
  layout: SheetLayout,
  wanted: JobSheet['film']['marks'],
  lines: readonly [string, string],
  font: LabelFont,
  options: FurnitureOptions = { mirrored: false, marks: true, label: true },
): SheetFurniture {
  const px = (mm: number) => mmToPx(mm, layout.dpi);
  const thick = Math.max(1, Math.round(px(wanted.lineMm)));
  const rects: Rects = [];
  const rings: Rings = [];
  if (options.marks) {
    for (const mark of layout.marks) drawMark(mark, wanted, layout.dpi, thick, rects, rings);
    for (const { x0Mm, y0Mm, x1Mm, y1Mm } of layout.lines) {
      const x0 = Math.round(px(x0Mm));
      const y0 = Math.round(px(y0Mm));
      const upright = x0Mm === x1Mm;
      rects.push({
        x0: upright ? Math.round(px(x0Mm) - thick / 2) : x0,
        y0: upright ? y0 : Math.round(px(y0Mm) - thick / 2),
        x1: upright ? Math.round(px(x0Mm) - thick / 2) + thick : Math.round(px(x1Mm)),
        y1: upright ? Math.round(px(y1Mm)) : Math.round(px(y0Mm) - thick / 2) + thick,
      });
    }
  }
  if (!options.label) return { rects, rings, text: [], textRows: [0, 0] };
  const { titleMm, textMm } = layout.label;
  const box = options.mirrored
    ? { ...layout.label.box, x: layout.widthMm - layout.label.box.x - layout.label.box.width }
    : layout.label.box;
  const title = setLine(font, lines[0], px(titleMm), px(box.width), px(box.x), px(box.y + titleMm));
  const second = px(box.y + titleMm * 1.5 + textMm);
  const text = setLine(font, lines[1], px(textMm), px(box.width), px(box.x), second);
  const outlines = [...title, ...text];
  return { rects, rings, text: outlines, textRows: rowsOf(outlines) };
}

/** Between the parts of a label's line. */
const JOINT = '  ·  ';

/** A line set smaller where it would run out of its box, down to two thirds, then cut before its last part, which is the date. */
function setLine(font: LabelFont, text: string, size: number, room: number, x: number, y: number): Outlines {
  const { width, outlines } = font.outline(text, size, x, y);
  if (width <= room) return outlines;
  const fitted = size * Math.max(2 / 3, room / width);
  const joint = text.lastIndexOf(JOINT);
  const tail = joint > 0 ? text.slice(joint) : '';
  let head = joint > 0 ? text.slice(0, joint) : text;
  while (head.length > 1 && font.outline(head + tail, fitted, x, y).width > room)
    head = head.slice(0, -2) + '…';
  return font.outline(head + tail, fitted, x, y).outlines;
}

/** Calls back for runs of pixels in rows of a bitmap; ink is added, nothing is taken away. */
function runPainter(bits: Uint8Array, firstRow: number, widthPx: number) {
  const rowBytes = (widthPx + 7) >> 3;
  return (row: number, from: number, to: number): void => {
    const base = (row - firstRow) * rowBytes;
    const end = Math.min(widthPx, to);
    for (let x = Math.max(0, from); x < end; x++) bits[base + (x >> 3)]! |= 128 >> (x & 7);
  };
}

/**
 * Paints the marks into rows of a bitmap.
 * @param bits rows * rowBytes, most significant bit leftmost, 1 = black.
 */
export function paintMarks(
  furniture: SheetFurniture,
  firstRow: number,
  rows: number,
  widthPx: number,
  bits: Uint8Array,
): void {
  const run = runPainter(bits, firstRow, widthPx);
  const last = firstRow + rows;
  for (const { x0, y0, x1, y1 } of furniture.rects) {
    for (let y = Math.max(firstRow, y0); y < Math.min(last, y1); y++) run(y, x0, x1);
  }
  for (const { cx, cy, inner, outer } of furniture.rings) {
    const from = Math.max(firstRow, Math.floor(cy - outer));
    for (let y = from; y < Math.min(last, Math.ceil(cy + outer)); y++) {
      const dy = y + 0.5 - cy;
      const half = Math.sqrt(Math.max(0, outer * outer - dy * dy));
      const hole = Math.sqrt(Math.max(0, inner * inner - dy * dy));
      run(y, Math.round(cx - half), Math.round(cx - hole));
      run(y, Math.round(cx + hole), Math.round(cx + half));
    }
  }
}

function rowsOf(outlines: Outlines): [from: number, to: number] {
  let [from, to] = [Infinity, -Infinity];
  for (const points of outlines) {
    for (let k = 1; k < points.length; k += 2) {
      from = Math.min(from, points[k]!);
      to = Math.max(to, points[k]!);
    }
  }
  return [Math.floor(from), Math.ceil(to)];
}

/** Paints the label into rows of a bitmap, after the bitmap was mirrored if it is. */
export function paintLabel(
  furniture: SheetFurniture,
  firstRow: number,
  rows: number,
  widthPx: number,
  bits: Uint8Array,
): void {
  const [from, to] = furniture.textRows;
  if (from < firstRow + rows && to > firstRow) {
    fillOutlines(furniture.text, firstRow, firstRow + rows, widthPx, bits);
  }
}

/**
 * Fills outlines by the non-zero rule, into rows of a bitmap; a pixel is in when its centre is.
 * @param lastRow the row after the last one.
 */
export function fillOutlines(
  outlines: Outlines,
  firstRow: number,
  lastRow: number,
  widthPx: number,
  bits: Uint8Array,
): void {
  const run = runPainter(bits, firstRow, widthPx);
  const crossings = new Map<number, { x: number; winding: number }[]>();
  for (const points of outlines) {
    const count = points.length / 2;
    for (let k = 0; k < count; k++) {
      const next = (k + 1) % count;
      const ax = points[k * 2]!;
      const ay = points[k * 2 + 1]!;
      const bx = points[next * 2]!;
      const by = points[next * 2 + 1]!;
      if (ay === by) continue;
      const from = Math.max(firstRow, Math.ceil(Math.min(ay, by) - 0.5));
      const to = Math.min(lastRow, Math.ceil(Math.max(ay, by) - 0.5));
      for (let row = from; row < to; row++) {
        const x = ax + ((row + 0.5 - ay) / (by - ay)) * (bx - ax);
        const list = crossings.get(row) ?? [];
        list.push({ x, winding: by > ay ? 1 : -1 });
        crossings.set(row, list);
      }
    }
  }
  for (const [row, list] of crossings) {
    list.sort((p, q) => p.x - q.x);
    let winding = 0;
    for (let k = 0; k + 1 < list.length; k++) {
      winding += list[k]!.winding;
      if (winding !== 0) run(row, Math.ceil(list[k]!.x - 0.5), Math.ceil(list[k + 1]!.x - 0.5));
    }
  }
}
