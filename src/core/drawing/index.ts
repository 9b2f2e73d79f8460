export { type Affine, type Box, compose, invert, mapBox } from './affine';
export { Budget, REGION_STEPS } from './budget';
export {
  BLEND_MODES,
  CAPS,
  JOINS,
  SPREADS,
  VERB,
  type BlendMode,
  type Clip,
  type Drawing,
  type DrawingNode,
  type DrawingPicture,
  type DrawingPlate,
  type Gradient,
  type GradientStop,
  type GroupNode,
  type Mask,
  type NodeList,
  type Paint,
  type Pattern,
} from './drawing';
export { viewMap } from './drawRegion';
export { DrawingLevel } from './drawingLevel';
export { GradientColour, STOP_NUMBERS, type GradientTable } from './gradientColour';
export { PLAIN_DRAWING_KERNELS, paintGradient, type DrawingKernels } from './paintGradient';
export { paintsOnlyWhite, solidPaints } from './solidPaints';
export { geometryBox, listOf, outlineBox } from './outlineBox';
export { readStoredDrawing, storeDrawing, withStoredPlates } from './storedDrawing';
