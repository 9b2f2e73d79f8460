export { samplePicture } from './samplePicture';
export { textureFacts } from './textureFacts';
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
