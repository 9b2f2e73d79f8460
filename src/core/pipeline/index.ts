export { artworkLight, type Ground } from './artworkLight';
export { DifferenceCounter, type Difference } from './compare';
export { evaluatePlates, plateArtworkNeed, preparePlateJob, type PlateJob } from './evaluatePlates';
export {
  FilmStripMaker,
  STRIP_ROWS,
  planFilms,
  storeBytes,
  type FilmPlan,
  type FilmStrip,
  type StripPlanes,
} from './filmStrips';
export { FILM_GROUND, filmLight, predictPrint, type LightPlane } from './predictPrint';
export {
  artworkNeed,
  levelCount,
  levelSide,
  planeMapping,
  printGrid,
  type ArtworkNeed,
  type PrintGrid,
} from './printGrid';
export {
  clipToPrint,
  drawDown,
  encodeRgba,
  viewLevel,
  type View,
  type ViewLevel,
  type ViewPart,
} from './view';
