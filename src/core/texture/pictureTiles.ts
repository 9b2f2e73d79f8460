import { KerameusError } from '../units';

/** Pixels along a side of a picture that a texture is made of, however large its file is: pictures are sampled to this when they come in. */
export const PICTURE_SIDE = 1024;

const pictures = new Map<string, Uint8Array>();
const MOST_PICTURES = 4;

/**
 * Gives this thread the picture of a texture, so that masks can be made of it.
 *
 * @param sha256 of its bytes: it never changes.
 * @param grey PICTURE_SIDE * PICTURE_SIDE values, 0 = black.
 */
export function givePicture(sha256: string, grey: Uint8Array): void {
  pictures.delete(sha256);
  pictures.set(sha256, grey);
  const [oldest] = pictures.keys();
  if (pictures.size > MOST_PICTURES) pictures.delete(oldest!);
}

/** Whether this thread has a picture already. */
export function hasPicture(sha256: string): boolean {
  return pictures.has(sha256);
}

/** The picture of a texture. Throws KerameusError `texture-missing` where it was not given before. */
export function pictureOf(sha256: string): Uint8Array {
  const grey = pictures.get(sha256);
  if (grey) return grey;
  throw new KerameusError({
    code: 'texture-missing',
    message: 'The picture of this job’s texture is not here.',
    remedy: 'Add the picture again in the Fit step, or put it beside the job sheet.',
  });
}
