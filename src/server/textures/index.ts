export { samplePicture } from './samplePicture';
export {
  fetchTexture,
  hashSamples,
  pngOfSamples,
  readTexture,
  samplesOfPng,
  storeTexture,
  textureName,
  texturePngName,
} from './textureStore';
