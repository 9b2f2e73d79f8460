import type { ArtworkReader, RgbaPlane } from '../artwork';
import type { Rect } from '../geometry';
import { Budget, REGION_STEPS } from './budget';
import type { Drawing } from './drawing';
import { DrawingRenderer } from './drawRegion';
import { PLAIN_DRAWING_KERNELS } from './paintGradient';

/** Pixels that a region's steps are meant for; larger regions may take more. */
const REGION_PIXELS = 4e6;

function budgetOf({ width, height }: Rect): Budget {
  return new Budget(REGION_STEPS * Math.max(1, (width * height) / REGION_PIXELS));
}

/** A drawing at one size in pixels; reads any region of it, and the same pixels whatever region they are read in. */
export class DrawingLevel implements ArtworkReader {
  readonly width: number;
  readonly height: number;
  private readonly renderer: DrawingRenderer;
  private readonly drawing: Drawing;
  private readonly kernels: typeof PLAIN_DRAWING_KERNELS;
  private readonly plates = new Map<string, DrawingLevel>();

  constructor(drawing: Drawing, width: number, height: number, kernels = PLAIN_DRAWING_KERNELS) {
    this.drawing = drawing;
    this.kernels = kernels;
    this.renderer = new DrawingRenderer(drawing, kernels);
    this.width = width;
    this.height = height;
  }

  /** The rectangle must lie inside the level. Throws KerameusError `drawing-too-much`. */
  read(rect: Rect): RgbaPlane {
    return this.readInto(rect, new Uint8Array(rect.width * rect.height * 4));
  }

  /**
   * As `read`, into four bytes for each pixel, which are all 0 and begin at a word.
   *
   * @param channels the plates of the drawing that are wanted beside its colours.
   */
  readInto(rect: Rect, data: Uint8Array, channels: readonly string[] = []): RgbaPlane {
    const words = new Uint32Array(data.buffer, data.byteOffset, rect.width * rect.height);
    this.draw(rect, words);
    if (channels.length === 0) return { rect, data };
    const plane = new Uint32Array(words.length);
    return {
      rect,
      data,
      channels: new Map(channels.map((name) => [name, this.coverage(name, rect, plane)])),
    };
  }

  /** What a plate of the drawing covers of each pixel, 0..255; nothing where it has none of that name. */
  private coverage(name: string, rect: Rect, plane: Uint32Array): Uint8Array {
    const coverage = new Uint8Array(plane.length);
    const plate = this.drawing.plates?.find((each) => each.name === name);
    if (!plate) return coverage;
    const level =
      this.plates.get(name) ?? new DrawingLevel(plate.drawing, this.width, this.height, this.kernels);
    this.plates.set(name, level);
    level.draw(rect, plane.fill(0));
    for (let i = 0; i < plane.length; i++) {
      const pixel = plane[i]!;
      const dark = 255 - (pixel & 255);
      if (dark > 0 && pixel !== 0) coverage[i] = Math.round((dark * (pixel >>> 24)) / 255);
    }
    return coverage;
  }

  isOf(drawing: Drawing): boolean {
    return this.drawing === drawing;
  }

  /**
   * Draws a region; returns the steps that it took.
   *
   * @param budget what it may take, where that is not the region's own.
   */
  draw(rect: Rect, words: Uint32Array, budget = budgetOf(rect)): number {
    const { drawing, width, height } = this;
    const map = [width / drawing.width, 0, 0, height / drawing.height, 0, 0] as const;
    return this.renderer.draw(map, rect, words, budget);
  }
}
