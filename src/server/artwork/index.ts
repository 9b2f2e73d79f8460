export {
  analyseArtwork,
  analysisLevel,
  isWholeAnalysis,
  notesOf,
  notesOfFile,
  type ArtworkAnalysis,
} from './analyseArtwork';
export {
  openArtwork,
  type ArtworkFiles,
  type ArtworkSource,
  type RasterLevel,
  type TextureFile,
} from './artworkSource';
export { rasterFactsApart } from './askRaster';
export {
  artworkFor,
  hashFile,
  identifyArtwork,
  plainName,
  readHead,
  takeInArtwork,
  type ArtworkFacts,
  type TakenArtwork,
} from './openArtworkFile';
export { isZip, sniffArtwork } from './sniffArtwork';
