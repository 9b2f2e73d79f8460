import { type JobSheet, type Station, withRun } from '../sheet';

/** Each of these returns a sheet with another run; the one that is given is left alone. */

/** Moves the station at one place to another. */
export function moveStation(sheet: JobSheet, from: number, to: number): JobSheet {
  const run = [...sheet.run];
  const [station] = run.splice(from, 1);
  if (!station) return sheet;
  run.splice(to, 0, station);
  return withRun(sheet, run);
}

/** Puts a station behind the one at a place; -1 puts it first. */
export function insertStation(sheet: JobSheet, after: number, station: Station): JobSheet {
  return withRun(sheet, [...sheet.run.slice(0, after + 1), station, ...sheet.run.slice(after + 1)]);
}

/** Takes a station out; the only pass of a screen stays. */
export function removeStation(sheet: JobSheet, at: number): JobSheet {
  const station = sheet.run[at];
  if (!station || !canRemove(sheet, at)) return sheet;
  return withRun(
    sheet,
    sheet.run.filter((_, index) => index !== at),
  );
}

/** Whether a station may leave the run: a screen only when it prints another time. */
export function canRemove(sheet: JobSheet, at: number): boolean {
  const station = sheet.run[at];
  if (!station || station.kind !== 'screen') return station !== undefined;
  return sheet.run.filter((each) => each.kind === 'screen' && each.plateId === station.plateId).length > 1;
}
