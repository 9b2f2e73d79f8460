export { bareFrom, fitBase, fitHalo, fitPlates } from './fitPlates';
export { FitStages } from './fitStages';
export { cropPlanes, type PlatePlane, type PlatePlanes } from './platePlane';
export { strokeCores, strokeCoresHalo } from './strokeCores';
export { isDarkUnbased, labelTables } from './platesFromLabels';
export { ToneRows } from './toneRows';
