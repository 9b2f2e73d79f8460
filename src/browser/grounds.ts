import { type LinearRgb, linearFromRgb8, parseHexColour } from '@/core/colour';
import { FILM_GROUND } from '@/core/pipeline';
import type { DrawRequest } from './requests';

/** Light and dark squares behind transparent artwork, in linear light; 4 mm wide. */
const CHECKER_MM = 4;
const CHECKER = [
  [0.62, 0.62, 0.62],
  [0.5, 0.5, 0.5],
] as const;

/** @param pxPerMm of the grid that the places are counted in. */
export function checkerOf(pxPerMm: number): (x: number, y: number) => LinearRgb {
  const step = CHECKER_MM * pxPerMm;
  return (x, y) => CHECKER[(Math.floor(x / step) + Math.floor(y / step)) & 1]!;
}

/** What lies round the print: garment, clear film, paper. */
export function groundOf(request: DrawRequest): LinearRgb {
  if (request.subject === 'artwork') return [0.75, 0.75, 0.75];
  if (request.subject === 'difference' || request.subject === 'reasons')
    return linearFromRgb8([244, 244, 242]);
  if (request.subject === 'film' && request.plateId !== null) return FILM_GROUND;
  return linearFromRgb8(parseHexColour(request.garment.colour));
}
