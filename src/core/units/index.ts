export { finished } from './finished';
export { KerameusError, describeError, toErrorReport, type ErrorReport } from './error';
export {
  MM_PER_INCH,
  MM_PER_POINT,
  MM_PER_USER_PIXEL,
  checkLengthMm,
  formatBoth,
  formatLength,
  mmToPx,
  parseLengthMm,
  parseSheetSizeMm,
  pxToMm,
  trimNumber,
  type LengthRule,
  type LengthUnit,
} from './length';
