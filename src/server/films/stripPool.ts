import { existsSync } from 'node:fs';
import path from 'node:path';
import { Worker } from 'node:worker_threads';
import type { FilmStrip } from '@/core/pipeline';
import { KerameusError } from '@/core/units';
import { collectGarbage } from '../collectGarbage';
import { distFolder } from '../projectRoot';
import type { FilmThreadAnswer, FilmThreadData, FilmThreadFurniture, FilmThreadOrder } from './filmThread';

/** What a thread makes lies outside its heap; what is on it lives for one strip. */
const YOUNG_MB = 4;

/**
 * Makes strips on several threads and hands them out in order; a strip's bits are the caller's until it asks for the next one. At most
 * two strips a thread are under way or waiting, so memory does not grow with the film.
 *
 * @param furnish makes the films' marks and labels, while the threads start.
 */
export async function* stripsInOrder(
  data: FilmThreadData,
  furnish: () => FilmThreadFurniture['furniture'],
  stripCount: number,
  threads: number,
  signal: AbortSignal,
): AsyncGenerator<FilmStrip> {
  const entry = path.join(distFolder(), 'filmThread.mjs');
  if (!existsSync(entry)) {
    throw new KerameusError({
      code: 'not-built',
      message: 'The film threads are not built.',
      remedy: 'Run npm run build:worker.',
    });
  }
  const waiting = new Map<number, (answer: FilmThreadAnswer) => void>();
  const ready = new Map<number, Promise<FilmThreadAnswer>>();
  let failure: Error | undefined;
  const fail = (error: Error): void => {
    failure = error;
    const report = { code: 'film-thread', message: error.message };
    for (const answer of waiting.values()) answer({ error: report });
    waiting.clear();
  };
  const workers = Array.from(
    { length: Math.min(threads, stripCount) },
    () => new Worker(entry, { workerData: data, resourceLimits: { maxYoungGenerationSizeMb: YOUNG_MB } }),
  );
  const turns: number[][] = workers.map(() => []);
  workers.forEach((worker, index) => {
    worker.on('error', fail);
    worker.on('message', (answer: FilmThreadAnswer) => {
      const strip = turns[index]!.shift()!;
      waiting.get(strip)?.(answer);
      waiting.delete(strip);
    });
  });
  const room: SharedArrayBuffer[] = [];
  // A strip that takes long is not waited for when nobody wants it any more.
  const onAbort = (): void => fail(signal.reason instanceof Error ? signal.reason : new Error('cancelled'));
  signal.addEventListener('abort', onAbort, { once: true });
  let next = 0;
  const order = (): void => {
    if (next >= stripCount) return;
    const strip = next++;
    // The thread with the least to do; strips differ in effort.
    const index = turns.reduce((best, turn, k) => (turn.length < turns[best]!.length ? k : best), 0);
    turns[index]!.push(strip);
    ready.set(strip, new Promise((resolve) => waiting.set(strip, resolve)));
    const given = room.splice(0);
    workers[index]!.postMessage({ index: strip, room: given } satisfies FilmThreadOrder);
  };
  try {
    const first: FilmThreadFurniture = { furniture: furnish() };
    for (const worker of workers) worker.postMessage(first);
    for (let k = 0; k < workers.length * 2; k++) order();
    for (let index = 0; index < stripCount; index++) {
      signal.throwIfAborted();
      if (failure) throw failure;
      const answer = await ready.get(index)!;
      ready.delete(index);
      signal.throwIfAborted();
      if ('error' in answer) throw failure ?? new KerameusError(answer.error);
      order();
      yield answer.strip;
      const { bits, unmarked } = answer.strip;
      room.push(...[...bits, ...(unmarked ?? [])].map((each) => each.buffer as SharedArrayBuffer));
    }
  } finally {
    signal.removeEventListener('abort', onAbort);
    await Promise.all(workers.map((worker) => worker.terminate()));
    // Shared memory does not hurry the collector, and the next set wants as much.
    room.length = 0;
    collectGarbage();
  }
}
