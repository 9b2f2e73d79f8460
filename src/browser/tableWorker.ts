import * as Comlink from 'comlink';
import type { OuterMap, RgbaPlane } from '@/core/artwork';
import { linearFromRgb8, parseHexColour } from '@/core/colour';
import type { PlatePlanes } from '@/core/fit';
import { type Kernels, PLAIN_KERNELS, createWasmKernels } from '@/core/kernels';
import {
  type PlateJob,
  type View,
  type ViewLevel,
  artworkLight,
  artworkNeed,
  drawDown,
  encodeRgba,
  evaluatePlates,
  filmLight,
  plateArtworkNeed,
  predictPrint,
  preparePlateJob,
  viewLevel,
} from '@/core/pipeline';
import type { JobSheet } from '@/core/sheet';
import { TileStore } from './tileStore';

/** What the table shows. */
export type Subject = 'print' | 'artwork' | 'film';

export interface DrawRequest {
  /** Requests with a higher number make older ones void. */
  readonly ticket: number;
  readonly sheet: JobSheet;
  readonly hasOuterMap: boolean;
  readonly view: View;
  readonly subject: Subject;
  /** The plate shown as film. */
  readonly plateId: string | null;
  readonly lifted: readonly string[];
}

export interface Drawing {
  readonly width: number;
  readonly height: number;
  readonly pixels: Uint8ClampedArray<ArrayBuffer>;
}

/** Light and dark squares behind transparent artwork, in linear light; 4 mm wide. */
const CHECKER_MM = 4;
const CHECKER = [
  [0.62, 0.62, 0.62],
  [0.5, 0.5, 0.5],
] as const;

interface Evaluated {
  readonly key: string;
  readonly level: ViewLevel;
  readonly planes: PlatePlanes;
}

/** Evaluates what is visible, away from the page's own thread, by the same core that makes the films. */
class TableWorker {
  private readonly tiles = new TileStore();
  private latest = 0;
  private job: { key: string; job: PlateJob } | null = null;
  private evaluated: Evaluated | null = null;
  private kernels: Promise<Kernels> | null = null;
  private outer: { sha256: string; map: Promise<OuterMap> } | null = null;

  /** Makes everything before this ticket void. */
  supersede(ticket: number): void {
    this.latest = Math.max(this.latest, ticket);
  }

  /** Draws a view; null when a newer request came meanwhile. */
  async draw(request: DrawRequest): Promise<Drawing | null> {
    this.supersede(request.ticket);
    const { sheet, view } = request;
    const level = viewLevel(sheet, view);
    if (request.subject === 'artwork') return this.drawArtwork(request, level);
    const planes = await this.evaluate(request, level);
    if (!planes) return null;
    const light =
      request.subject === 'film' && request.plateId !== null
        ? filmLight(planes, request.plateId)
        : predictPrint(planes, sheet, await this.loadKernels(), new Set(request.lifted));
    return finish(drawDown(light, level, view), view);
  }

  private async drawArtwork(request: DrawRequest, level: ViewLevel): Promise<Drawing | null> {
    const { sheet, view } = request;
    const need = artworkNeed(sheet, level.grid, level.region, 1);
    const art = await this.tiles.read(sheet, need);
    if (request.ticket < this.latest) return null;
    const step = CHECKER_MM * level.grid.pxPerMm;
    const light = artworkLight(sheet, level.grid, level.region, need, art, (x, y) =>
      x < 0 || y < 0 || x >= level.grid.widthPx || y >= level.grid.heightPx
        ? OUTSIDE
        : CHECKER[(Math.floor(x / step) + Math.floor(y / step)) & 1]!,
    );
    return finish(drawDown(light, level, view), view);
  }

  private async evaluate(request: DrawRequest, level: ViewLevel): Promise<PlatePlanes | null> {
    const { sheet } = request;
    const sheetKey = JSON.stringify(sheet);
    const key = `${sheetKey}|${level.grid.pxPerMm}|${Object.values(level.region).join(',')}`;
    if (this.evaluated?.key === key) return this.evaluated.planes;
    const job = await this.prepare(request, sheetKey);
    const need = plateArtworkNeed(job, level.grid, level.region);
    const art: RgbaPlane = await this.tiles.read(sheet, need);
    if (request.ticket < this.latest) return null;
    const planes = evaluatePlates(job, level.grid, level.region, art);
    this.evaluated = { key, level, planes };
    return planes;
  }

  private async prepare(request: DrawRequest, key: string): Promise<PlateJob> {
    if (this.job?.key === key) return this.job.job;
    const { sheet } = request;
    const map = sheet.background?.dropped && request.hasOuterMap ? await this.loadOuter(sheet) : null;
    const job = preparePlateJob(sheet, map, await this.loadKernels());
    this.job = { key, job };
    return job;
  }

  private loadKernels(): Promise<Kernels> {
    this.kernels ??= (async () => {
      try {
        return createWasmKernels(await WebAssembly.compileStreaming(fetch('/kernels.wasm')));
      } catch {
        return PLAIN_KERNELS;
      }
    })();
    return this.kernels;
  }

  private loadOuter(sheet: JobSheet): Promise<OuterMap> {
    const { sha256 } = sheet.artwork;
    if (this.outer?.sha256 !== sha256) {
      const map = this.tiles.fetchOuterMap(sha256);
      map.catch(() => (this.outer = null));
      this.outer = { sha256, map };
    }
    return this.outer.map;
  }
}

const OUTSIDE = linearFromRgb8(parseHexColour('#8a8a8a'));

function finish(light: Parameters<typeof encodeRgba>[0], view: View): Drawing {
  const pixels = encodeRgba(light);
  return Comlink.transfer({ width: view.width, height: view.height, pixels }, [pixels.buffer]);
}

export type TableWorkerApi = TableWorker;

Comlink.expose(new TableWorker());
