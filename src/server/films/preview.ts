import sharp from 'sharp';
import type { OuterMap } from '@/core/artwork';
import { linearFromRgb8, parseHexColour } from '@/core/colour';
import { transparentPixels } from '@/core/formats';
import { createWasmKernels } from '@/core/kernels';
import {
  type Difference,
  DifferenceCounter,
  FilmTones,
  GapCounter,
  type Survey,
  SurveyCounter,
  type View,
  artworkLight,
  bareAsGarment,
  drawDown,
  encodeRgba,
  evaluatePlates,
  gapBands,
  gapGrid,
  hasGapSurvey,
  plateArtworkNeed,
  predictPrint,
  preparePlateJob,
  printedPlanes,
  surveyBands,
  surveyGrid,
  viewLevel,
} from '@/core/pipeline';
import { Arena } from '@/core/raster';
import { droppedGround } from '@/core/separation';
import type { JobSheet } from '@/core/sheet';
import { MM_PER_INCH } from '@/core/units';
import type { ArtworkSource } from '../artwork';
import { kernelModule } from '../projectRoot';

export interface Preview {
  readonly width: number;
  readonly height: number;
  /** sRGB, four bytes a pixel. */
  readonly rgba: Uint8Array;
}

const BAND = 128;

const nothing = () => Promise.resolve();

/**
 * The predicted print on its garment, so many pixels wide, with a margin of garment in millimetres; band by band.
 *
 * @param between waited for before each band.
 */
export async function renderPreview(
  sheet: JobSheet,
  source: ArtworkSource,
  outerMap: OuterMap | null,
  widthPx: number,
  marginMm = 0,
  between: () => Promise<void> = nothing,
): Promise<Preview> {
  const whole = sheet.print.widthMm + 2 * marginMm;
  const scale = widthPx / whole;
  const height = Math.max(1, Math.round((sheet.print.heightMm + 2 * marginMm) * scale));
  const job = preparePlateJob(sheet, outerMap, createWasmKernels(kernelModule()));
  const tones = new FilmTones();
  const rgba = new Uint8Array(widthPx * height * 4);
  for (let y = 0; y < height; y += BAND) {
    await between();
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
    rgba.set(
      predictPrint(printedPlanes(planes, sheet, tones), sheet, level, view, job.kernels),
      y * widthPx * 4,
    );
  }
  return { width: widthPx, height, rgba };
}

/** The print for a digital printer, at most this fine. */
const PRINT_DPI = 300;

/**
 * Writes the predicted print as a transparent PNG at print resolution, with an sRGB profile. Where the inks let the garment through
 * it is transparent; colours are those of the inks alone.
 */
export async function writePrintPng(
  sheet: JobSheet,
  source: ArtworkSource,
  outerMap: OuterMap | null,
  target: string,
): Promise<void> {
  const inches = sheet.print.widthMm / MM_PER_INCH;
  const { kind, widthPx } = sheet.artwork;
  const width = Math.round(
    Math.min(kind === 'raster' ? widthPx : Number.POSITIVE_INFINITY, PRINT_DPI * inches),
  );
  const on = (colour: string) => ({ ...sheet, garment: { ...sheet.garment, colour } });
  const black = await renderPreview(on('#000000'), source, outerMap, width);
  const white = await renderPreview(on('#ffffff'), source, outerMap, width);
  const pixels = transparentPixels(black.rgba, white.rgba);
  await sharp(pixels, { raw: { width, height: black.height, channels: 4 } })
    .png()
    .withIccProfile('srgb')
    .withMetadata({ density: width / inches })
    .toFile(target);
}

/** Looks at the whole print, band by band; `between` is waited for before each. */
export async function surveyPrint(
  sheet: JobSheet,
  source: ArtworkSource,
  outerMap: OuterMap | null,
  between: () => Promise<void> = nothing,
): Promise<Survey> {
  const job = preparePlateJob(sheet, outerMap, createWasmKernels(kernelModule()));
  const grid = surveyGrid(sheet);
  const counter = new SurveyCounter(sheet, grid);
  for (const band of surveyBands(grid)) {
    await between();
    counter.addBand(job, band, source.read(plateArtworkNeed(job, grid, band)));
  }
  if (!hasGapSurvey(sheet)) return counter.result(null);
  const fine = gapGrid(sheet);
  const gaps = new GapCounter(fine);
  const memory = new Arena();
  for (const band of gapBands(fine)) {
    await between();
    memory.reset();
    gaps.addBand({ ...job, memory }, band, source.read(gaps.need(sheet, band)));
  }
  return counter.result(gaps.result());
}

/** Pixels per millimetre at which print and artwork are compared: about 100 dpi. */
const COMPARE_SCALE = 4;

/** A difference, and what of the artwork was left to the garment with its background. */
export interface MeasuredDifference extends Difference {
  readonly dropped: {
    /** Of the print, 0..1. */
    readonly share: number;
    /** CIEDE2000 between the background and the garment. */
    readonly difference: number;
    /** Whether the difference counts it. */
    readonly counted: boolean;
  } | null;
}

/**
 * CIEDE2000 of the predicted print against the artwork on the garment, over the whole print. A dropped background counts, unless it is paper
 * or near the garment's colour.
 */
export async function measureDifference(
  sheet: JobSheet,
  source: ArtworkSource,
  outerMap: OuterMap | null,
): Promise<MeasuredDifference> {
  const job = preparePlateJob(sheet, outerMap, createWasmKernels(kernelModule()));
  const garment = linearFromRgb8(parseHexColour(sheet.garment.colour));
  const ground = parseHexColour(sheet.garment.colour);
  const counter = new DifferenceCounter();
  const dropped = droppedGround(sheet);
  let bare = 0;
  const tones = new FilmTones();
  const width = Math.max(1, Math.round(sheet.print.widthMm * COMPARE_SCALE));
  const height = Math.max(1, Math.round(sheet.print.heightMm * COMPARE_SCALE));
  for (let y = 0; y < height; y += BAND) {
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
    const print = predictPrint(printedPlanes(planes, sheet, tones), sheet, level, view, job.kernels);
    const artwork = encodeRgba(
      drawDown(
        artworkLight(sheet, level.grid, level.region, need, art, () => garment),
        level,
        view,
      ),
    );
    if (dropped) bare += bareAsGarment(print, artwork, ground, !dropped.counted);
    counter.add(print, artwork);
  }
  return {
    ...counter.result(),
    dropped: dropped && { ...dropped, share: bare / (width * height) },
  };
}
