import { parentPort, workerData } from 'node:worker_threads';
import type { OuterMap } from '@/core/artwork';
import { openLabelFont } from '@/core/film';
import { createWasmKernels } from '@/core/kernels';
import { type FilmStrip, FilmStripMaker, planFilms, preparePlateJob } from '@/core/pipeline';
import { Arena } from '@/core/raster';
import type { JobSheet } from '@/core/sheet';
import { type ErrorReport, toErrorReport } from '@/core/units';
import { type ArtworkFiles, openArtwork } from '../artwork';
import { kernelModule, labelFontBytes } from '../projectRoot';
import { keptTiles } from './tileFiles';

/** What a thread is started with. */
export interface FilmThreadData {
  readonly sheet: JobSheet;
  readonly artwork: ArtworkFiles;
  readonly outerMap: OuterMap | null;
  readonly keepPlanes: boolean;
  /** The plates whose films are wanted; null for all. */
  readonly only: readonly string[] | null;
}

/** A strip that is wanted, and buffers of strips that are done with. */
export interface FilmThreadOrder {
  readonly index: number;
  readonly room: ArrayBuffer[];
}

/** What it answers for each order. */
export type FilmThreadAnswer = { readonly strip: FilmStrip } | { readonly error: ErrorReport };

function run(data: FilmThreadData): void {
  const memory = new Arena();
  const job = preparePlateJob(data.sheet, data.outerMap, createWasmKernels(kernelModule()), memory);
  const source = openArtwork(data.artwork);
  const maker = new FilmStripMaker(
    planFilms(data.sheet, data.only),
    job,
    openLabelFont(labelFontBytes()),
    data.keepPlanes,
    keptTiles(),
  );
  let last = Promise.resolve();
  parentPort!.on('message', (order: FilmThreadOrder) => {
    last = last.then(() => makeStrip(order));
  });
  const makeStrip = async ({ index, room }: FilmThreadOrder): Promise<void> => {
    try {
      memory.reset();
      const need = maker.need(index);
      if (need) await source.prepare(need);
      const strip = maker.make(index, (need) => source.read(need), room);
      const buffers = [...strip.bits, ...(strip.unmarked ?? [])].map((bits) => bits.buffer as ArrayBuffer);
      const bytes = strip.planes?.bytes.map((plane) => plane.buffer as ArrayBuffer) ?? [];
      parentPort!.postMessage({ strip } satisfies FilmThreadAnswer, [...buffers, ...bytes]);
    } catch (thrown) {
      parentPort!.postMessage({ error: toErrorReport(thrown) } satisfies FilmThreadAnswer);
    }
  };
}

run(workerData as FilmThreadData);
