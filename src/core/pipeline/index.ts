export { filmKey } from './filmKey';
export { artworkLight, type Ground, type LightPlane } from './artworkLight';
export { DIFFERENCE_SCALE, DifferencePainter, leftBare, wantGarment, type Difference } from './compare';
export { dotPlanes, heldPlanes, printedPlanes, type DotsOf } from './dots';
export { eyeBlurMm, stepBack, stepBackMargin, widerView } from './stepBack';
export { MEASURING_STEPS, makeWedgeFilm, type WedgeFilm } from './wedgeFilm';
export { FilmTones, plateTile, smallestDotUm, smallestShare, toneRule } from './filmTones';
export {
  evaluatePlates,
  labelsForPlates,
  labelsMargin,
  outlineAt,
  plateArtworkNeed,
  platesKey,
  platesOfLabels,
  preparePlateJob,
  referenceJob,
  type PlateJob,
} from './evaluatePlates';
export { filmFurniture } from './filmFurniture';
export { FilmStripMaker, type FilmStrip } from './filmStrips';
export { planFilms, type FilmPlan } from './planFilms';
export { storeBytes, type StripPlanes } from './stripPlanes';
export { FILM_GROUND, predictFilm, predictPrint, type Pixels } from './predictPrint';
export {
  artworkNeed,
  artworkPixel,
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
export { makeReading, readingSideMm, readingView, type Reading } from './reading';
export { gapsKey } from './gapSurvey';
export { colourArea } from './colourArea';
export { ColourSurveyor, coloursKey, type ArtworkColours } from './artworkColours';
export {
  MOST_SCREENS,
  allInks,
  bestOffer,
  isOfferedEnough,
  fitsPress,
  inkIdea,
  inkOffers,
  offersKey,
  presentKey,
  withOffer,
  presentInks,
  type InkIdea,
  type InkOffer,
  type InkQuestion,
  type PlateWorth,
  type PresentInks,
} from './inkAdvice';
export { AreaSurveyor, EdgeSurveyor, type SurveyStep } from './surveySteps';
export {
  type AreaFound,
  type EdgeFound,
  type PlateThumb,
  type Survey,
  surveyBands,
  SurveyCounter,
  surveyGrid,
  surveyKey,
} from './survey';
export { crispPlanes, withFaint } from './crispPlanes';
export { EdgeCounter } from './edgeMargins';
export { edgeGrid, hasEdgeSurvey } from './edgeSurvey';
export { holdsOf, type HeldTones } from './heldTones';
export { SmallPieceCounter } from './pieceSurvey';
export { ThinCounter, lineLimitMm } from './thinPlaces';
export { type ScreenShift, type ScreenShifts, shiftPlanes, shiftReach, shiftReachMm } from './shiftPlanes';
export { platesBits, type BitsRequest } from './plateBits';
export {
  dotsScore,
  judgeArrangements,
  judgeDots,
  tonesMeet,
  type ArrangedDots,
  type DotsJudged,
} from './judgeDots';
export { shiftCost, type ShiftCost } from './shiftCost';
export { labelsKey } from './sourceSetting';
export { PrintableColours, tablesFor } from './fullTone';
export { REASON_COLOURS, ReasonFinder } from './reasons';
