import { OPAQUE_ALPHA } from '@/core/artwork';
import { formatHexColour, linearFromRgb8, parseHexColour } from '@/core/colour';
import {
  type PlateJob,
  artworkLight,
  artworkNeed,
  artworkPixel,
  colourArea,
  encodeRgba,
  labelsForPlates,
  outlineAt,
  plateArtworkNeed,
  printGrid,
  surveyBands,
  surveyGrid,
} from '@/core/pipeline';
import { largestLabels } from '@/core/separation';
import { garmentOf } from '@/core/sheet';
import type { AreaRequest, PlaceRequest } from './requests';
import type { TileStore } from './tileStore';

/** What stands at a place of the artwork, and how far it reaches. */

/** The artwork's colour at one place, at the artwork's own resolution or the film's; null where it is transparent. */
export async function colourAt(tiles: TileStore, { sheet, xMm, yMm }: PlaceRequest): Promise<string | null> {
  const grid = printGrid(sheet, sheet.film.dpi);
  const at = { x: Math.floor(xMm * grid.pxPerMm), y: Math.floor(yMm * grid.pxPerMm), width: 1, height: 1 };
  const need = artworkNeed(sheet, grid, at, 1);
  const { rect } = need;
  if (rect.width === 0 || rect.height === 0) return null;
  const pixel = artworkPixel(sheet, grid, need, at) * 4;
  return tiles.use(sheet, need, ({ data }) =>
    data[pixel + 3]! < OPAQUE_ALPHA
      ? null
      : formatHexColour([data[pixel]!, data[pixel + 1]!, data[pixel + 2]!]),
  );
}

/** The area of one flat colour that a place belongs to: the colour's index and an outline; null where no colour stands. */
export async function labelOutline(
  tiles: TileStore,
  job: PlateJob,
  { sheet, xMm, yMm }: PlaceRequest,
): Promise<ReturnType<typeof outlineAt>> {
  const grid = surveyGrid(sheet);
  const whole = new Uint8Array(grid.widthPx * grid.heightPx);
  for (const band of surveyBands(grid)) {
    const labels = await tiles.use(sheet, plateArtworkNeed(job, grid, band), (art) =>
      labelsForPlates(job, grid, band, art),
    );
    const { rect } = labels;
    const largest = largestLabels(labels);
    for (let row = 0; row < band.height; row++) {
      const from = (band.y + row - rect.y) * rect.width - rect.x;
      whole.set(largest.subarray(from, from + grid.widthPx), (band.y + row) * grid.widthPx);
    }
  }
  return outlineAt(grid, whole, xMm, yMm);
}

/** The outline of the area of like colours that a place belongs to, as fractions of the artwork; null beyond the print. */
export async function areaOutline(
  tiles: TileStore,
  { sheet, closeness, ...place }: AreaRequest,
): Promise<ReturnType<typeof colourArea>> {
  const grid = surveyGrid(sheet);
  const codes = new Uint32Array(grid.widthPx * grid.heightPx);
  const ground = linearFromRgb8(parseHexColour(garmentOf(sheet).colour));
  for (const band of surveyBands(grid)) {
    const need = artworkNeed(sheet, grid, band, 1);
    const light = await tiles.use(sheet, need, (art) =>
      artworkLight(sheet, grid, band, need, art, () => ground),
    );
    const data = encodeRgba(light);
    codes.set(new Uint32Array(data.buffer, data.byteOffset, data.length / 4), band.y * grid.widthPx);
  }
  return colourArea(grid, codes, place, closeness);
}
