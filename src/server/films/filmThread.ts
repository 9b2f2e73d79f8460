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

/**
 * A strip that is wanted, and memory of strips that are done with. It is shared: what is handed to and fro counts as new in each thread
 * each time, and has everything that lives there looked through for what does not any more.
 */
export interface FilmThreadOrder {
  readonly index: number;
  readonly room: SharedArrayBuffer[];
}

/** What it answers for each order. */
export type FilmThreadAnswer = { readonly strip: FilmStrip } | { readonly error: ErrorReport };

/** So many bytes, all 0, in memory of that size where there is some; it is taken out of the room. */
function clearIn(room: SharedArrayBuffer[], bytes: number): Uint8Array {
  const size = Math.ceil(bytes / 8) * 8;
  const at = room.findIndex((each) => each.byteLength === size);
  const buffer = at < 0 ? new SharedArrayBuffer(size) : room.splice(at, 1)[0]!;
  // Shared memory is written place by place: eight bytes at a time, that is.
  if (at >= 0) new Float64Array(buffer).fill(0);
  return new Uint8Array(buffer, 0, bytes);
}

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
      const strip = maker.make(
        index,
        (need) => source.read(need),
        (bytes) => clearIn(room, bytes),
      );
      const bytes = strip.planes?.bytes.map((plane) => plane.buffer as ArrayBuffer) ?? [];
      parentPort!.postMessage({ strip } satisfies FilmThreadAnswer, bytes);
    } catch (thrown) {
      parentPort!.postMessage({ error: toErrorReport(thrown) } satisfies FilmThreadAnswer);
    }
  };
}

run(workerData as FilmThreadData);
