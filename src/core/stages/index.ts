export { CURVE, MOST_CURVE_POINTS, curveSchema, type CurveSetting } from './curve';
export { PLAIN_CURVE, addPoint, dropPoint, movePoint, roomOf, type CurvePoints } from './curvePoints';
export type { ToneStage } from './toneStage';
export { mostTone, stageTable, stagedTone } from './stageTable';
export {
  TONE_STAGE_ORDER,
  throughStages,
  toneStageSchema,
  withStage,
  type ToneStageSetting,
} from './toneStages';
