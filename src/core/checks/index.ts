export {
  artworkDpi,
  checkCoverage,
  checkSheet,
  judgeResolution,
  type Finding,
  type ResolutionJudgement,
} from './findings';
