import { copyFile, mkdir, writeFile } from 'node:fs/promises';
import path from 'node:path';
import sharp, { type Sharp } from 'sharp';
import type { OuterMap } from '@/core/artwork';
import { type ArtworkNotes, type Finding, colourPrints, findingsOf } from '@/core/checks';
import { withResolution } from '@/core/formats';
import { type JobSheet, artworkOf, isSimulated } from '@/core/sheet';
import { MM_PER_INCH } from '@/core/units';
import { type ArtworkFiles, type ArtworkSource, openArtwork } from '@/server/artwork';
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
import { type Options, bad, readNumber } from './arguments';
import { makeReport } from './report';
import { type DotsReport } from './toneDots';
import { inkReport } from './toneInks';
import { writeTexturePng } from './texturePicture';

/** Seconds by stage, in the order in which the stages ran. */
export class Stopwatch {
  readonly seconds: Record<string, number> = {};

  async time<T>(stage: string, work: () => Promise<T> | T): Promise<T> {
    const start = performance.now();
    const result = await work();
    this.seconds[stage] = Math.round(performance.now() - start) / 1000;
    return result;
  }
}

/** Where the films lie, and what is severe about them. */
export interface Made {
  readonly out: string;
  readonly severe: readonly Finding[];
}

/** What a folder of films is made of. */
export interface Production {
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
export async function produce(production: Production): Promise<Made> {
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
    const { notes } = production;
    const { survey, findings } = await judge({ sheet, notes, source, outer, watch });
    await writeFile(path.join(out, 'job.json'), JSON.stringify(sheet, null, 2) + '\n');
    if (files.texture) await writeTexturePng(out, files.texture);
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
      edges: survey.edges,
      colours,
      findings,
      smallPieces: Object.fromEntries(
        (survey.pieces ?? []).map(({ count }, k) => [sheet.plates[k]!.number, count]),
      ),
      seconds: watch.seconds,
    });
    await writeFile(path.join(out, 'report.json'), JSON.stringify(report, null, 2) + '\n');
    return { out, severe: findings.filter((finding) => finding.severity === 'severe') };
  } finally {
    source.close();
  }
}

/** What is to be judged. */
export interface Judged {
  readonly sheet: JobSheet;
  readonly notes: ArtworkNotes;
  readonly source: ArtworkSource;
  readonly outer: OuterMap | null;
  readonly watch: Stopwatch;
}

/** Everything that is to be said of a job's print. */
export async function judge({ sheet, notes, source, outer, watch }: Judged) {
  const survey = await watch.time('survey', () => surveyPrint(sheet, source, outer));
  return { survey, findings: findingsOf(sheet, notes, survey) };
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
