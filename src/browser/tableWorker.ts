import * as Comlink from 'comlink';
import type { OuterMap, RgbaPlane } from '@/core/artwork';
import { type LinearRgb, linearFromRgb8, parseHexColour } from '@/core/colour';
import type { PlatePlanes } from '@/core/fit';
import { type Kernels, PLAIN_KERNELS, createWasmKernels } from '@/core/kernels';
import {
  FILM_GROUND,
  type Pixels,
  type PlateJob,
  type View,
  type ViewLevel,
  type ViewPart,
  artworkLight,
  artworkNeed,
  clipToPrint,
  drawDown,
  encodeRgba,
  labelsForPlates,
  labelsKey,
  labelsReach,
  plateArtworkNeed,
  platesKey,
  platesOfLabels,
  predictFilm,
  predictPrint,
  preparePlateJob,
  viewLevel,
} from '@/core/pipeline';
import type { LabelMap } from '@/core/separation';
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

/** A stage's last result, and what it was made from. */
interface Kept<T> {
  readonly key: string;
  readonly value: T;
}

/** Evaluates what is visible, away from the page's own thread, by the same core that makes the films. */
class TableWorker {
  private readonly tiles = new TileStore();
  private latest = 0;
  private job: { key: string; job: PlateJob } | null = null;
  private labels: Kept<LabelMap> | null = null;
  private planes: Kept<PlatePlanes> | null = null;
  private kernels: Promise<Kernels> | null = null;
  private outer: { sha256: string; map: Promise<OuterMap> } | null = null;

  /** Makes everything before this ticket void. */
  supersede(ticket: number): void {
    this.latest = Math.max(this.latest, ticket);
  }

  /** Draws a view; null when a newer request came meanwhile. */
  async draw(request: DrawRequest): Promise<Drawing | null> {
    this.supersede(request.ticket);
    const { view } = request;
    const pixels = new Uint8ClampedArray(view.width * view.height * 4);
    fill(pixels, groundOf(request));
    // Most of a window may be bare garment, which needs no evaluation.
    const part = clipToPrint(request.sheet, view);
    if (part) {
      const drawn = await this.part(request, part.view);
      if (!drawn) return null;
      paste(drawn, part, pixels, view.width);
    }
    return Comlink.transfer({ width: view.width, height: view.height, pixels }, [pixels.buffer]);
  }

  private async part(request: DrawRequest, view: View): Promise<Pixels | null> {
    const { sheet, subject, plateId } = request;
    const level = viewLevel(sheet, view);
    if (subject === 'artwork') return this.artwork(request, level, view);
    const planes = await this.evaluate(request, level);
    if (!planes) return null;
    const kernels = await this.loadKernels();
    return subject === 'film' && plateId !== null
      ? predictFilm(planes, plateId, level, view, kernels)
      : predictPrint(planes, sheet, level, view, kernels, new Set(request.lifted));
  }

  private async artwork(request: DrawRequest, level: ViewLevel, view: View): Promise<Pixels | null> {
    const { sheet } = request;
    const need = artworkNeed(sheet, level.grid, level.region, 1);
    const art = await this.tiles.read(sheet, need);
    if (request.ticket < this.latest) return null;
    const step = CHECKER_MM * level.grid.pxPerMm;
    const light = artworkLight(sheet, level.grid, level.region, need, art, (x, y) =>
      x < 0 || y < 0 || x >= level.grid.widthPx || y >= level.grid.heightPx
        ? OUTSIDE
        : CHECKER[(Math.floor(x / step) + Math.floor(y / step)) & 1]!,
    );
    return encodeRgba(drawDown(light, level, view));
  }

  /** The plates of a level's region; a change goes back only to the stage that it touches. */
  private async evaluate(request: DrawRequest, level: ViewLevel): Promise<PlatePlanes | null> {
    const { sheet } = request;
    const { grid, region } = level;
    const where = `${grid.pxPerMm}|${Object.values(region).join(',')}`;
    const key = `${platesKey(sheet)}|${where}`;
    if (this.planes?.key === key) return this.planes.value;
    const job = await this.prepare(request, JSON.stringify(sheet));
    const labelKey = `${labelsKey(sheet)}|${where}`;
    let labels = this.labels?.key === labelKey ? this.labels.value : null;
    if (!labels || !labelsReach(job, grid, region, labels)) {
      const art: RgbaPlane = await this.tiles.read(sheet, plateArtworkNeed(job, grid, region));
      if (request.ticket < this.latest) return null;
      labels = labelsForPlates(job, grid, region, art);
      this.labels = { key: labelKey, value: labels };
    }
    const planes = platesOfLabels(job, grid, region, labels);
    this.planes = { key, value: planes };
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

/** What lies round the print: garment, clear film, or the table. */
function groundOf(request: DrawRequest): LinearRgb {
  if (request.subject === 'artwork') return OUTSIDE;
  if (request.subject === 'film' && request.plateId !== null) return FILM_GROUND;
  return linearFromRgb8(parseHexColour(request.sheet.garment.colour));
}

function fill(pixels: Uint8ClampedArray<ArrayBuffer>, colour: LinearRgb): void {
  const one = encodeRgba({ width: 1, height: 1, light: Float32Array.from(colour) });
  new Uint32Array(pixels.buffer).fill(new Uint32Array(one.buffer)[0]!);
}

function paste(source: Uint8ClampedArray, part: ViewPart, target: Uint8ClampedArray, width: number): void {
  const rowBytes = part.view.width * 4;
  for (let row = 0; row < part.view.height; row++) {
    target.set(source.subarray(row * rowBytes, (row + 1) * rowBytes), ((part.y + row) * width + part.x) * 4);
  }
}

export type TableWorkerApi = TableWorker;

Comlink.expose(new TableWorker());
