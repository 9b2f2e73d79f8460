export {
  type InkCandidate,
  type InkSearch,
  type InkSet,
  type InkSwap,
  chooseInks,
  measure,
  scoreOf,
  swapEach,
  withoutEach,
} from './chooseInks';
export { CUSTOM_OPACITY, customInk, type CustomInk } from './customInk';
export { type Closeness, type ClosenessByGround, GAIN_ERROR, judgeInks, solveColours } from './judgeInks';
export { ColourCount, type WeighedColour } from './weighColours';
export { ColourSolver, type Anchor } from './colourSolver';
export { cellsOf } from './cellModel';
export { modelOf } from './nestedModel';
export {
  NOTHING,
  StackModel,
  type CellPlace,
  type Ground,
  type InkCost,
  type InkStack,
  type PrintModel,
  type StackInk,
} from './inkStack';
export { TABLE_SIDE } from './codes';
export { solveTable } from './solveTable';
export { toneFields, type FieldsRequest } from './toneFields';
export {
  FadeTables,
  type TableWish,
  ToneTable,
  canBeDraft,
  keepTable,
  knownTable,
  tableKey,
  tableOf,
  tablesOf,
  toneTableOf,
} from './toneTable';
