import type { AddedTexture } from '@/protocol/tasks';
import type { ArtworkFacts } from '../artwork';
import { hashSamples } from './textureStore';

/** Values from here on are light. */
const LIGHT = 128;

/** What a job's sheet is to say of a picture that was sampled as a texture, and which share of it is dark. */
export function textureFacts(grey: Uint8Array, facts: ArtworkFacts): AddedTexture {
  const { fileName, widthPx, heightPx } = facts;
  return {
    picture: {
      sha256: hashSamples(grey),
      fileName,
      aspect: Math.min(20, Math.max(0.05, heightPx / widthPx)),
      light: false,
    },
    dark: grey.reduce((sum, value) => sum + +(value < LIGHT), 0) / grey.length,
  };
}
