export { type Affine, type Box, IDENTITY, compose, invert, mapBox, unionBoxes } from './affine';
export { Budget, REGION_STEPS } from './budget';
export * from './drawing';
export { DrawingRenderer, viewMap } from './drawRegion';
export { DrawingLevel } from './drawingLevel';
export { geometryBox, listHull, listOf, outlineBox } from './outlineBox';
export { DRAWING_FORM, readStoredDrawing, storeDrawing } from './storedDrawing';
