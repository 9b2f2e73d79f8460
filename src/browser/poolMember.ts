import * as Comlink from 'comlink';
import type { DrawRequest, DrawnBand } from './requests';
import type { TableWorkerApi } from './tableWorker';

type Api = Comlink.Remote<TableWorkerApi>;

/** What is asked of a worker. */
export type Question<T> = (api: Api) => Promise<T>;

/** A worker of the pool, and what was asked of it. */
export class PoolMember {
  private readonly worker: Worker;
  private readonly api: Api;
  /** Told when the worker itself breaks down. */
  private readonly waiting = new Set<(reason: Error) => void>();
  private isRetiring = false;
  /** Drawings that it was asked for, or as good as asked: members start apart so that they are not renewed together. */
  drawn: number;
  /** What it was asked to draw last, without the memory for it. */
  last: DrawRequest | null = null;

  constructor(name: string, drawn = 0) {
    this.drawn = drawn;
    this.worker = new Worker(new URL('./tableWorker.ts', import.meta.url), { type: 'module', name });
    this.worker.addEventListener('error', () => {
      for (const tell of this.waiting) tell(new Error('a drawing worker stopped; it is started again'));
    });
    this.api = Comlink.wrap<TableWorkerApi>(this.worker);
  }

  /** The worker's answer, or its breakdown. Not a race against one lasting promise: that would keep every answer for good. */
  ask<T>(question: Question<T>): Promise<T> {
    return new Promise<T>((resolve, reject) => {
      this.waiting.add(reject);
      const answered = () => {
        this.waiting.delete(reject);
        if (this.isRetiring) this.endWhenIdle();
      };
      void question(this.api).then(resolve, reject).finally(answered);
    });
  }

  /** @param room memory that the pixels may be written to; given away. */
  draw(request: DrawRequest, room: ArrayBuffer | null): Promise<DrawnBand | null> {
    this.drawn++;
    this.last = request;
    return this.ask((api) => api.draw(room ? Comlink.transfer({ ...request, room }, [room]) : request));
  }

  /** For what needs no answer. */
  tell(message: Question<void>): void {
    void message(this.api);
  }

  /** Ends the worker when everything that was asked of it is answered. */
  retire(): void {
    this.isRetiring = true;
    this.endWhenIdle();
  }

  private endWhenIdle(): void {
    if (this.waiting.size === 0) this.end();
  }

  end(): void {
    this.worker.terminate();
  }
}
