import type { OuterMap } from '@/core/artwork';
import { linearFromRgb8, parseHexColour } from '@/core/colour';
import { createWasmKernels } from '@/core/kernels';
import {
  type Difference,
  DifferenceCounter,
  type Survey,
  SurveyCounter,
  type View,
  artworkLight,
  bareAsGarment,
  drawDown,
  encodeRgba,
  evaluatePlates,
  plateArtworkNeed,
  predictPrint,
  preparePlateJob,
  surveyBands,
  surveyGrid,
  viewLevel,
} from '@/core/pipeline';
import type { JobSheet } from '@/core/sheet';
import { type ArtworkSource, releaseRenderings } from '../artwork';
import { kernelModule } from '../projectRoot';

export interface Preview {
  readonly width: number;
  readonly height: number;
  /** sRGB, four bytes a pixel. */
  readonly rgba: Uint8Array;
}

const BAND = 128;

/** The predicted print on its garment, so many pixels wide, with a margin of garment in millimetres; band by band. */
export async function renderPreview(
  sheet: JobSheet,
  source: ArtworkSource,
  outerMap: OuterMap | null,
  widthPx: number,
  marginMm = 0,
): Promise<Preview> {
  const whole = sheet.print.widthMm + 2 * marginMm;
  const scale = widthPx / whole;
  const height = Math.max(1, Math.round((sheet.print.heightMm + 2 * marginMm) * scale));
  const job = preparePlateJob(sheet, outerMap, createWasmKernels(kernelModule()));
  const rgba = new Uint8Array(widthPx * height * 4);
  for (let y = 0; y < height; y += BAND) {
    await releaseRenderings();
    const view: View = {
      xMm: -marginMm,
      yMm: y / scale - marginMm,
      scale,
      width: widthPx,
      height: Math.min(BAND, height - y),
    };
    const level = viewLevel(sheet, view);
    const art = source.read(plateArtworkNeed(job, level.grid, level.region));
    const planes = evaluatePlates(job, level.grid, level.region, art);
    rgba.set(predictPrint(planes, sheet, level, view, job.kernels), y * widthPx * 4);
  }
  return { width: widthPx, height, rgba };
}

/** Looks at the whole print, band by band. */
export async function surveyPrint(
  sheet: JobSheet,
  source: ArtworkSource,
  outerMap: OuterMap | null,
): Promise<Survey> {
  const job = preparePlateJob(sheet, outerMap, createWasmKernels(kernelModule()));
  const grid = surveyGrid(sheet);
  const counter = new SurveyCounter(sheet, grid);
  for (const band of surveyBands(grid)) {
    await releaseRenderings();
    counter.add(evaluatePlates(job, grid, band, source.read(plateArtworkNeed(job, grid, band))));
  }
  return counter.result();
}

/** Pixels per millimetre at which print and artwork are compared: about 100 dpi. */
const COMPARE_SCALE = 4;

/**
 * CIEDE2000 of the predicted print against the artwork on the garment, over the whole print. Where the background
 * is dropped and nothing prints, the garment is what was wanted.
 */
export async function measureDifference(
  sheet: JobSheet,
  source: ArtworkSource,
  outerMap: OuterMap | null,
): Promise<Difference> {
  const job = preparePlateJob(sheet, outerMap, createWasmKernels(kernelModule()));
  const garment = linearFromRgb8(parseHexColour(sheet.garment.colour));
  const ground = parseHexColour(sheet.garment.colour);
  const counter = new DifferenceCounter();
  const width = Math.max(1, Math.round(sheet.print.widthMm * COMPARE_SCALE));
  const height = Math.max(1, Math.round(sheet.print.heightMm * COMPARE_SCALE));
  for (let y = 0; y < height; y += BAND) {
    await releaseRenderings();
    const view: View = {
      xMm: 0,
      yMm: y / COMPARE_SCALE,
      scale: COMPARE_SCALE,
      width,
      height: Math.min(BAND, height - y),
    };
    const level = viewLevel(sheet, view);
    const need = plateArtworkNeed(job, level.grid, level.region);
    const art = source.read(need);
    const planes = evaluatePlates(job, level.grid, level.region, art);
    const print = predictPrint(planes, sheet, level, view, job.kernels);
    const artwork = encodeRgba(
      drawDown(
        artworkLight(sheet, level.grid, level.region, need, art, () => garment),
        level,
        view,
      ),
    );
    if (outerMap) bareAsGarment(print, artwork, ground);
    counter.add(print, artwork);
  }
  return counter.result();
}
