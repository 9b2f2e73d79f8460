import { parentPort } from 'node:worker_threads';
import { type OuterMap, buildOuterMap } from '@/core/artwork';
import { parseHexColour } from '@/core/colour';
import { type InkOffer, type Survey, tablesFor } from '@/core/pipeline';
import { type Ink, type JobSheet, droppedBackground } from '@/core/sheet';
import { tableOf } from '@/core/solving';
import { type ErrorReport, toErrorReport } from '@/core/units';
import { tableName } from '@/protocol/tables';
import {
  type ArtworkAnalysis,
  type ArtworkFacts,
  type ArtworkFiles,
  type ArtworkSource,
  analyseArtwork,
  analysisLevel,
  openArtwork,
} from '../artwork';
import { artworkColours, offersFor } from '../films/proposeInks';
import { type CleaningNotes, type CleaningWish } from '@/protocol/tasks';
import { type Revised, type RevisionInput, cleanFile, reviseJob } from '../revision';
import type { SolvedTable } from '../tables';
import { samplePicture } from '../textures';
import { type Preview, renderPreview, surveyPrint, writePrintPng } from '../films/preview';

/** What a job looks like: its sheet, and where its decoded artwork lies. */
export interface StudiedJob {
  readonly sheet: JobSheet;
  readonly files: ArtworkFiles;
  readonly outerMap: OuterMap | null;
}

/** Work on decoded artwork that takes seconds of one processor. */
export type StudyOrder =
  /** Finds the colours of artwork and what lies outside of the drawing. */
  | { readonly kind: 'analyse'; readonly files: ArtworkFiles; readonly facts: ArtworkFacts }
  /** Draws the print, so many pixels wide, and looks the whole of it over where that is asked for. */
  | {
      readonly kind: 'preview';
      readonly job: StudiedJob;
      readonly widthPx: number;
      readonly marginMm: number;
      readonly survey: boolean;
    }
  /** Finds inks of stock for a job of tones. */
  | { readonly kind: 'inks'; readonly job: StudiedJob; readonly stock: readonly Ink[]; readonly most: number }
  /** Cleans a picture into a drawing, which it writes as SVG. */
  | {
      readonly kind: 'clean';
      readonly files: ArtworkFiles;
      readonly facts: ArtworkFacts;
      readonly analysis: ArtworkAnalysis;
      readonly wish: CleaningWish;
      readonly printWidthMm: number;
      readonly target: string;
    }
  /** Samples a picture or a drawing that is to be a texture. */
  | { readonly kind: 'texture'; readonly files: ArtworkFiles; readonly facts: ArtworkFacts }
  /** Compares a job's artwork with what takes its place. */
  | { readonly kind: 'revise'; readonly input: RevisionInput }
  /** Solves the tables that a job of tones is drawn with. */
  | { readonly kind: 'tables'; readonly sheet: JobSheet }
  /** Writes the print as a transparent PNG. */
  | { readonly kind: 'print'; readonly job: StudiedJob; readonly target: string };

export type StudyResult =
  | { readonly kind: 'analyse'; readonly analysis: ArtworkAnalysis; readonly outerMap: OuterMap | null }
  | { readonly kind: 'preview'; readonly preview: Preview; readonly survey: Survey | null }
  | { readonly kind: 'inks'; readonly offers: readonly InkOffer[] }
  | { readonly kind: 'clean'; readonly notes: CleaningNotes }
  | { readonly kind: 'revise'; readonly revised: Revised }
  | { readonly kind: 'texture'; readonly grey: Uint8Array }
  | { readonly kind: 'tables'; readonly tables: readonly SolvedTable[] }
  | { readonly kind: 'print' };

/** What the thread is told: what to do next, or that it may go on with what it does. */
export type StudyQuestion = StudyOrder | 'go';

export type StudyAnswer =
  | StudyResult
  /** Asks whether it may go on. */
  | { readonly kind: 'turn' }
  /** How much of it is done, 0..1. */
  | { readonly kind: 'heard'; readonly done: number }
  | { readonly kind: 'failed'; readonly error: ErrorReport };

function say(answer: StudyAnswer): void {
  parentPort!.postMessage(answer);
}

let goOn: () => void = () => undefined;

function turn(): Promise<void> {
  const answer = new Promise<void>((resolve) => (goOn = resolve));
  say({ kind: 'turn' });
  return answer;
}

async function perform(order: StudyOrder): Promise<StudyResult> {
  if (order.kind === 'revise') return { kind: 'revise', revised: reviseJob(order.input) };
  if (order.kind === 'texture') return { kind: 'texture', grey: samplePicture(order.files, order.facts) };
  if (order.kind === 'tables') return { kind: 'tables', tables: await solveTables(order.sheet) };
  const source = openArtwork('files' in order ? order.files : order.job.files);
  try {
    if (order.kind === 'clean') return { kind: 'clean', notes: await clean(order, source) };
    if (order.kind === 'analyse') {
      const { facts } = order;
      const analysis = analyseArtwork(source, facts, (done) => say({ kind: 'heard', done }));
      const outerMap = analysis.background
        ? buildOuterMap(
            source.reader(analysisLevel(facts)),
            parseHexColour(analysis.background.colour),
            analysis.purity,
          )
        : null;
      return { kind: 'analyse', analysis, outerMap };
    }
    const { sheet, outerMap } = order.job;
    const outer = droppedBackground(sheet) ? outerMap : null;
    if (order.kind === 'print') {
      await writePrintPng(sheet, source, outer, order.target);
      return { kind: 'print' };
    }
    if (order.kind === 'inks') {
      const colours = await artworkColours(sheet, source, outer, turn);
      const heard = (done: number) => say({ kind: 'heard', done });
      const { most, stock } = order;
      return { kind: 'inks', offers: await offersFor(sheet, stock, colours, { most, heard, between: turn }) };
    }
    const preview = await renderPreview(sheet, source, outer, order.widthPx, {
      marginMm: order.marginMm,
      between: turn,
    });
    return {
      kind: 'preview',
      preview,
      survey: order.survey ? await surveyPrint(sheet, source, outer, turn) : null,
    };
  } finally {
    source.close();
  }
}

async function solveTables(sheet: JobSheet): Promise<SolvedTable[]> {
  const tables: SolvedTable[] = [];
  for (const wish of tablesFor(sheet))
    tables.push({ name: await tableName(wish, process.env.SOLVER_HASH), entries: tableOf(wish).entries });
  return tables;
}

function clean(order: Extract<StudyOrder, { kind: 'clean' }>, source: ArtworkSource): Promise<CleaningNotes> {
  const { facts, analysis, wish, printWidthMm, target } = order;
  const heard = (done: number) => say({ kind: 'heard', done });
  return cleanFile(source, facts, analysis, wish, printWidthMm, target, heard);
}

parentPort!.on('message', (question: StudyQuestion) => {
  if (question === 'go') goOn();
  else
    perform(question).then(say, (thrown: unknown) => say({ kind: 'failed', error: toErrorReport(thrown) }));
});
