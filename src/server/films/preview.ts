import sharp from 'sharp';
import type { OuterMap } from '@/core/artwork';
import { transparentPixels } from '@/core/formats';
import { createWasmKernels } from '@/core/kernels';
import {
  AreaSurveyor,
  EdgeSurveyor,
  FilmTones,
  type Survey,
  type View,
  evaluatePlates,
  plateArtworkNeed,
  predictPrint,
  preparePlateJob,
  printedPlanes,
  viewLevel,
} from '@/core/pipeline';
import { type JobSheet, artworkOf } from '@/core/sheet';
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

export interface PreviewOptions {
  /** Garment round the print. */
  readonly marginMm?: number;
  /** Colour of the garment that it is printed on; left out: the one that the plates are made for. */
  readonly garment?: string;
  /** Waited for before each band. */
  readonly between?: () => Promise<void>;
}

/** The predicted print on a garment, so many pixels wide; band by band. */
export async function renderPreview(
  sheet: JobSheet,
  source: ArtworkSource,
  outerMap: OuterMap | null,
  widthPx: number,
  { marginMm = 0, garment, between = nothing }: PreviewOptions = {},
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
    const printed = printedPlanes(planes, sheet, tones);
    const print = predictPrint(printed, sheet, level, view, job.kernels, garment ? { garment } : {});
    rgba.set(print, y * widthPx * 4);
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
  const { kind, widthPx } = artworkOf(sheet);
  const width = Math.round(
    Math.min(kind === 'raster' ? widthPx : Number.POSITIVE_INFINITY, PRINT_DPI * inches),
  );
  const black = await renderPreview(sheet, source, outerMap, width, { garment: '#000000' });
  const white = await renderPreview(sheet, source, outerMap, width, { garment: '#ffffff' });
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
  const [areas, edges] = [new AreaSurveyor(job), new EdgeSurveyor(job)];
  for (const surveyor of [areas, edges]) {
    for (const { need, add } of surveyor.steps()) {
      await between();
      add(source.read(need));
    }
  }
  return { ...areas.result(), ...edges.result() };
}
