export { ciede2000 } from './ciede2000';
export { layerOver, printOver, type InkOptics } from './inkModel';
export {
  D50,
  LINEAR_TO_WHITE_SHARES,
  deltaE76,
  labCurve,
  labCurveSlope,
  labFromLinear,
  linearFromLab,
  labFromRgb8,
  labFromXyzD50,
  xyzD50FromLinear,
  type Lab,
  type Xyz,
} from './lab';
export { nameColour } from './nameColour';
export {
  ENCODE_STEPS,
  ENCODE_TABLE,
  LINEAR_OF_CODE16,
  LINEAR_OF_CODE8,
  decodeSrgb,
  encodeSrgb,
  encodeSrgb8,
  formatHexColour,
  linearFromRgb8,
  parseHexColour,
  rgb8FromLinear,
  type LinearRgb,
  type Rgb8,
} from './srgb';
