import { availableParallelism } from 'node:os';
import path from 'node:path';
import { buildOuterMap, type OuterMap } from '@/core/artwork';
import { parseHexColour } from '@/core/colour';
import { type FilmSize, filmBaseNames, filmSize, gangsOf, openLabelFont } from '@/core/film';
import { createWasmKernels } from '@/core/kernels';
import { type FilmPlan, filmFurniture, planFilms } from '@/core/pipeline';
import { type JobSheet, type Plate, artworkOf, droppedBackground, layerOf } from '@/core/sheet';
import { type ArtworkFiles, type ArtworkSource, openArtwork } from '../artwork';
import { assertScratchRoom } from '../files/scratch';
import { kernelModule, labelFontBytes } from '../projectRoot';
import { BitSpool, gangRows, turnedRows } from './bitSpool';
import { FilmSink, type SpooledBitmap } from './filmSink';
import { PlaneCollector } from './planeCollector';
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

/** One film, spooled as it lies on its sheet. */
export interface SpooledFilm extends SpooledBitmap {
  readonly plate: Plate;
  /** The number that the film carries. */
  readonly number: number;
  readonly baseName: string;
  /** Share of the print that is covered, 0..1. */
  readonly coverage: number;
  /** Whether it has dots; otherwise it is all solid. */
  readonly screened: boolean;
  /** The plate for exposing a screen without film: the sheet as it stands upright, with nothing on it but the print. */
  readonly direct: SpooledBitmap | null;
}

export interface FilmSet {
  readonly plan: FilmPlan;
  readonly films: readonly SpooledFilm[];
  /** The films beside each other on larger sheets; empty unless asked for, and for a part of the set. */
  readonly gangs: readonly SpooledBitmap[];
  /** 8-bit planes, 255 = solid ink, in the order of the films; empty unless asked for. */
  readonly planes: readonly Uint8Array[];
}

/** Dots of a film in Group 4, as a share of its bits: fine dots hardly get smaller. */
const CODED_SHARE = 0.5;

/** Scratch that a set may need at most: coded films and what is written from them, and rows that wait to be turned or put beside others. */
function scratchBytes(plan: FilmPlan, gangs: readonly FilmSize[]): number {
  const { formats } = plan.sheet.film;
  const bytesOf = ({ widthPx, heightPx }: FilmSize) => ((widthPx + 7) >> 3) * heightPx;
  const film = bytesOf(plan.layout);
  const copies =
    1 + formats.filter((format) => ['pdf', 'pdf-each', 'tiff', 'png', 'tiff-screen'].includes(format)).length;
  const spooled = (plan.layout.turned ? film : 0) + (gangs.length > 0 ? film : 0);
  const each = film * CODED_SHARE * copies + spooled;
  return plan.plates.length * each + gangs.reduce((sum, gang) => sum + 2 * CODED_SHARE * bytesOf(gang), 0);
}

/** The level of raster artwork, or the width of vector artwork, at which the outside of a drawing is looked for. */
function outerReader(source: ArtworkSource, sheet: JobSheet) {
  if (artworkOf(sheet).kind === 'raster') return source.reader(0);
  const { widthPx, heightPx } = artworkOf(sheet);
  return source.reader(Math.max(1, Math.round((2400 * widthPx) / Math.max(widthPx, heightPx))));
}

/** The map of what lies outside the drawing, when the sheet drops its background. */
export function outerMapFor(source: ArtworkSource, sheet: JobSheet): OuterMap | null {
  const background = droppedBackground(sheet);
  if (!background) return null;
  return buildOuterMap(outerReader(source, sheet), parseHexColour(background.colour), layerOf(sheet).purity);
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
  const { layout } = plan;
  const size = filmSize(layout);
  const { formats } = sheet.film;
  const kernels = createWasmKernels(kernelModule());
  const png = formats.includes('png') ? { dpi: layout.dpi } : null;
  // Before anything is made: what does not fit is refused at once.
  const whole = plan.plates.length === plan.printing.length;
  const gangSheets = whole ? gangsOf(sheet, layout, plan.plates.length) : [];
  const upright: FilmSize = layout;
  const collector = request.keepPlanes || wantsPlanes(sheet) ? new PlaneCollector(plan) : null;
  await assertScratchRoom(folder, scratchBytes(plan, gangSheets));
  const open: { close(): unknown }[] = [];
  const opened = <T extends { close(): unknown }>(each: T): T => {
    open.push(each);
    return each;
  };
  const sink = async (name: string, of: FilmSize, asPng: typeof png = null) =>
    opened(await FilmSink.create(path.join(folder, name), of, kernels, asPng));
  const spool = (name: string, of: FilmSize) => opened(new BitSpool(path.join(folder, name), of));
  try {
    const works = await Promise.all(
      plan.plates.map(async (plate, k) => ({
        plate,
        baseName: baseNames[k]!,
        film: await sink(baseNames[k]!, size, png),
        direct: formats.includes('tiff-screen') ? await sink(`${baseNames[k]!}.direct`, upright) : null,
        // What is turned is made upright first; what is ganged is read again as it lies on its sheet.
        turning: layout.turned ? spool(`${baseNames[k]!}.upright`, upright) : null,
        ganging: gangSheets.length > 0 ? spool(`${baseNames[k]!}.rows`, size) : null,
        covered: 0,
        screened: false,
      })),
    );
    const data = { sheet, artwork, outerMap, keepPlanes: collector !== null, only };
    const furnish = () => filmFurniture(plan, openLabelFont(labelFontBytes()));
    const threads = request.threads ?? Math.max(1, Math.min(4, availableParallelism()));
    for await (const strip of stripsInOrder(data, furnish, plan.stripCount, threads, signal)) {
      for (const [k, work] of works.entries()) {
        const bits = strip.bits[k]!;
        if (work.turning) work.turning.write(bits);
        else {
          await work.film.write(bits, strip.rows);
          work.ganging?.write(bits);
        }
        await work.direct?.write(strip.unmarked![k]!, strip.rows);
        work.covered += strip.covered[k]!;
        work.screened ||= strip.screened[k]!;
      }
      if (strip.planes) collector?.add(strip.planes);
      request.onProgress?.((strip.index + 1) / plan.stripCount, names);
    }
    const films: SpooledFilm[] = [];
    const area = plan.grid.widthPx * plan.grid.heightPx;
    for (const { plate, baseName, film, direct, turning, ganging, covered, screened } of works) {
      for (const { bits, rows } of turning ? turnedRows(turning) : []) {
        signal.throwIfAborted();
        await film.write(bits, rows);
        ganging?.write(bits);
      }
      films.push({
        ...(await film.finish()),
        plate,
        number: plate.number,
        baseName,
        coverage: covered / area,
        screened,
        direct: direct && (await direct.finish()),
      });
    }
    const gangs: SpooledBitmap[] = [];
    for (const [k, gang] of gangSheets.entries()) {
      const target = await sink(`gang-${k + 1}`, gang);
      const spools = works.map(({ ganging }) => ganging!);
      for (const { bits, rows } of gangRows(gang, spools)) {
        signal.throwIfAborted();
        await target.write(bits, rows);
      }
      gangs.push(await target.finish());
    }
    return { plan, films, gangs, planes: collector?.finish() ?? [] };
  } finally {
    for (const each of open) await each.close();
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
