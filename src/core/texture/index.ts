export { TILE_MM, TILE_SIDE } from './ownTextures';
export { SAMPLE_MM, type TextureSample, textureSamples } from './textureSample';
export { PICTURE_SIDE, givePicture, hasPicture } from './pictureTiles';
export { tileOf, type TextureTile } from './textureTile';
export { type Keep, type Wear, baseWearMm, sampleHoles, sparedPlates, wearOf } from './wearMask';
