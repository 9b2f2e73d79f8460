export { NAME_FIELDS, checkNamePattern, filmBaseNames } from './filmNames';
export {
  WEDGE_STEPS,
  describeScreen,
  labelLines,
  layoutSheet,
  type BoxMm,
  type MarkLine,
  type RegistrationMark,
  type SheetLabel,
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
export { invertBits, mirrorRows } from './turnBitmap';
export { openLabelFont, type LabelFont } from './textOutlines';
