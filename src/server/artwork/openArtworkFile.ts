import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { open, readFile, rm, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import type { ArtworkNotes, PagePlates } from '@/core/checks';
import { paintsOnlyWhite, readStoredDrawing, withStoredPlates } from '@/core/drawing';
import type { Artwork } from '@/core/sheet';
import { KerameusError, MM_PER_INCH } from '@/core/units';
import { type PictureDecoder, flattenDrawing } from '../drawings';
import { drawPlates, pdfPageAsSvg, readPdfFacts } from '../pdf';
import type { ArtworkFiles } from './artworkSource';
import { decodeApart, decodePictures } from './askRaster';
import { type ArtworkFormat, sniffArtwork } from './sniffArtwork';

/** What is to be told of a page of a PDF. */
export interface PageFacts extends NonNullable<ArtworkNotes['page']> {
  /** From 1 on. */
  readonly number: number;
  /** Pages of the file. */
  readonly count: number;
}

/** Facts about artwork as the user is told them. */
export interface ArtworkFacts {
  readonly sha256: string;
  readonly fileName: string;
  readonly format: string;
  readonly kind: 'raster' | 'vector';
  /** Pixels, or user units of a drawing. */
  readonly widthPx: number;
  readonly heightPx: number;
  /** What it measures at its own resolution; null when it states none. */
  readonly ownWidthMm: number | null;
  readonly ownHeightMm: number | null;
  readonly hasAlpha: boolean;
  readonly colourSpace: string;
  readonly bits: number;
  readonly missingFonts: readonly string[];
  /** The file's own size in pixels where these are not square and were made so; absent in artwork of older installations. */
  readonly oblong?: { readonly widthPx: number; readonly heightPx: number } | null;
  /** Pictures that the file holds, of which the first is printed; absent for drawings, and in artwork of older installations. */
  readonly pictures?: number;
  /** Blurs, shadows and other filters of a drawing that became pictures; absent in artwork of older installations. */
  readonly filterPictures?: number;
  /** Pixels that the coarsest of these has to the width of the whole drawing; null where there are none. */
  readonly filterWidthPx?: number | null;
  /** Which page of a PDF it is; null for other files, absent in artwork of older installations. */
  readonly page?: PageFacts | null;
  /** Plates that can be taken as they are; absent in artwork of older installations. */
  readonly plates?: PagePlates | null;
}

/** What a job's sheet says of artwork. */
export function artworkFor(facts: ArtworkFacts): Omit<Artwork, 'id'> {
  const { sha256, fileName, kind, widthPx, heightPx, page } = facts;
  return { sha256, fileName, kind, widthPx, heightPx, ...(page && page.number > 1 && { page: page.number }) };
}

export async function hashFile(file: string): Promise<string> {
  const hash = createHash('sha256');
  for await (const piece of createReadStream(file)) hash.update(piece as Buffer);
  return hash.digest('hex');
}

/** The first bytes of a file, enough to tell what it is. */
export async function readHead(file: string): Promise<Uint8Array> {
  const handle = await open(file);
  try {
    const buffer = Buffer.alloc(65536);
    const { bytesRead } = await handle.read(buffer, 0, buffer.length, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await handle.close();
  }
}

/**
 * What a file is, before anything of it is decoded, and what names its content. Throws what `sniffArtwork` throws.
 *
 * @param page of a PDF, from 1 on: the first page is named by the file's hash, each other page by one of its own.
 */
export async function identifyArtwork(
  file: string,
  page = 1,
): Promise<{ readonly sha256: string; readonly format: ArtworkFormat }> {
  const format = sniffArtwork(await readHead(file));
  const whole = await hashFile(file);
  if (format !== 'pdf') checkPage(page);
  const isFirst = page === 1;
  return {
    sha256: isFirst ? whole : createHash('sha256').update(`${whole} page ${page}`).digest('hex'),
    format,
  };
}

function checkPage(page: number): void {
  if (page === 1) return;
  throw new KerameusError({
    code: 'artwork-page',
    parameter: 'page',
    message: `The artwork is no PDF: it has no page ${page}.`,
    remedy: 'Leave the page out.',
  });
}

/** Artwork that was read, and where its decoded form lies. */
export interface TakenArtwork {
  readonly facts: ArtworkFacts;
  readonly files: ArtworkFiles;
}

/**
 * Decodes artwork into a folder: raster levels, or a drawing's stored form. All that could go wrong with a file goes wrong in a program or a thread
 * of its own, within limits. Throws KerameusError with what is wrong and what to do, or the signal's reason.
 *
 * @param options.page of a PDF, from 1 on.
 */
export async function takeInArtwork(
  file: string,
  fileName: string,
  folder: string,
  { page = 1, signal }: { readonly page?: number; readonly signal?: AbortSignal } = {},
): Promise<TakenArtwork> {
  const common = { ...(await identifyArtwork(file, page)), fileName: plainName(fileName) };
  if (common.format === 'pdf') return takeInPage(file, page, common, folder, signal);
  return common.format === 'svg'
    ? takeInDrawing(file, common, folder, signal)
    : takeInRaster(file, common, folder, signal);
}

/** A page of a PDF, which is a drawing from here on. */
async function takeInPage(
  file: string,
  page: number,
  common: Common,
  folder: string,
  signal?: AbortSignal,
): Promise<TakenArtwork> {
  const { pages, missingFonts, areaIn2 } = await readPdfFacts(file, page, signal);
  const { path: drawn, ...notes } = await pdfPageAsSvg(file, page, areaIn2, folder, signal);
  try {
    const { facts, files } = await takeInDrawing(drawn, common, folder, signal);
    const own = { ...facts, missingFonts, page: { number: page, count: pages, ...notes } };
    return {
      files,
      facts: {
        ...own,
        plates: await takeInPlates(file, page, { path: drawn, areaIn2, ...notes }, folder, files, signal),
      },
    };
  } catch (thrown) {
    throw ofPage(thrown, page);
  } finally {
    await rm(drawn, { force: true });
  }
}

const NO_PLATES: PagePlates = { plates: [], hasRgb: false, unkept: [], pictures: 0, refused: null };

/** Adds the plates that a page names to its drawing; null: it names none. Where they cannot be taken the page is a drawing like others. */
async function takeInPlates(
  file: string,
  page: number,
  whole: Parameters<typeof drawPlates>[2],
  folder: string,
  files: ArtworkFiles,
  signal?: AbortSignal,
): Promise<PagePlates | null> {
  if (files.kind !== 'vector') return null;
  const refused = (why: string): PagePlates => ({ ...NO_PLATES, refused: why });
  if ((await stat(file)).size > MOST_SEARCHED) {
    return refused(`The PDF is larger than ${MOST_SEARCHED / 1e6} MB: plates are not looked for in it.`);
  }
  if (!(await mayNameInks(file))) return null;
  const decode: PictureDecoder = (each) => decodePictures(each, folder, signal);
  try {
    const { made, hasRgb, unkept } = await drawPlates(
      file,
      page,
      whole,
      folder,
      async (plate) => {
        const { flat } = await flattenDrawing(plate.path, decode, signal);
        const { name, colour, pictures } = plate;
        return paintsOnlyWhite(readStoredDrawing(flat.bytes))
          ? null
          : { name, colour, pictures, bytes: flat.bytes };
      },
      signal,
    );
    const plates = made.filter((each) => each !== null);
    const pictures = plates.reduce((sum, each) => sum + each.pictures, 0);
    if (plates.every(({ colour }) => colour === null)) return null;
    await writeFile(files.path, withStoredPlates(await readFile(files.path), plates));
    const named = plates.map(({ name, colour }) => ({ name, colour }));
    return { plates: named, hasRgb, unkept, pictures, refused: null };
  } catch (thrown) {
    signal?.throwIfAborted();
    if (!(thrown instanceof KerameusError)) throw thrown;
    return refused(thrown.toReport().message);
  }
}

/** Whether a file may have colour spaces of named inks: what is packed into streams of objects cannot be searched. */
async function mayNameInks(file: string): Promise<boolean> {
  const bytes = await readFile(file);
  return ['/Separation', '/DeviceN', '/ObjStm'].some((word) => bytes.includes(word));
}

/** Files that are larger are drawn, and not looked through for plates. */
const MOST_SEARCHED = 60e6;

/** What is wrong with the drawing that a page became, said of the page. */
function ofPage(thrown: unknown, page: number): unknown {
  if (!(thrown instanceof KerameusError)) return thrown;
  const report = thrown.toReport();
  if (report.code === 'artwork-empty') {
    return new KerameusError({
      ...report,
      message: `Page ${page} of the PDF shows nothing inside of its crop box.`,
      remedy: 'Choose another page, or export it again.',
    });
  }
  return new KerameusError({
    ...report,
    message: report.message.replace(/^The (SVG|drawing)\b/, `Page ${page} of the PDF`),
  });
}

/** The last part of a path, without what no file system and no database takes. */
export function plainName(fileName: string): string {
  const name = path
    .basename(fileName)
    .replace(/[\u0000-\u001f\u007f/\\]/g, '')
    .toWellFormed()
    .slice(-200);
  return name === '' || name === '.' || name === '..' ? 'artwork' : name;
}

type Common = Pick<ArtworkFacts, 'sha256' | 'fileName' | 'format'>;

async function takeInDrawing(
  file: string,
  common: Common,
  folder: string,
  signal?: AbortSignal,
): Promise<TakenArtwork> {
  const decode: PictureDecoder = (files) => decodePictures(files, folder, signal);
  const { facts, flat } = await flattenDrawing(file, decode, signal);
  if (flat.isEmpty) {
    throw new KerameusError({
      code: 'artwork-empty',
      parameter: 'artwork',
      message: 'The drawing shows nothing: it is empty, or all of it lies outside of its view box.',
      remedy: 'Set the page or the view box round the drawing and export it again.',
    });
  }
  const target = path.join(folder, 'artwork.drawing');
  await writeFile(target, flat.bytes);
  return {
    files: { kind: 'vector', path: target },
    facts: {
      ...common,
      kind: 'vector',
      widthPx: facts.width,
      heightPx: facts.height,
      ownWidthMm: facts.statesSize ? facts.widthMm : null,
      ownHeightMm: facts.statesSize ? facts.heightMm : null,
      hasAlpha: true,
      colourSpace: 'RGB',
      bits: 8,
      missingFonts: facts.missingFonts,
      filterPictures: flat.filters.count,
      filterWidthPx: flat.filters.pxPerUnit === null ? null : flat.filters.pxPerUnit * facts.width,
    },
  };
}

async function takeInRaster(
  file: string,
  common: Common,
  folder: string,
  signal?: AbortSignal,
): Promise<TakenArtwork> {
  const { facts, levels } = await decodeApart(file, folder, signal);
  const toMm = (pixels: number) => (facts.ownDpi ? (pixels / facts.ownDpi) * MM_PER_INCH : null);
  return {
    files: { kind: 'raster', levels },
    facts: {
      ...common,
      kind: 'raster',
      widthPx: facts.widthPx,
      heightPx: facts.heightPx,
      ownWidthMm: toMm(facts.widthPx),
      ownHeightMm: toMm(facts.heightPx),
      hasAlpha: facts.hasAlpha,
      colourSpace: facts.colourSpace,
      bits: facts.bits,
      oblong: facts.oblong,
      pictures: facts.pictures,
      missingFonts: [],
      filterPictures: 0,
      filterWidthPx: null,
    },
  };
}
