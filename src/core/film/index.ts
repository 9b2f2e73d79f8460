export { filmBaseName } from './filmNames';
export {
  MARK_ARM_MM,
  MARK_LINE_MM,
  MARK_RING_MM,
  labelLines,
  layoutSheet,
  type BoxMm,
  type RegistrationMark,
  type SheetLabel,
  type SheetLayout,
} from './layoutSheet';
export {
  paintLabel,
  paintMarks,
  sheetFurniture,
  type FurnitureOptions,
  type SheetFurniture,
} from './paintSheet';
export { invertBits, mirrorRows } from './turnBitmap';
export { openLabelFont, type LabelFont } from './textOutlines';
