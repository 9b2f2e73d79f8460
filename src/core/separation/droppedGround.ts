import { type Rgb8, ciede2000, labFromRgb8, parseHexColour } from '../colour';
import { type JobSheet, droppedBackground, garmentOf } from '../sheet';
import { type LumaMap, adjustColour } from '../artwork';
import { lumaMapOf } from './adjust';
import { isWhite } from './baseStrength';

/** A colour this near to the garment's (CIEDE2000) is left to the garment. */
const GARMENT_DISTANCE = 6;

function apart(colour: string, garmentColour: string): number {
  return ciede2000(labFromRgb8(parseHexColour(colour)), labFromRgb8(parseHexColour(garmentColour)));
}

/** Whether the garment shows a colour anyway. */
export function isGarmentColour(colour: string, garmentColour: string): boolean {
  return apart(colour, garmentColour) < GARMENT_DISTANCE;
}

function adjustRgb(map: LumaMap, [r, g, b]: Rgb8): Rgb8 {
  const code = adjustColour(map, r | (g << 8) | (b << 16));
  return [code & 255, (code >> 8) & 255, (code >> 16) & 255];
}

/** A background that is left to the garment. */
export interface DroppedGround {
  /** As the job changes the colours of its artwork. */
  readonly rgb: Rgb8;
  /** CIEDE2000 between it and the garment. */
  readonly difference: number;
  /** Whether leaving it out changes the design: it is no paper, and the garment does not show it anyway. */
  readonly counted: boolean;
}

/**
 * What a job drops with its background; null where it drops none. Page, report and findings judge it alike.
 *
 * @param garmentColour of the garment that shows in its place.
 */
export function droppedGround(
  sheet: JobSheet,
  garmentColour: string = garmentOf(sheet).colour,
): DroppedGround | null {
  const background = droppedBackground(sheet);
  if (!background) return null;
  const { colour } = background;
  const rgb = parseHexColour(colour);
  const map = lumaMapOf(sheet);
  const isAnyway = isWhite(rgb) || isGarmentColour(colour, garmentColour);
  return {
    rgb: map ? adjustRgb(map, rgb) : rgb,
    difference: apart(colour, garmentColour),
    counted: !isAnyway,
  };
}
