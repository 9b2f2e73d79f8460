import { z } from 'zod';
import { share } from './layerSchema';
import { LIMITS, TEXTURES } from './vocabulary';

/** A worn texture: holes through the plates of a job, where its print looks worn. */
export const textureSchema = z.strictObject({
  /** One of the application's own, or a picture that was added. */
  kind: z.enum([...TEXTURES, 'picture']),
  /** Set for a picture, and for it alone. */
  picture: z
    .strictObject({
      /** Of its samples, not of the file that they came from. */
      sha256: z.string().regex(/^[0-9a-f]{64}$/, 'must be a SHA-256 in hexadecimal'),
      fileName: z.string().min(1).max(200),
      /** Its height over its width. */
      aspect: z.number().min(0.05).max(20),
      /** Whether its light parts are worn away first; else the dark ones are. */
      light: z.boolean(),
    })
    .nullable()
    .default(null),
  /** Share of the print that is worn away; for wear of the edges the share at the print's border. */
  strength: z.number().min(0).max(LIMITS.maxWear),
  /** 1: holes with clean edges; less of it breaks them up into grain. */
  contrast: share,
  scale: z.number().min(LIMITS.minTextureScale).max(LIMITS.maxTextureScale),
  /** Counter-clockwise as seen on the print. */
  angleDeg: z.number().min(-360).max(360),
  /** How far it is moved from the print's top left corner, in mm. */
  xMm: z.number().min(-LIMITS.maxPrintMm).max(LIMITS.maxPrintMm),
  yMm: z.number().min(-LIMITS.maxPrintMm).max(LIMITS.maxPrintMm),
  /** Set: the same once more, turned by so much against the first; holes of both count. */
  secondDeg: z.number().min(-360).max(360).nullable(),
  /** Plates that are not worn. */
  spared: z.array(z.string()).max(LIMITS.maxPlates),
});

export type Texture = z.infer<typeof textureSchema>;
