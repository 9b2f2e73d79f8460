export {
  NO_NOTES,
  checkColours,
  colourPrints,
  type ArtworkNotes,
  type ColourPrint,
  type ColourSurvey,
} from './colourFindings';
export { ARRANGEMENTS, arrangeDots, arrangementOf, type Arrangement } from './arrangeDots';
export {
  artworkDpi,
  checkAngles,
  checkCoverage,
  checkSheet,
  findingsOf,
  judgeResolution,
  type Finding,
  type PlateSurvey,
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
