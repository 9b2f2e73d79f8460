export {
  artworkDpi,
  checkAngles,
  checkCoverage,
  checkSheet,
  judgeResolution,
  type Finding,
  type PlateSurvey,
  type PrintPlace,
  type ResolutionJudgement,
  type Severity,
  type Step,
} from './findings';
