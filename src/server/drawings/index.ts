export { type FlattenedFile, type PictureDecoder, flattenDrawing, renderPage } from './flattenDrawing';
export type { FilterPictures } from './readTree';
