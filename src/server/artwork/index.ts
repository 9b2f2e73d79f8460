export { analyseArtwork, analysisLevel, type ArtworkAnalysis } from './analyseArtwork';
export { openArtwork, type ArtworkFiles, type ArtworkSource, type RasterLevel } from './artworkSource';
export { decodeArtwork, hashFile, inspectArtwork, readHead, type ArtworkFacts } from './openArtworkFile';
export { readSvg } from './readSvg';
export { releaseRenderings, renderSvgTileAside, type TilePlace } from './renderSvg';
export { isZip, sniffArtwork } from './sniffArtwork';
