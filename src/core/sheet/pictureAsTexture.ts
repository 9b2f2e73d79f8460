import { DEFAULT_TEXTURE } from './presets';
import type { Texture } from './textureSchema';
import { LIMITS } from './vocabulary';

/**
 * A picture that was added as a texture: it wears as much as is dark in it, unless that is next to nothing or nearly all; where it lies, and how large it is, stays as
 * it was.
 *
 * @param dark share of the picture that is dark, 0..1.
 */
export function pictureAsTexture(
  texture: Texture | null,
  { picture, dark }: { readonly picture: NonNullable<Texture['picture']>; readonly dark: number },
): Texture {
  const strength = Math.min(LIMITS.maxWear, Math.max(0.01, dark));
  return { ...(texture ?? DEFAULT_TEXTURE), kind: 'picture', picture, strength };
}
