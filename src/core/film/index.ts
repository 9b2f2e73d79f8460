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
export { paintFurniture, sheetFurniture, type SheetFurniture } from './paintSheet';
export { openLabelFont, type LabelFont } from './textOutlines';
