import type { JobSheet } from '../sheet';
import { KerameusError, MM_PER_INCH, formatBoth, mmToPx } from '../units';
import { type FilmSize, type SheetLayout, filmSize } from './layoutSheet';

/** Between films on one sheet, and from its edges: room for the cut marks. */
const GAP_MM = 6;
/** Cut marks begin so far from a film's corner, and are so long. */
const CUT_GAP_MM = 0.5;
const CUT_LENGTH_MM = 4;

/** Where a film lies on a sheet that it shares; its left edge is on a whole byte. */
export interface GangPlace {
  /** Which of the films. */
  readonly film: number;
  readonly xPx: number;
  readonly yPx: number;
}

/** One sheet, or one length of a roll, with films beside each other. */
export interface GangSheet extends FilmSize {
  readonly places: readonly GangPlace[];
  /** Cut marks: at each corner of each film a line along either of its edges, outside of it. */
  readonly cuts: readonly { x0: number; y0: number; x1: number; y1: number }[];
}

/** The sheets on which the films of a job share; none where its files hold no such. Throws what `gangFilms` throws. */
export function gangsOf(sheet: JobSheet, layout: SheetLayout, count: number): GangSheet[] {
  const ganged = sheet.film.formats.some((format) => format === 'gang-pdf' || format === 'gang-tiff');
  return ganged ? gangFilms(filmSize(layout), count, sheet.film) : [];
}

/**
 * Lays films of one size out on larger sheets or on a roll, as many beside each other as there is room for, in their order. Throws
 * KerameusError `film-off-gang`, saying by how much one is too large.
 */
export function gangFilms(size: FilmSize, count: number, film: JobSheet['film']): GangSheet[] {
  const { gang, dpi } = film;
  const fitting = (room: number, each: number) => Math.floor((room - GAP_MM + 1e-6) / (each + GAP_MM));
  const across = fitting(gang.widthMm, size.widthMm);
  const down = gang.heightMm === null ? count : fitting(gang.heightMm, size.heightMm);
  if (across < 1 || down < 1) {
    const over = Math.max(
      size.widthMm + 2 * GAP_MM - gang.widthMm,
      gang.heightMm === null ? 0 : size.heightMm + 2 * GAP_MM - gang.heightMm,
    );
    throw new KerameusError({
      code: 'film-off-gang',
      parameter: 'gang',
      message: `A film of ${formatBoth(size.widthMm)} x ${formatBoth(size.heightMm)} with its cut marks is ${formatBoth(over)} too large for the ${gang.heightMm === null ? 'roll' : 'sheet'} that films share.`,
      remedy:
        'Choose a wider roll or a larger sheet for the ganged films, turn the films, or leave those files out.',
    });
  }
  const perSheet = across * down;
  const sheets = Array.from({ length: Math.ceil(count / perSheet) }, (_, k) =>
    Math.min(perSheet, count - k * perSheet),
  );
  const px = (mm: number) => Math.round(mmToPx(mm, dpi));
  const stepX = (size.widthPx + px(GAP_MM) + 7) & ~7;
  const stepY = size.heightPx + px(GAP_MM);
  const left = px(GAP_MM) & ~7;
  return sheets.map((films, sheet): GangSheet => {
    const rows = Math.ceil(films / across);
    const heightMm = gang.heightMm ?? Math.ceil(rows * (size.heightMm + GAP_MM) + GAP_MM);
    const places = Array.from({ length: films }, (_, k) => ({
      film: sheet * perSheet + k,
      xPx: left + (k % across) * stepX,
      yPx: px(GAP_MM) + Math.floor(k / across) * stepY,
    }));
    const thick = Math.max(1, px(film.marks.lineMm));
    return {
      widthMm: gang.widthMm,
      heightMm,
      widthPx: Math.floor((gang.widthMm * dpi) / MM_PER_INCH + 1e-6),
      heightPx: Math.floor((heightMm * dpi) / MM_PER_INCH + 1e-6),
      places,
      cuts: places.flatMap((place) => cutMarks(place, size, thick, px(CUT_GAP_MM), px(CUT_LENGTH_MM))),
    };
  });
}

function cutMarks(
  { xPx, yPx }: GangPlace,
  { widthPx, heightPx }: FilmSize,
  thick: number,
  gap: number,
  length: number,
): { x0: number; y0: number; x1: number; y1: number }[] {
  const [right, bottom] = [xPx + widthPx, yPx + heightPx];
  return [xPx, right].flatMap((x) =>
    [yPx, bottom].flatMap((y) => {
      // The line's outer side is the film's edge: cut along it.
      const [x0, y0] = [x === xPx ? xPx - thick : right, y === yPx ? yPx - thick : bottom];
      const beside = x === xPx ? [xPx - gap - length, xPx - gap] : [right + gap, right + gap + length];
      const beyond = y === yPx ? [yPx - gap - length, yPx - gap] : [bottom + gap, bottom + gap + length];
      return [
        { x0: beside[0]!, y0, x1: beside[1]!, y1: y0 + thick },
        { x0, y0: beyond[0]!, x1: x0 + thick, y1: beyond[1]! },
      ];
    }),
  );
}
