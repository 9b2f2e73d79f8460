export {
  compensateGain,
  dotGain,
  filmToneTable,
  gainCurves,
  isPlain,
  smallestDot,
  type FilmToneRule,
} from './gain';
export { inverseOf, monotoneCurve, parseReadings, risingTones, type TonePair } from './measuredTones';
