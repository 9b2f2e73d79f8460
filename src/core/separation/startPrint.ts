import { LIMITS } from '../sheet';
import { MM_PER_INCH } from '../units';

/** What a file says of its size. */
export interface SizeFacts {
  readonly widthPx: number;
  readonly heightPx: number;
  /** Null where it states none. */
  readonly ownWidthMm: number | null;
}

/** A usual full front, which a job opens with where the file states no size that can be believed. */
const USUAL_WIDTH_MM = 12 * MM_PER_INCH;
const MOST_HEIGHT_MM = 16 * MM_PER_INCH;
/** Nobody prints smaller than this, or larger: icons state half an inch, pictures at 72 dpi three feet. */
const LEAST_BELIEVED_MM = 2 * MM_PER_INCH;
const MOST_BELIEVED_MM = 20 * MM_PER_INCH;

/** The print size that a job opens with: the file's own where it can be a print's, else a usual one, at most 16 in high. */
export function startPrint({ widthPx, heightPx, ownWidthMm }: SizeFacts): {
  widthMm: number;
  chosen: boolean;
} {
  const ratio = heightPx / widthPx;
  const longer = (ownWidthMm ?? 0) * Math.max(1, ratio);
  const isBelieved = longer >= LEAST_BELIEVED_MM && longer <= MOST_BELIEVED_MM;
  const widthMm = isBelieved ? ownWidthMm! : Math.min(USUAL_WIDTH_MM, MOST_HEIGHT_MM / ratio);
  return { widthMm: Math.max(LIMITS.minPrintMm, Math.round(widthMm * 100) / 100), chosen: !isBelieved };
}
