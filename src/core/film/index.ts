export { NAME_FIELDS, checkNamePattern, filmBaseNames } from './filmNames';
export { type BoxMm, type MarkLine, type RegistrationMark } from './boxes';
export { describeScreen, labelLines } from './filmLabel';
export { filmSize, layoutSheet, type FilmSize, type SheetLabel, type SheetLayout } from './layoutSheet';
export { WEDGE_STEPS } from './placeMarks';
export {
  MARK_INNER,
  fillOutlines,
  paintLabel,
  paintMarks,
  sheetFurniture,
  type FurnitureOptions,
  type SheetFurniture,
} from './paintSheet';
export { invertBits, mirrorRows, turnClockwise } from './turnBitmap';
export { type GangPlace, type GangSheet, gangFilms, gangsOf } from './gangFilms';
export { openLabelFont, type LabelFont } from './textOutlines';
