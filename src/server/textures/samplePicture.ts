import { sampleArtwork } from '@/core/artwork';
import { levelCount } from '@/core/pipeline';
import { PICTURE_SIDE } from '@/core/texture';
import { type ArtworkFacts, type ArtworkFiles, openArtwork } from '../artwork';

/** Samples for each value along a side: odd, so that an edge through its middle makes it neither dark nor light. */
const PER_VALUE = 3;
const FINE = PER_VALUE * PICTURE_SIDE;
/** ITU-R BT.709, of coded values. */
const LUMA = [0.2126, 0.7152, 0.0722] as const;

/** A picture or a drawing in grey, on white where it is transparent: PICTURE_SIDE values along both sides, whatever its proportions are. */
export function samplePicture(files: ArtworkFiles, { kind, widthPx, heightPx }: ArtworkFacts): Uint8Array {
  const source = openArtwork(files);
  try {
    let level = 0;
    while (level + 1 < levelCount(widthPx, heightPx) && widthPx >> (level + 1) >= FINE) level++;
    const { pixels } = sampleArtwork(source.reader(kind === 'vector' ? FINE : level), FINE, FINE);
    const grey = new Uint8Array(PICTURE_SIDE * PICTURE_SIDE);
    for (let y = 0; y < PICTURE_SIDE; y++) {
      for (let x = 0; x < PICTURE_SIDE; x++) {
        let sum = 0;
        for (let row = PER_VALUE * y; row < PER_VALUE * (y + 1); row++) {
          for (let k = 0; k < PER_VALUE; k++) sum += greyOf(pixels[row * FINE + PER_VALUE * x + k]!);
        }
        grey[y * PICTURE_SIDE + x] = Math.round(sum / PER_VALUE ** 2);
      }
    }
    return grey;
  } finally {
    source.close();
  }
}

/** @param pixel red lowest, alpha highest. */
function greyOf(pixel: number): number {
  const alpha = (pixel >>> 24) / 255;
  const code = (shift: number) => (pixel >>> shift) & 255;
  const luma = LUMA[0] * code(0) + LUMA[1] * code(8) + LUMA[2] * code(16);
  return luma * alpha + 255 * (1 - alpha);
}
