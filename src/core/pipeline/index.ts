export { artworkLight, type Ground, type LightPlane } from './artworkLight';
export { DifferenceCounter, type Difference } from './compare';
export {
  evaluatePlates,
  labelsForPlates,
  labelsKey,
  labelsReach,
  plateArtworkNeed,
  platesKey,
  platesOfLabels,
  preparePlateJob,
  type PlateJob,
} from './evaluatePlates';
export {
  FilmStripMaker,
  STRIP_ROWS,
  planFilms,
  storeBytes,
  type FilmPlan,
  type FilmStrip,
  type StripPlanes,
} from './filmStrips';
export { FILM_GROUND, predictFilm, predictPrint, type Pixels } from './predictPrint';
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
  viewSpans,
  type View,
  type ViewLevel,
  type ViewPart,
} from './view';
