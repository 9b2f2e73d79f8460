import path from 'node:path';
import { Worker } from 'node:worker_threads';
import { KerameusError } from '@/core/units';
import { distFolder } from '../projectRoot';
import type { StudyAnswer, StudyOrder, StudyResult } from './studyThread';

const nothing = () => Promise.resolve();

/**
 * Does work on decoded artwork in a thread of its own, which is ended when the signal fires. Throws what the work throws, or the signal's reason.
 *
 * @param turn waited for whenever the work could be put off.
 * @param heard told how much is done, 0..1, by kinds of work that know.
 */
export function study<K extends StudyOrder['kind']>(
  order: Extract<StudyOrder, { kind: K }>,
  signal: AbortSignal,
  turn: () => Promise<void> = nothing,
  heard: (done: number) => void = () => undefined,
): Promise<Extract<StudyResult, { kind: K }>> {
  signal.throwIfAborted();
  return new Promise((resolve, reject) => {
    const worker = new Worker(path.join(/* turbopackIgnore: true */ distFolder(), 'studyThread.mjs'), {
      workerData: order satisfies StudyOrder,
      resourceLimits: { maxYoungGenerationSizeMb: 16 },
    });
    const end = (settle: () => void): void => {
      signal.removeEventListener('abort', abort);
      void worker.terminate();
      settle();
    };
    const abort = (): void => end(() => reject(signal.reason as Error));
    signal.addEventListener('abort', abort, { once: true });
    worker.on('error', (error) => end(() => reject(error)));
    worker.on('exit', () => end(() => reject(new Error('a study ended without a result'))));
    worker.on('message', (answer: StudyAnswer) => {
      if (answer.kind === 'turn') void turn().then(() => worker.postMessage('go'));
      else if (answer.kind === 'heard') heard(answer.done);
      else if (answer.kind === 'failed') end(() => reject(new KerameusError(answer.error)));
      else end(() => resolve(answer as Extract<StudyResult, { kind: K }>));
    });
  });
}
