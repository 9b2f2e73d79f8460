import { existsSync } from 'node:fs';
import path from 'node:path';
import { Worker } from 'node:worker_threads';
import type { DrawingPicture } from '@/core/drawing';
import { KerameusError } from '@/core/units';
import { distFolder } from '../projectRoot';
import type { DrawingAnswer, DrawingOrder, SvgFacts } from './drawingThread';
import type { FlatDrawing } from './flattenSvg';

/** Work on one drawing may take this long, without the decoding of its pictures. */
const TIME_LIMIT_MS = 40_000;
/** A page of our own cannot be hostile; a slow machine is given time for it. */
const OWN_PAGE_LIMIT_MS = 300_000;
const HEAP_MB = 1500;

export interface FlattenedFile {
  readonly facts: SvgFacts;
  readonly flat: FlatDrawing;
}

/** Decodes the pictures that a drawing embeds. */
export type PictureDecoder = (files: readonly Uint8Array[]) => Promise<readonly DrawingPicture[]>;

/**
 * Resolves an SVG file in a thread of its own, within limits of time and memory. Throws KerameusError with what is wrong and what to do, or the
 * signal's reason.
 */
export async function flattenDrawing(
  file: string,
  decode: PictureDecoder,
  signal?: AbortSignal,
): Promise<FlattenedFile> {
  const answer = await ask({ kind: 'flatten', path: file }, TIME_LIMIT_MS, decode, signal);
  if (answer.kind !== 'flat') throw new Error('the thread answered something else');
  return answer;
}

/** Renders one of our own pages, smoothed. */
export async function renderPage(
  source: string,
  widthPx: number,
  signal?: AbortSignal,
): Promise<DrawingPicture> {
  const order = { kind: 'render', source, widthPx } as const;
  const answer = await ask(order, OWN_PAGE_LIMIT_MS, () => Promise.resolve([]), signal);
  if (answer.kind !== 'rendered') throw new Error('the thread answered something else');
  return answer.picture;
}

function ask(
  order: DrawingOrder,
  limitMs: number,
  decode: PictureDecoder,
  signal?: AbortSignal,
): Promise<DrawingAnswer> {
  signal?.throwIfAborted();
  const entry = path.join(/* turbopackIgnore: true */ distFolder(), 'drawingThread.mjs');
  if (!existsSync(entry)) {
    throw new KerameusError({
      code: 'not-built',
      message: 'The thread that reads drawings is not built.',
      remedy: 'Run npm run build:worker.',
    });
  }
  return new Promise<DrawingAnswer>((resolve, reject) => {
    const worker = new Worker(entry, {
      workerData: order,
      resourceLimits: { maxOldGenerationSizeMb: HEAP_MB, maxYoungGenerationSizeMb: 32 },
    });
    let timer: ReturnType<typeof setTimeout>;
    const end = (settle: () => void): void => {
      clearTimeout(timer);
      signal?.removeEventListener('abort', abort);
      void worker.terminate();
      settle();
    };
    const abort = (): void => end(() => reject(signal!.reason as Error));
    const watch = (): void => {
      clearTimeout(timer);
      timer = setTimeout(() => end(() => reject(tooLong(limitMs))), limitMs);
    };
    signal?.addEventListener('abort', abort, { once: true });
    worker.on('error', (error: Error & { code?: string }) =>
      end(() => reject(error.code === 'ERR_WORKER_OUT_OF_MEMORY' ? tooLarge() : error)),
    );
    worker.on('exit', () => end(() => reject(tooLarge())));
    worker.on('message', (answer: DrawingAnswer) => {
      if (answer.kind === 'pictures') {
        clearTimeout(timer);
        decode(answer.files).then(
          (pictures) => {
            watch();
            worker.postMessage({ pictures });
          },
          (thrown: Error) => end(() => reject(thrown)),
        );
      } else if (answer.kind === 'failed') end(() => reject(new KerameusError(answer.error)));
      else end(() => resolve(answer));
    });
    watch();
  });
}

const REMEDY = 'Simplify the drawing, or export it as a PNG at print size.';

function tooLong(limitMs: number): KerameusError {
  return new KerameusError({
    code: 'svg-refused',
    parameter: 'artwork',
    message: `The SVG takes more than ${limitMs / 1000} seconds to read: too much stands inside of each other, or its effects are too large.`,
    remedy: REMEDY,
  });
}

function tooLarge(): KerameusError {
  return new KerameusError({
    code: 'svg-refused',
    parameter: 'artwork',
    message: 'The SVG takes more memory to read than is allowed.',
    remedy: REMEDY,
  });
}
