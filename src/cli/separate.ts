import { copyFile, mkdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import sharp, { type Sharp } from 'sharp';
import {
  type ArtworkNotes,
  type Finding,
  NO_NOTES,
  type PlatePieces,
  checkPieces,
  colourPrints,
  findingsOf,
} from '@/core/checks';
import { formatHexColour, labFromRgb8, nameColour, parseHexColour } from '@/core/colour';
import { withResolution } from '@/core/formats';
import type { ArtworkColours } from '@/core/pipeline';
import { countSmallPieces } from '@/core/raster';
import {
  type BackgroundWish,
  addGarment,
  createJobSheet,
  isFullTone,
  setTogether,
  setWhite,
  toProcess,
} from '@/core/separation';
import {
  BACKGROUNDS,
  type Garment,
  type JobSheet,
  LIMITS,
  METHODS,
  artworkOf,
  isSimulated,
  parseJobSheet,
  withArtworkFacts,
} from '@/core/sheet';
import { MM_PER_INCH, parseLengthMm, trimNumber } from '@/core/units';
import {
  type ArtworkAnalysis,
  type ArtworkFacts,
  type ArtworkFiles,
  analyseArtwork,
  identifyArtwork,
  notesOf,
  openArtwork,
  takeInArtwork,
} from '@/server/artwork';
import {
  type FilmSet,
  artworkColours,
  makeFilmSet,
  outerMapFor,
  renderPreview,
  surveyPrint,
  writeFilmFiles,
  writePrintPng,
} from '@/server/films';
import { scratchFolder } from '@/server/files/scratch';
import { type Options, bad, readChoice, readNumber, required } from './arguments';
import { type InkWish, readInks, simulatedInks } from './inks';
import { withOptions } from './options';
import { makeReport } from './report';
import { withFlatSolids, withSolids } from './solids';
import { type DotsReport, withBestDots } from './toneDots';
import { inkReport, withBestInks } from './toneInks';

type Method = (typeof METHODS)[number];

/** Seconds by stage, in the order in which the stages ran. */
class Stopwatch {
  readonly seconds: Record<string, number> = {};

  async time<T>(stage: string, work: () => Promise<T> | T): Promise<T> {
    const start = performance.now();
    const result = await work();
    this.seconds[stage] = Math.round(performance.now() - start) / 1000;
    return result;
  }
}

/** By tones where the artwork is full tone and a picture. A number of inks alone is asked of flat colours, as it always was. */
function methodFor(
  { kind }: ArtworkFacts,
  { flatShare, transitions }: ArtworkAnalysis,
  inks: InkWish,
  asked: string | undefined,
): Method {
  if (inks === 'process') return 'simulated';
  const isToned = kind === 'raster' && isFullTone(flatShare, transitions);
  return isToned && (typeof inks !== 'number' || asked === 'auto') ? 'simulated' : 'spot';
}

/** What was chosen for the user, on standard error. */
function tellMethod(method: Method, { flatShare }: ArtworkAnalysis): void {
  const share = `flat colours explain ${trimNumber(flatShare * 100, 0)} % of its areas`;
  const words =
    method === 'simulated'
      ? `The artwork is full tone (${share}): separated by tones, as --method simulated does.`
      : `Separated by spot colours, as --method spot does (${share}).`;
  process.stderr.write(`kerameus: ${words}\n`);
}

/** `drop` is the design without what lies round it. */
function readBackground(text: string | undefined): BackgroundWish {
  if (text === undefined || text === 'auto') return 'auto';
  if (text === 'drop') return 'outside';
  const known = BACKGROUNDS.find((each) => each === text);
  if (known) return known;
  throw bad(
    'background',
    `--background ${text} is not known.`,
    'Use auto, keep, outside (or drop) or everywhere.',
  );
}

/** The garments of `--garment` or `--garments`; the first is the one that plates are made for. */
function readGarments(options: Options): [Garment, ...Garment[]] {
  if (options.garments !== undefined && options.garment !== undefined) {
    throw bad('garments', 'Both --garment and --garments are given.', 'Give one of them.');
  }
  const text = options.garments ?? required(options, 'garment');
  const parameter = options.garments === undefined ? 'garment' : 'garments';
  const colours = parameter === 'garment' ? [text] : text.split(',');
  const garments = colours.map((each): Garment => {
    const rgb = parseHexColour(each.trim(), parameter);
    return { name: nameColour(rgb), colour: formatHexColour(rgb) };
  });
  if (garments.length > LIMITS.maxGarments) {
    throw bad(
      'garments',
      `--garments has ${garments.length} garments.`,
      `Give ${LIMITS.maxGarments} at most.`,
    );
  }
  const twice = garments.find(({ colour }, k) => garments.findIndex((each) => each.colour === colour) < k);
  if (twice) throw bad('garments', `--garments has ${twice.colour} twice.`, 'Give each once.');
  return garments as [Garment, ...Garment[]];
}

/** The one that needs whites most. */
function darkest(garments: readonly Garment[]): Garment {
  const lightness = ({ colour }: Garment) => labFromRgb8(parseHexColour(colour))[0];
  return garments.reduce((dark, each) => (lightness(each) < lightness(dark) ? each : dark));
}

/** Where the films lie, and what is severe about them. */
export interface Made {
  readonly out: string;
  readonly severe: readonly Finding[];
}

export async function checkFile(file: string, what: string): Promise<void> {
  const found = await stat(file).catch(() => null);
  if (!found?.isFile()) throw bad(what, `There is no file ${path.basename(file)}.`, 'Check the name.');
}

/** A folder for what is only needed while working; removed at the end, whatever happens. */
export async function withWorkFolder<T>(work: (folder: string) => Promise<T>): Promise<T> {
  const folder = await scratchFolder('cli');
  try {
    return await work(folder);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** `separate ART`: proposes plates for artwork and makes the films. */
export async function separate(artworkFile: string, options: Options): Promise<Made> {
  const wish = readChoice(options, 'method', ['auto', ...METHODS]) ?? 'auto';
  const out = required(options, 'out');
  const printWidthMm = parseLengthMm(required(options, 'width'), {
    parameter: 'width',
    minMm: LIMITS.minPrintMm,
    maxMm: LIMITS.maxPrintMm,
  });
  const garments = readGarments(options);
  const [garment] = garments;
  const inks = readInks(options);
  const backgroundWish = readBackground(options.background);
  await checkFile(artworkFile, 'artwork');
  const watch = new Stopwatch();
  return withWorkFolder(async (folder) => {
    const { facts, files } = await watch.time('decode', () =>
      takeInArtwork(artworkFile, path.basename(artworkFile), folder),
    );
    const source = openArtwork(files);
    const analysis = await watch.time('analyse', () => analyseArtwork(source, facts));
    source.close();
    if (wish === 'spot' && inks === 'process') {
      throw bad('inks', '--inks process prints tones.', 'Give --method simulated, or name inks.');
    }
    const method = wish === 'auto' ? methodFor(facts, analysis, inks, options.method) : wish;
    // What is not chosen against what was always done is told where it is asked for.
    if (options.method === 'auto' || (wish === 'auto' && method === 'simulated'))
      tellMethod(method, analysis);
    const proposed = createJobSheet({
      name: options.name ?? path.parse(facts.fileName).name,
      artwork: {
        sha256: facts.sha256,
        fileName: facts.fileName,
        kind: facts.kind,
        widthPx: facts.widthPx,
        heightPx: facts.heightPx,
      },
      colours: analysis.colours,
      transitions: analysis.transitions,
      purity: analysis.purity,
      background: analysis.background,
      backgroundWish,
      print: { widthMm: printWidthMm, chosen: false },
      garment,
      inks: inks === 'process' ? 'auto' : inks,
      simulated: method === 'simulated' ? simulatedInks(options, inks, darkest(garments).colour) : null,
      date: options.date ?? new Date().toISOString().slice(0, 10),
    });
    // Inks are chosen for the part of the artwork that prints, and as its colours are changed.
    const worn = setTogether(garments.slice(1).reduce(addGarment, proposed), garments.length > 1);
    const early = ['part', 'contrast', 'saturation'] as const;
    const asked = early.flatMap((name) => (options[name] === undefined ? [] : [[name, options[name]]]));
    const flat = !isFullTone(analysis.flatShare, analysis.transitions);
    const changed = await withOptions(Object.fromEntries(asked) as Options, worn);
    const part = withFlatSolids(changed, options, analysis.keepable, flat);
    const chosen =
      method !== 'simulated' || typeof inks === 'object'
        ? part
        : inks === 'process'
          ? processJob(part, options)
          : await watch.time('inks', async () =>
              withBestInks(part, inks, options, await coloursOf(part, files)),
            );
    const wanted = await withOptions(options, withSolids(chosen, options));
    const { sheet, dots } = await withAutoDots(wanted, files, options, watch);
    return produce({
      sheet,
      dots,
      notes: notesOf(facts, analysis),
      files,
      artworkFile,
      out,
      folder,
      options,
      watch,
    });
  });
}

/** `films JOB.json`: makes the films of a job sheet with its artwork beside it. */
export async function films(jobFile: string, options: Options): Promise<Made> {
  const out = required(options, 'out');
  await checkFile(jobFile, 'job sheet');
  let document: unknown;
  try {
    document = JSON.parse(await readFile(jobFile, 'utf8'));
  } catch {
    throw bad('job sheet', `${path.basename(jobFile)} is not JSON.`, 'Export the job again.');
  }
  const sheet = await withOptions(options, withSolids(parseJobSheet(document), options));
  const artworkFile = path.join(path.dirname(jobFile), artworkOf(sheet).fileName);
  const watch = new Stopwatch();
  return withWorkFolder(async (folder) => {
    await checkFile(artworkFile, 'artwork');
    const { sha256 } = await watch.time('inspect', () => identifyArtwork(artworkFile));
    if (sha256 !== artworkOf(sheet).sha256) {
      throw bad(
        'artwork',
        `${artworkOf(sheet).fileName} is not the artwork that the job sheet was made for.`,
        'Put the original file beside the job sheet.',
      );
    }
    const { facts, files } = await watch.time('decode', () =>
      takeInArtwork(artworkFile, artworkOf(sheet).fileName, folder),
    );
    const wanted = withArtworkFacts(sheet, facts);
    return produce({
      ...(await withAutoDots(wanted, files, options, watch)),
      notes: { ...NO_NOTES, missingFonts: facts.missingFonts },
      files,
      artworkFile,
      out,
      folder,
      options,
      watch,
    });
  });
}

/** The colours that a job of tones prints. */
async function coloursOf(sheet: JobSheet, files: ArtworkFiles): Promise<ArtworkColours> {
  const source = openArtwork(files);
  try {
    return await artworkColours(sheet, source, outerMapFor(source, sheet));
  } finally {
    source.close();
  }
}

/** A job of process colours, with whites as the options ask for them. */
function processJob(sheet: JobSheet, options: Options): JobSheet {
  const process = toProcess(sheet);
  const based = options['base-white'] === 'no' ? setWhite(process, 'underbase', false) : process;
  return options.highlight === 'yes' ? setWhite(based, 'highlight', true) : based;
}

/** The sheet with the best arrangement of dots where `--geometry auto` asks for it. */
async function withAutoDots(
  sheet: JobSheet,
  files: ArtworkFiles,
  options: Options,
  watch: Stopwatch,
): Promise<{ sheet: JobSheet; dots: DotsReport | null }> {
  if (options.geometry !== 'auto') return { sheet, dots: null };
  if (!isSimulated(sheet)) {
    throw bad('geometry', '--geometry auto is for tones.', 'Add --method simulated, or name a geometry.');
  }
  const found = await watch.time('dots', async () => withBestDots(sheet, await coloursOf(sheet, files)));
  return { sheet: found.sheet, dots: found.report };
}

interface Production {
  readonly sheet: JobSheet;
  /** Null where dots are as they were asked for. */
  readonly dots: DotsReport | null;
  readonly notes: ArtworkNotes;
  readonly files: ArtworkFiles;
  readonly artworkFile: string;
  readonly out: string;
  readonly folder: string;
  readonly options: Options;
  readonly watch: Stopwatch;
}

const PREVIEW_SIDE = 1600;

/** Makes everything that a job's folder holds, and returns what of it is severe. */
async function produce(production: Production): Promise<Made> {
  const { sheet, files, out, folder, watch } = production;
  if (sheet.plates.length === 0) {
    throw bad(
      'artwork',
      'Nothing would print: every colour of the artwork is left to the garment.',
      'Choose another garment, keep the background, or give a colour an ink with --inks.',
    );
  }
  const threads = readNumber(production.options, 'threads', 1, 64);
  const number = readNumber(production.options, 'plate', 1, 99);
  const chosen = number === null ? null : sheet.plates.find((plate) => plate.number === number);
  if (chosen === undefined) throw bad('plate', `The job has no film ${number}.`, 'See job.json.');
  const only = chosen ? [chosen.id] : null;
  await makeFolder(path.join(out, 'plates'));
  const set = await watch.time('films', () =>
    makeFilmSet({ sheet, artwork: files, folder, keepPlanes: true, only, ...(threads ? { threads } : {}) }),
  );
  if (only === null && set.films.every(({ coverage }) => coverage === 0)) {
    throw bad(
      'artwork',
      'Nothing would print: the artwork is transparent, or has the colour of the garment everywhere.',
      'Choose another garment or other artwork.',
    );
  }
  await watch.time('files', () => writeFilmFiles(set, out));
  await watch.time('plates', () => writePlanes(set, out));
  const source = openArtwork(files);
  try {
    const outer = outerMapFor(source, sheet);
    const width = Math.round(
      (PREVIEW_SIDE * sheet.print.widthMm) / Math.max(sheet.print.widthMm, sheet.print.heightMm),
    );
    const preview = await watch.time('preview', () => renderPreview(sheet, source, outer, width));
    const { width: across, height: down } = preview;
    const picture = sharp(preview.rgba, { raw: { width: across, height: down, channels: 4 } }).png();
    await writePng(picture, across / (sheet.print.widthMm / MM_PER_INCH), path.join(out, 'preview.png'));
    if (sheet.film.formats.includes('png-print')) {
      await watch.time('print', () => writePrintPng(sheet, source, outer, path.join(out, 'print.png')));
    }
    const survey = await watch.time('survey', () => surveyPrint(sheet, source, outer));
    const pieces = await watch.time('pieces', () => smallPiecesOf(set));
    const findings = [
      ...findingsOf(sheet, production.notes, survey),
      // Tones begin and end in small pieces: dots stand for them.
      ...(isSimulated(sheet) ? [] : checkPieces(pieces)),
    ];
    await writeFile(path.join(out, 'job.json'), JSON.stringify(sheet, null, 2) + '\n');
    const copy = path.join(out, artworkOf(sheet).fileName);
    if (path.resolve(copy) !== path.resolve(production.artworkFile))
      await copyFile(production.artworkFile, copy);
    const colours = colourPrints(sheet, survey.colours);
    const inks = isSimulated(sheet)
      ? await watch.time('worth', async () => inkReport(sheet, await artworkColours(sheet, source, outer)))
      : null;
    const report = makeReport(sheet, set, {
      inks,
      dots: production.dots,
      difference: survey.difference,
      colours,
      findings,
      smallPieces: Object.fromEntries(pieces.map(({ plate, count }) => [plate.number, count])),
      seconds: watch.seconds,
    });
    await writeFile(path.join(out, 'report.json'), JSON.stringify(report, null, 2) + '\n');
    return { out, severe: findings.filter((finding) => finding.severity === 'severe') };
  } finally {
    source.close();
  }
}

/** Pieces smaller than this are held by no screen. Common practice, no source. */
const LEAST_PIECE_MM2 = 0.1;

/** Pieces of each plate that are smaller than a press holds, on the planes that are kept. */
function smallPiecesOf(set: FilmSet): PlatePieces[] {
  const { planeWidth, planeHeight, sheet } = set.plan;
  const pxPerMm = planeWidth / sheet.print.widthMm;
  const limit = LEAST_PIECE_MM2 * pxPerMm * pxPerMm;
  return set.films.map(({ plate }, k) => {
    const { count, place } = countSmallPieces(set.planes[k]!, planeWidth, planeHeight, limit);
    return {
      plate,
      count,
      place: place && { xMm: (place.x + 0.5) / pxPerMm, yMm: (place.y + 0.5) / pxPerMm },
    };
  });
}

async function makeFolder(folder: string): Promise<void> {
  await mkdir(folder, { recursive: true }).catch(() => {
    throw bad(
      'out',
      `The folder ${path.basename(path.dirname(folder))} cannot be made.`,
      'Choose another --out.',
    );
  });
}

/** Writes a picture with the resolution that it has on the print. */
async function writePng(picture: Sharp, dpi: number, file: string): Promise<void> {
  await writeFile(file, withResolution(await picture.toBuffer(), dpi));
}

async function writePlanes(set: FilmSet, out: string): Promise<void> {
  const { planeWidth: width, planeHeight: height, sheet } = set.plan;
  const dpi = width / (sheet.print.widthMm / MM_PER_INCH);
  for (const [index, film] of set.films.entries()) {
    const picture = sharp(set.planes[index]!, { raw: { width, height, channels: 1 } })
      .toColourspace('b-w')
      .png({ compressionLevel: 3 });
    await writePng(picture, dpi, path.join(out, 'plates', `${film.baseName}.png`));
  }
}
