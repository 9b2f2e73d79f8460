export { draftSetting, labelTables } from './draftSetting';
export { fitPlates } from './fitPlates';
export { FitStages } from './fitStages';
export { narrowPlaces } from './openings';
export { cropPlanes, type PlatePlane, type PlatePlanes } from './platePlane';
export type { ReadyStage } from './shapeStage';
export { fitGrowthMm, fitHalo, shapeStages, touchedBy } from './shapeStages';
export { strokeCores, strokeCoresHalo } from './strokeCores';
export { ToneRows } from './toneRows';
