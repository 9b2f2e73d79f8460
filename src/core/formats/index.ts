export { PlainG4Encoder, VERTICAL_CODES, type G4Encoder } from './g4Encoder';
export { filmPdf, type FilmPage, type PageStream } from './pdf';
export { RUN_CODES, RUN_CODES_PER_COLOUR } from './runCodes';
export { tiffHead, type BilevelImage } from './tiff';
export {
  inkTiffHead,
  tintTransform,
  transparentPixels,
  uniqueInkNames,
  type InkImage,
  type NamedInk,
} from './inks';
export { bilevelPngHead, bilevelPngRows, pngChunk, withResolution } from './png';
