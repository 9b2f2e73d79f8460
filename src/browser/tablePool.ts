import * as Comlink from 'comlink';
import type { DrawRequest, Drawing, TableWorkerApi } from './tableWorker';

/** Draws views on web workers, each a band of it; newer requests make older ones void. */
export class TablePool {
  private readonly workers: { worker: Worker; api: Comlink.Remote<TableWorkerApi> }[] = [];
  private ticket = 0;

  constructor(count = Math.max(1, Math.min(4, navigator.hardwareConcurrency || 2))) {
    for (let k = 0; k < count; k++) {
      const worker = new Worker(new URL('./tableWorker.ts', import.meta.url), { type: 'module' });
      this.workers.push({ worker, api: Comlink.wrap<TableWorkerApi>(worker) });
    }
  }

  /** The whole view, or null when a newer one was asked for meanwhile. */
  async draw(request: Omit<DrawRequest, 'ticket'>): Promise<Drawing | null> {
    const ticket = ++this.ticket;
    const { view } = request;
    const rows = Math.ceil(view.height / this.workers.length);
    for (const { api } of this.workers) void api.supersede(ticket);
    const bands = await Promise.all(
      this.workers.map(({ api }, k) => {
        const top = k * rows;
        const height = Math.min(rows, view.height - top);
        if (height <= 0) return null;
        const band = { ...view, yMm: view.yMm + top / view.scale, height };
        return api.draw({ ...request, ticket, view: band });
      }),
    );
    if (ticket !== this.ticket) return null;
    const pixels = new Uint8ClampedArray(view.width * view.height * 4);
    for (const [k, band] of bands.entries()) {
      if (band) pixels.set(band.pixels, k * rows * view.width * 4);
      else if (k * rows < view.height) return null;
    }
    return { width: view.width, height: view.height, pixels };
  }

  close(): void {
    for (const { worker } of this.workers) worker.terminate();
  }
}
