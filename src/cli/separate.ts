import path from 'node:path';
import { formatHexColour, labFromRgb8, nameColour, parseHexColour } from '@/core/colour';
import {
  type BackgroundWish,
  type NewJob,
  addGarment,
  createJobSheet,
  isFullTone,
  setTogether,
  setWhite,
  toProcess,
} from '@/core/separation';
import { BACKGROUNDS, type Garment, type JobSheet, LIMITS, METHODS, START_STOCK } from '@/core/sheet';
import { parseLengthMm, trimNumber } from '@/core/units';
import {
  type ArtworkAnalysis,
  type ArtworkFacts,
  analyseArtwork,
  artworkFor,
  notesOf,
  openArtwork,
  takeInArtwork,
} from '@/server/artwork';
import { type Options, bad, readChoice, required } from './arguments';
import { type InkWish, readInks, simulatedInks } from './inks';
import { withOptions } from './options';
import { type Made, Stopwatch, produce } from './produce';
import { withFlatSolids, withSolids } from './solids';
import { filesWithTexture, withTexturePicture } from './texturePicture';
import { coloursOf, withAutoDots } from './toneDots';
import { withBestInks } from './toneInks';
import { checkFile, withWorkFolder } from './workFiles';

type Method = (typeof METHODS)[number];

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

/** The plates that the file names. Throws CliError where it has none, or where inks are chosen beside them. */
function suppliedPlates({ plates }: ArtworkFacts, options: Options): NonNullable<NewJob['supplied']> {
  if (options.inks !== undefined) {
    throw bad('inks', '--method supplied prints the inks that the file names.', 'Leave --inks out.');
  }
  if (!plates || plates.plates.length === 0) {
    throw bad(
      'method',
      plates?.refused ?? 'The artwork names no plates of its own.',
      'Use --method auto, or export it as a PDF with its inks as spot colours.',
    );
  }
  const names = plates.plates.map(({ name }) => name).join(', ');
  process.stderr.write(
    `kerameus: The file's own plates as they are: ${names}. It does not say their order: a white is the base on dark garments, others print light to dark.\n`,
  );
  return { plates: plates.plates, stock: START_STOCK.inks };
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

/** The page of a PDF, from 1 on. */
function readPage({ page }: Options): number {
  const number = page === undefined ? 1 : Number(page);
  if (Number.isInteger(number) && number >= 1) return number;
  throw bad('page', `--page ${page} is no page.`, 'Give a whole number from 1 on.');
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
  const page = readPage(options);
  const garments = readGarments(options);
  const [garment] = garments;
  const inks = readInks(options);
  const backgroundWish = readBackground(options.background);
  await checkFile(artworkFile, 'artwork');
  const watch = new Stopwatch();
  return withWorkFolder(async (folder) => {
    const { facts, files } = await watch.time('decode', () =>
      takeInArtwork(artworkFile, path.basename(artworkFile), folder, { page }),
    );
    const source = openArtwork(files);
    const analysis = await watch.time('analyse', () => analyseArtwork(source, facts));
    source.close();
    if (wish === 'spot' && inks === 'process') {
      throw bad('inks', '--inks process prints tones.', 'Give --method simulated, or name inks.');
    }
    const method = wish === 'auto' ? methodFor(facts, analysis, inks, options.method) : wish;
    const supplied = method === 'supplied' ? suppliedPlates(facts, options) : null;
    // What is not chosen against what was always done is told where it is asked for.
    if (options.method === 'auto' || (wish === 'auto' && method === 'simulated'))
      tellMethod(method, analysis);
    const proposed = createJobSheet({
      name: options.name ?? path.parse(facts.fileName).name,
      artwork: artworkFor(facts),
      colours: analysis.colours,
      transitions: analysis.transitions,
      purity: analysis.purity,
      background: analysis.background,
      backgroundWish,
      print: { widthMm: printWidthMm, chosen: false },
      garment,
      inks: inks === 'process' ? 'auto' : inks,
      supplied,
      simulated: method === 'simulated' ? simulatedInks(options, inks, darkest(garments).colour) : null,
      date: options.date ?? new Date().toISOString().slice(0, 10),
    });
    // Inks are chosen for the part of the artwork that prints, and as its colours are changed.
    const together = setTogether(garments.slice(1).reduce(addGarment, proposed), garments.length > 1);
    const early = ['part', 'contrast', 'saturation'] as const;
    const asked = early.flatMap((name) => (options[name] === undefined ? [] : [[name, options[name]]]));
    const flat = !isFullTone(analysis.flatShare, analysis.transitions);
    const changed = await withOptions(Object.fromEntries(asked) as Options, together);
    const part = withFlatSolids(changed, options, analysis.keepable, flat);
    const chosen =
      method !== 'simulated' || typeof inks === 'object'
        ? part
        : inks === 'process'
          ? processJob(part, options)
          : await watch.time('inks', async () =>
              withBestInks(part, inks, options, await coloursOf(part, files)),
            );
    const added = await withTexturePicture(options, chosen, folder);
    const wanted = await withOptions(options, withSolids(added.sheet, options));
    const worn = await filesWithTexture(files, wanted, added.grey, folder, folder);
    const { sheet, dots } = await withAutoDots(wanted, worn, options, watch);
    return produce({
      sheet,
      dots,
      notes: notesOf(facts, analysis),
      files: worn,
      artworkFile,
      out,
      folder,
      options,
      watch,
    });
  });
}

/** A job of process colours, with whites as the options ask for them. */
function processJob(sheet: JobSheet, options: Options): JobSheet {
  const process = toProcess(sheet);
  const based = options['base-white'] === 'no' ? setWhite(process, 'underbase', false) : process;
  return options.highlight === 'yes' ? setWhite(based, 'highlight', true) : based;
}
