import { type LabelFont, type SheetFurniture, labelLines, sheetFurniture } from '../film';
import type { FilmPlan } from './planFilms';

/** Marks and label of each film of a plan, in the order of its plates. */
export function filmFurniture(plan: FilmPlan, font: LabelFont): SheetFurniture[] {
  const { sheet, layout, plates, printing } = plan;
  const { marks, label, emulsion } = sheet.film;
  return plates.map((plate) =>
    sheetFurniture(layout, marks, labelLines(sheet, plate, printing.length), font, {
      mirrored: emulsion === 'down',
      marks: plate.withMarks,
      label: label && plate.withMarks,
    }),
  );
}
