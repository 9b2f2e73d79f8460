import type { WearSurvey } from '../checks';
import { narrowPlaces } from '../fit';
import type { Rect } from '../geometry';
import { type RasterKernels, FRESH_MEMORY } from '../raster';
import type { JobSheet } from '../sheet';
import { sampleHoles } from '../texture';
import { printGrid } from './printGrid';

/** A part of the print is looked at: textures are alike all over. Its side in mm, and pixels to each of them. */
const SIDE_MM = 40;
const DPI = 400;

/** How much a job's texture wears away, and how much of that would fill on the press; null where it has none. */
export function surveyWear(sheet: JobSheet, kernels: RasterKernels): WearSurvey | null {
  const { texture } = sheet;
  if (!texture) return null;
  const grid = printGrid(sheet, DPI);
  const side = Math.round(SIDE_MM * grid.pxPerMm);
  const [width, height] = [Math.min(side, grid.widthPx), Math.min(side, grid.heightPx)];
  // Wear of the edges is strongest in the corner.
  const isEdge = texture.kind === 'edges';
  const from = (whole: number, part: number) => (isEdge ? 0 : (whole - part) >> 1);
  const rect: Rect = { x: from(grid.widthPx, width), y: from(grid.heightPx, height), width, height };
  const holes = new Uint8Array(width * height);
  sampleHoles(texture, grid, rect, holes);
  const narrow = narrowPlaces(
    holes,
    width,
    height,
    sheet.limits.openingMm * grid.pxPerMm,
    kernels,
    FRESH_MEMORY,
  );
  const [worn, filling] = [countOf(holes), countOf(narrow)];
  const first = narrow.indexOf(255);
  const mm = (px: number) => (px + 0.5) / grid.pxPerMm;
  const place =
    first < 0 ? null : { xMm: mm(rect.x + (first % width)), yMm: mm(rect.y + Math.floor(first / width)) };
  return { share: worn / holes.length, filling: worn > 0 ? filling / worn : 0, place };
}

function countOf(mask: Uint8Array): number {
  let count = 0;
  for (const value of mask) if (value !== 0) count++;
  return count;
}
