import { type SheetLayout, gangsOf, layoutSheet } from '@/core/film';
import type { JobSheet } from '@/core/sheet';
import { type ErrorReport, KerameusError } from '@/core/units';

interface FilmLayout {
  readonly layout: SheetLayout | null;
  readonly problem: ErrorReport | null;
}

let last: { readonly sheet: JobSheet; readonly found: FilmLayout } | null = null;

/** How the films of a job are laid out, or why they cannot be; the last answer is kept, since several parts of the page ask. */
export function filmLayout(sheet: JobSheet): FilmLayout {
  if (last?.sheet !== sheet) last = { sheet, found: tryLayout(sheet) };
  return last.found;
}

export function filmProblem(sheet: JobSheet): ErrorReport | null {
  return filmLayout(sheet).problem;
}

function tryLayout(sheet: JobSheet): FilmLayout {
  let layout: SheetLayout | null = null;
  try {
    layout = layoutSheet(sheet);
    gangsOf(sheet, layout, sheet.plates.length);
    return { layout, problem: null };
  } catch (thrown) {
    if (thrown instanceof KerameusError) return { layout, problem: thrown.toReport() };
    throw thrown;
  }
}
