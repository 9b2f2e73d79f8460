import path from 'node:path';
import { Worker } from 'node:worker_threads';
import { KerameusError } from '@/core/units';
import { distFolder } from '../projectRoot';
import type { StudyAnswer, StudyOrder, StudyQuestion, StudyResult } from './studyThread';

const nothing = () => Promise.resolve();

type OrderOf<K extends StudyOrder['kind']> = Extract<StudyOrder, { kind: K }>;
type ResultOf<K extends StudyOrder['kind']> = Extract<StudyResult, { kind: K }>;

interface Open {
  readonly heard: (answer: StudyAnswer) => void;
  readonly failed: (reason: unknown) => void;
}

/**
 * A thread for work on decoded artwork, one order after the other: what the first order made the machine ready for serves the next. It is ended by `close`, or when the
 * signal fires.
 */
export class Study {
  private readonly worker: Worker;
  private open: Open | null = null;
  private ended: unknown = null;

  constructor(private readonly signal: AbortSignal) {
    signal.throwIfAborted();
    this.worker = new Worker(path.join(/* turbopackIgnore: true */ distFolder(), 'studyThread.mjs'), {
      resourceLimits: { maxYoungGenerationSizeMb: 16 },
    });
    signal.addEventListener('abort', this.abort, { once: true });
    this.worker.on('error', (error) => this.end(error));
    this.worker.on('exit', () => this.end(new Error('a study ended without a result')));
    this.worker.on('message', (answer: StudyAnswer) => this.open?.heard(answer));
  }

  /**
   * Does one piece of work. Throws what the work throws, or the signal's reason; an order that is given while another one is done is refused.
   *
   * @param turn waited for whenever the work could be put off.
   * @param heard told how much is done, 0..1, by kinds of work that know.
   */
  async ask<K extends StudyOrder['kind']>(
    order: OrderOf<K>,
    turn: () => Promise<void> = nothing,
    heard: (done: number) => void = () => undefined,
  ): Promise<ResultOf<K>> {
    if (this.open) throw new Error('a study does one thing at a time');
    try {
      return await new Promise((resolve, reject) => {
        if (this.ended) return reject(this.ended as Error);
        const post = (question: StudyQuestion) => this.worker.postMessage(question);
        this.open = {
          failed: reject,
          heard: (answer) => {
            if (answer.kind === 'turn')
              void turn().then(
                () => post('go'),
                (error: unknown) => this.end(error),
              );
            else if (answer.kind === 'heard') heard(answer.done);
            else if (answer.kind === 'failed') reject(new KerameusError(answer.error));
            else resolve(answer as ResultOf<K>);
          },
        };
        post(order);
      });
    } finally {
      this.open = null;
    }
  }

  close(): void {
    this.end(new Error('the study is closed'));
  }

  private readonly abort = (): void => this.end(this.signal.reason);

  private end(reason: unknown): void {
    if (this.ended) return;
    this.ended = reason;
    this.signal.removeEventListener('abort', this.abort);
    void this.worker.terminate();
    this.open?.failed(reason);
  }
}

/** Does one piece of work in a thread of its own; see `Study`. */
export async function study<K extends StudyOrder['kind']>(
  order: OrderOf<K>,
  signal: AbortSignal,
  turn?: () => Promise<void>,
  heard?: (done: number) => void,
): Promise<ResultOf<K>> {
  const thread = new Study(signal);
  try {
    return await thread.ask(order, turn, heard);
  } finally {
    thread.close();
  }
}
