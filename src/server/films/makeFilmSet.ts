import { createHash } from 'node:crypto';
import { type FileHandle, open } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import path from 'node:path';
import { buildOuterMap, type OuterMap } from '@/core/artwork';
import { parseHexColour } from '@/core/colour';
import { filmBaseNames } from '@/core/film';
import { createWasmKernels } from '@/core/kernels';
import { type FilmPlan, planFilms } from '@/core/pipeline';
import type { JobSheet, Plate } from '@/core/sheet';
import { type ArtworkFiles, type ArtworkSource, openArtwork } from '../artwork';
import { kernelModule } from '../projectRoot';
import { PlaneCollector } from './planeCollector';
import { PngWriter } from './pngWriter';
import { stripsInOrder } from './stripPool';

export interface FilmSetRequest {
  readonly sheet: JobSheet;
  readonly artwork: ArtworkFiles;
  /** The map of what lies outside the drawing, where it is known already. */
  readonly outerMap?: OuterMap | null;
  /** Spool files are written here. */
  readonly folder: string;
  readonly threads?: number;
  readonly keepPlanes?: boolean;
  /** The plates whose films are wanted; all when left out. */
  readonly only?: readonly string[] | null;
  readonly signal?: AbortSignal;
  /** Share of each film that is done, 0..1. All plates of a strip are made together. */
  readonly onProgress?: (done: number, names: readonly string[]) => void;
}

/** One film, spooled as a Group 4 stream. */
export interface SpooledFilm {
  readonly plate: Plate;
  /** The number that the film carries. */
  readonly number: number;
  readonly baseName: string;
  readonly streamPath: string;
  readonly streamLength: number;
  readonly streamSha256: string;
  /** Where the film stands as PNG; null when that is not asked for. */
  readonly pngPath: string | null;
  /** Share of the print that is covered, 0..1. */
  readonly coverage: number;
  /** Whether it has dots; otherwise it is all solid. */
  readonly screened: boolean;
}

export interface FilmSet {
  readonly plan: FilmPlan;
  readonly films: readonly SpooledFilm[];
  /** 8-bit planes, 255 = solid ink, in the order of the films; empty unless asked for. */
  readonly planes: readonly Uint8Array[];
}

/** The level of raster artwork, or the width of vector artwork, at which the outside of a drawing is looked for. */
function outerReader(source: ArtworkSource, sheet: JobSheet) {
  if (sheet.artwork.kind === 'raster') return source.reader(0);
  const { widthPx, heightPx } = sheet.artwork;
  return source.reader(Math.max(1, Math.round((2400 * widthPx) / Math.max(widthPx, heightPx))));
}

/** The map of what lies outside the drawing, when the sheet drops its background. */
export function outerMapFor(source: ArtworkSource, sheet: JobSheet): OuterMap | null {
  if (!sheet.background?.dropped) return null;
  return buildOuterMap(outerReader(source, sheet), parseHexColour(sheet.background.colour));
}

/**
 * Renders every film of a job to spool files. Memory stays bounded by the strip; the same sheet, artwork and engine
 * give the same bytes on any number of threads. Throws what layout and screening throw, or the signal's reason.
 */
export async function makeFilmSet(request: FilmSetRequest): Promise<FilmSet> {
  const { sheet, artwork, folder } = request;
  const signal = request.signal ?? new AbortController().signal;
  const only = request.only ?? null;
  const plan = planFilms(sheet, only);
  const outerMap = request.outerMap === undefined ? findOuterMap(artwork, sheet) : request.outerMap;
  const names = plan.plates.map((plate) => plate.ink.name);
  const allNames = filmBaseNames(sheet, plan.printing);
  const baseNames = plan.plates.map((plate) => allNames[plan.printing.indexOf(plate)]!);
  const { widthPx, heightPx, dpi } = plan.layout;
  const kernels = createWasmKernels(kernelModule());
  const writers: FilmWriter[] = [];
  const pngs: PngWriter[] = [];
  const collector = request.keepPlanes || wantsPlanes(sheet) ? new PlaneCollector(plan) : null;
  try {
    for (const baseName of baseNames) {
      writers.push(await FilmWriter.create(path.join(folder, `${baseName}.g4`)));
      if (sheet.film.formats.includes('png')) {
        pngs.push(new PngWriter(path.join(folder, `${baseName}.bits.png`), widthPx, heightPx, dpi));
      }
    }
    const encoders = plan.plates.map(() => kernels.createG4Encoder(plan.layout.widthPx));
    const covered = plan.plates.map(() => 0);
    const screened = plan.plates.map(() => false);
    const data = { sheet, artwork, outerMap, keepPlanes: collector !== null, only };
    const threads = request.threads ?? Math.max(1, Math.min(4, availableParallelism()));
    for await (const strip of stripsInOrder(data, plan.stripCount, threads, signal)) {
      for (const [k, bits] of strip.bits.entries()) {
        await writers[k]!.write(encoders[k]!.encode(bits, strip.rows));
        await pngs[k]?.write(bits, strip.rows);
        covered[k]! += strip.covered[k]!;
        screened[k] ||= strip.screened[k]!;
      }
      if (strip.planes) collector?.add(strip.planes);
      request.onProgress?.((strip.index + 1) / plan.stripCount, names);
    }
    for (const [k, encoder] of encoders.entries()) await writers[k]!.write(encoder.finish());
    for (const png of pngs) await png.finish();
    const area = plan.grid.widthPx * plan.grid.heightPx;
    const films = plan.plates.map((plate, k): SpooledFilm => ({
      plate,
      number: plate.number,
      baseName: baseNames[k]!,
      pngPath: pngs[k]?.path ?? null,
      streamPath: writers[k]!.path,
      streamLength: writers[k]!.length,
      streamSha256: writers[k]!.digest(),
      coverage: covered[k]! / area,
      screened: screened[k]!,
    }));
    return { plan, films, planes: collector?.finish() ?? [] };
  } finally {
    for (const writer of writers) await writer.close();
    for (const png of pngs) png.close();
  }
}

/** Whether a job's files hold tones of the plates. */
function wantsPlanes({ film }: JobSheet): boolean {
  return film.formats.some((format) => ['pdf-inks', 'pdf-inks-each', 'tiff-inks'].includes(format));
}

function findOuterMap(artwork: ArtworkFiles, sheet: JobSheet): OuterMap | null {
  const source = openArtwork(artwork);
  try {
    return outerMapFor(source, sheet);
  } finally {
    source.close();
  }
}

class FilmWriter {
  readonly path: string;
  length = 0;
  private readonly handle: FileHandle;
  private readonly hash = createHash('sha256');

  private constructor(file: string, handle: FileHandle) {
    this.path = file;
    this.handle = handle;
  }

  static async create(file: string): Promise<FilmWriter> {
    return new FilmWriter(file, await open(file, 'w'));
  }

  async write(bytes: Uint8Array): Promise<void> {
    if (bytes.length === 0) return;
    await this.handle.writeFile(bytes);
    this.hash.update(bytes);
    this.length += bytes.length;
  }

  digest(): string {
    return this.hash.digest('hex');
  }

  close(): Promise<void> {
    return this.handle.close();
  }
}
