export { ColourSolver, type Anchor } from './colourSolver';
export { StackModel, type InkCost, type InkStack, type StackInk } from './inkStack';
export { TABLE_SIDE } from './codes';
export { solveTable } from './solveTable';
export { toneFields, type FieldsRequest } from './toneFields';
export { ToneTable, toneTableOf } from './toneTable';
