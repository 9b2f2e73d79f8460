import { labelLines } from '../film';
import type { JobSheet, Plate } from '../sheet';
import { platesKey } from './evaluatePlates';
import { groupOf } from './plateBits';

/** Equal for two states of a job only where the film of a plate is the same in both; which files are made of it does not count. */
export function filmKey(sheet: JobSheet, plate: Plate): string {
  const { formats: _formats, names: _names, gang: _gang, ...film } = sheet.film;
  const { id, withMarks, mesh, screen } = plate;
  // Dots that interlock with others depend on theirs.
  const number = groupOf(plate);
  const group = sheet.plates.filter((each) => number !== null && groupOf(each) === number);
  const own = JSON.stringify([
    film,
    id,
    withMarks,
    mesh,
    screen,
    group.map((each) => [each.id, each.mesh, each.screen]),
    labelLines(sheet, plate, sheet.plates.length),
  ]);
  return `${platesKey(sheet)}|${own}`;
}
