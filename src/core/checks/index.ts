export {
  NO_NOTES,
  checkAreas,
  checkColours,
  checkGaps,
  colourPrints,
  type ArtworkNotes,
  type ColourPrint,
  type ColourSurvey,
  type GapSurvey,
  OFF_REASONS,
  type OffArea,
  type OffReason,
  type ReasonShares,
  type PrintDifference,
  type PieceSurvey,
} from './colourFindings';
export { ARRANGEMENTS, arrangeDots, arrangementOf, arrangementsOf, type Arrangement } from './arrangeDots';
export {
  artworkDpi,
  checkSheet,
  findingsOf,
  judgeResolution,
  type Finding,
  type PrintSurvey,
  type PrintPlace,
  type ResolutionJudgement,
  type Severity,
  type Step,
} from './findings';
export {
  adviseScreen,
  beatsOfPlates,
  describeBeat,
  frequenciesFor,
  greyLevels,
  moireCurve,
  riskWithMesh,
  shows,
  suggestScreens,
  type MoirePoint,
  type PlateBeat,
  type ScreenAdvice,
} from './screenAdvice';
export {
  type EdgeKind,
  type EdgePlace,
  type EdgeSurvey,
  type EdgeWay,
  type ShiftFault,
  shownArea,
  shownLength,
  survivesMm,
} from './shiftFindings';
export type { HoldSurvey, ThinSurvey } from './holdFindings';
export { type WearSurvey } from './textureFindings';
export { type PlateSurvey, checkAngles, checkCoverage } from './plateFindings';
export { type Remedy, remedyOf } from './remedies';
export { groupFindings, type FindingGroup } from './groupFindings';
export { type PagePlates } from './suppliedFindings';
