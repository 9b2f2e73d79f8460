import type { OuterMap } from '@/core/artwork';
import { type Kernels, PLAIN_KERNELS, createWasmKernels } from '@/core/kernels';
import { type PlateJob, preparePlateJob } from '@/core/pipeline';
import { FRESH_MEMORY } from '@/core/raster';
import { type JobSheet, artworkOf, droppedBackground } from '@/core/sheet';
import type { Kept } from './lastEvaluated';
import { TileStore, fetchTexture } from './tileStore';

/** What a worker needs of a job before it looks at any of its plates: kernels, artwork, outer map and textures, each fetched once. */
export class PreparedJobs {
  readonly tiles: TileStore;
  private job: Kept<PlateJob> | null = null;
  private loading: Promise<Kernels> | null = null;
  private outer: { sha256: string; map: Promise<OuterMap> } | null = null;

  /** @param budget bytes of decoded artwork that are kept. */
  constructor(budget: number) {
    this.tiles = new TileStore(budget, () => this.kernels());
  }

  /** The job as it was prepared last, or prepared anew where its sheet has changed. */
  async prepare(sheet: JobSheet, hasOuterMap: boolean): Promise<PlateJob> {
    const key = JSON.stringify(sheet);
    if (this.job?.key === key) return this.job.value;
    const map = droppedBackground(sheet) && hasOuterMap ? await this.outerMap(sheet) : null;
    if (sheet.texture?.picture) await fetchTexture(sheet.texture.picture.sha256);
    const job = preparePlateJob(sheet, map, await this.kernels(), FRESH_MEMORY, this.job?.value);
    this.job = { key, value: job };
    return job;
  }

  kernels(): Promise<Kernels> {
    this.loading ??= (async () => {
      try {
        return createWasmKernels(await WebAssembly.compileStreaming(fetch('/kernels.wasm')));
      } catch {
        return PLAIN_KERNELS;
      }
    })();
    return this.loading;
  }

  private outerMap(sheet: JobSheet): Promise<OuterMap> {
    const { sha256 } = artworkOf(sheet);
    if (this.outer?.sha256 !== sha256) {
      const map = this.tiles.fetchOuterMap(sha256);
      map.catch(() => (this.outer = null));
      this.outer = { sha256, map };
    }
    return this.outer.map;
  }
}
