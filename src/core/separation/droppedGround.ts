import { type Rgb8, ciede2000, labFromRgb8, parseHexColour } from '../colour';
import { type JobSheet, droppedBackground, garmentOf } from '../sheet';
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

/** A background that is left to the garment. */
export interface DroppedGround {
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
  const isAnyway = isWhite(rgb) || isGarmentColour(colour, garmentColour);
  return { rgb, difference: apart(colour, garmentColour), counted: !isAnyway };
}
