export { cleanArtwork, MOST_CLEANED_PX, type CleanedArtwork, type CleaningRequest } from './cleanArtwork';
export { areasSvg, type DrawnSize, type Outline, type PaintedArea } from './areasSvg';
export type { Frame, Specks } from './pieces';
