export { NAME_FIELDS, checkNamePattern, filmBaseNames } from './filmNames';
export {
  WEDGE_STEPS,
  describeScreen,
  labelLines,
  filmSize,
  layoutSheet,
  type BoxMm,
  type MarkLine,
  type RegistrationMark,
  type SheetLabel,
  type FilmSize,
  type SheetLayout,
} from './layoutSheet';
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
