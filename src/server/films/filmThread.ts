import { parentPort, workerData } from 'node:worker_threads';
import type { OuterMap } from '@/core/artwork';
import type { SheetFurniture } from '@/core/film';
import { createWasmKernels } from '@/core/kernels';
import { type FilmStrip, FilmStripMaker, planFilms, preparePlateJob } from '@/core/pipeline';
import { Arena } from '@/core/raster';
import type { JobSheet } from '@/core/sheet';
import { type ErrorReport, toErrorReport } from '@/core/units';
import { type ArtworkFiles, openArtwork } from '../artwork';
import { kernelModule } from '../projectRoot';
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

/** Marks and label of each film, before the first order: they are made while the thread starts. */
export interface FilmThreadFurniture {
  readonly furniture: readonly SheetFurniture[];
}

/** What it answers for each order. */
export type FilmThreadAnswer = { readonly strip: FilmStrip } | { readonly error: ErrorReport };

/** Copies bits to shared memory of their size, out of the room where it has some. Shared memory is slow to work in, except all at once. */
function share(bits: Uint8Array, room: SharedArrayBuffer[]): Uint8Array {
  const at = room.findIndex((each) => each.byteLength === bits.length);
  const shared = new Uint8Array(at < 0 ? new SharedArrayBuffer(bits.length) : room.splice(at, 1)[0]!);
  shared.set(bits);
  return shared;
}

/** A thread's own memory for the bits of a strip: each strip's lie where those of the one before it did. */
class OwnBits {
  private readonly kept: Uint8Array[] = [];
  private used = 0;

  begin(): void {
    this.used = 0;
  }

  clear(bytes: number): Uint8Array {
    const kept = this.kept[this.used];
    const bits = kept?.length === bytes ? kept.fill(0) : new Uint8Array(bytes);
    this.kept[this.used++] = bits;
    return bits;
  }
}

function run(data: FilmThreadData): void {
  const memory = new Arena();
  const kernels = createWasmKernels(kernelModule());
  const job = preparePlateJob(data.sheet, data.outerMap, kernels, memory);
  const source = openArtwork(data.artwork, kernels);
  const plan = planFilms(data.sheet, data.only);
  const tiles = keptTiles();
  const own = new OwnBits();
  let last: Promise<unknown> = Promise.resolve();
  parentPort!.once('message', ({ furniture }: FilmThreadFurniture) => {
    const maker = new FilmStripMaker(plan, job, furniture, data.keepPlanes, tiles);
    parentPort!.on('message', (order: FilmThreadOrder) => {
      last = last.then(() => makeStrip(maker, order));
    });
  });
  const makeStrip = async (maker: FilmStripMaker, { index, room }: FilmThreadOrder): Promise<void> => {
    try {
      memory.reset();
      own.begin();
      const made = maker.make(
        index,
        (need) => source.read(need),
        (bytes) => own.clear(bytes),
      );
      const shared = (bits: readonly Uint8Array[]) => bits.map((each) => share(each, room));
      const strip: FilmStrip = {
        ...made,
        bits: shared(made.bits),
        unmarked: made.unmarked && shared(made.unmarked),
      };
      const bytes = strip.planes?.bytes.map((plane) => plane.buffer as ArrayBuffer) ?? [];
      parentPort!.postMessage({ strip } satisfies FilmThreadAnswer, bytes);
    } catch (thrown) {
      parentPort!.postMessage({ error: toErrorReport(thrown) } satisfies FilmThreadAnswer);
    }
  };
}

run(workerData as FilmThreadData);
