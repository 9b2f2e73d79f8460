import { type JobSheet, garmentOf } from '@/core/sheet';
import { labFromRgb8, parseHexColour } from '@/core/colour';

/** The drawing's own units: 1000 wide and 1060 high, garment included. */
export const GARMENT_DRAWING = { width: 1000, height: 1060 };

/** Chest of the drawn garment, in its units and in millimetres of a medium shirt: prints stand on it to scale. */
const CHEST_UNITS = 560;
const CHEST_MM = 530;
const COLLAR_Y = 128;
/** From the collar to the top of a print; about four fingers. Common practice, no source. */
const BELOW_COLLAR_MM = 80;

const OUTLINE =
  'M378 84 Q500 150 622 84 L706 118 Q790 150 842 232 L938 420 L812 484 L780 412 L780 1000 Q500 1030 220 1000 L220 412 L188 484 L62 420 L158 232 Q210 150 294 118 Z';
const SEAMS =
  'M378 84 Q500 176 622 84 M366 90 Q500 204 634 90 M220 412 Q226 300 294 214 M780 412 Q774 300 706 214 M82 410 L206 474 M918 410 L794 474 M220 980 Q500 1010 780 980';

export interface PlacedPrint {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Where the print lies on the drawn garment, to scale, centred below the collar. */
export function placePrint(print: JobSheet['print']): PlacedPrint {
  const scale = CHEST_UNITS / CHEST_MM;
  const width = print.widthMm * scale;
  const height = print.heightMm * scale;
  return { x: (GARMENT_DRAWING.width - width) / 2, y: COLLAR_Y + BELOW_COLLAR_MM * scale, width, height };
}

/** The print on a drawn garment as SVG; the print is a PNG on the garment's own colour. */
export function drawGarment(sheet: JobSheet, printPng: Buffer): string {
  const { width, height } = GARMENT_DRAWING;
  const at = placePrint(sheet.print);
  const light = labFromRgb8(parseHexColour(garmentOf(sheet).colour))[0] > 55;
  const line = light ? '#00000055' : '#ffffff44';
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">` +
    `<rect width="${width}" height="${height}" fill="#f4f4f2"/>` +
    `<path d="${OUTLINE}" fill="${garmentOf(sheet).colour}" stroke="#8f8f8b" stroke-width="1.5"/>` +
    `<image x="${at.x}" y="${at.y}" width="${at.width}" height="${at.height}" xlink:href="data:image/png;base64,${printPng.toString('base64')}"/>` +
    `<path d="${SEAMS}" fill="none" stroke="${line}" stroke-width="2"/></svg>`
  );
}
