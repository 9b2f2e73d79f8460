import type { PlatePlane } from '../fit';
import type { Kernels } from '../kernels';
import type { ThresholdTiles } from '../screening';
import type { JobSheet, Plate } from '../sheet';
import { FilmTones } from './filmTones';
import { platesBits } from './plateBits';

/** Patches of one tone of each plate, to be printed with the dots that the plates really have. */
export interface PatchRequest {
  readonly sheet: JobSheet;
  /** Those whose dots are wanted; at most 16. */
  readonly plates: readonly Plate[];
  readonly patches: number;
  /** Of each patch without its margin, in film pixels. */
  readonly side: number;
  /** Film pixels round each patch, so that a plate can be moved. */
  readonly margin: number;
  /** What a plate prints in a patch: 0..65535, or null where it does not print by dots but is solid. */
  readonly toneOf: (plate: Plate, patch: number) => number | null;
  readonly tiles: ThresholdTiles;
  readonly kernels: Kernels;
}

/** Patches as dots: for every film pixel which plates print there. */
export class DotPatches {
  readonly side: number;
  private readonly margin: number;
  private readonly width: number;
  private readonly height: number;
  private readonly plates: number;
  /** The first plate as the lowest bit. */
  private readonly masks: Uint16Array;

  constructor({ sheet, plates, patches, side, margin, toneOf, tiles, kernels }: PatchRequest) {
    this.side = side;
    this.margin = margin;
    this.plates = plates.length;
    this.width = (side + 2 * margin + 7) & ~7;
    this.height = side + 2 * margin;
    const pixels = this.width * this.height;
    const tones = new FilmTones();
    const planes = sheet.plates.map((plate): PlatePlane => {
      const shape = new Uint8Array(pixels * patches);
      const values = new Uint16Array(pixels * patches);
      let solid = true;
      for (let patch = 0; patch < patches; patch++) {
        const tone = toneOf(plate, patch);
        if (tone !== null) solid = false;
        shape.fill(tone === 0 ? 0 : 255, patch * pixels, (patch + 1) * pixels);
        values.fill(tone ?? 65535, patch * pixels, (patch + 1) * pixels);
      }
      return { plate, shape, tone: solid ? null : values };
    });
    const request = {
      sheet,
      tiles,
      tones,
      kernels,
      toneOf: (plate: Plate, tone: Uint16Array) => tones.inPrint(plate, tone),
    };
    const rect = { x: 0, y: 0, width: this.width, height: this.height * patches };
    const bits = platesBits(request, { rect, planes }, plates);
    this.masks = new Uint16Array(pixels * patches);
    bits.forEach((plane, k) => {
      for (let i = 0; i < this.masks.length; i++) {
        if ((plane[i >> 3]! & (128 >> (i & 7))) !== 0) this.masks[i]! |= 1 << k;
      }
    });
  }

  /**
   * How often plates print together in a patch, by bit mask, as shares of it.
   *
   * @param moved the place of a plate that lies off by dx and dy film pixels, no more than the margin; -1: none.
   */
  shares(patch: number, moved: number, dx: number, dy: number): Float64Array {
    const { width, side, margin, masks } = this;
    const counts = new Float64Array(1 << this.plates);
    const bit = moved < 0 ? 0 : 1 << moved;
    const back = dy * width + dx;
    for (let y = 0; y < side; y++) {
      const row = (patch * this.height + margin + y) * width + margin;
      for (let i = row; i < row + side; i++) {
        counts[(masks[i]! & ~bit) | (masks[i - back]! & bit)]!++;
      }
    }
    return counts.map((count) => count / (side * side));
  }

  /** Which plates print at a place of a patch, the margin left out. */
  at(patch: number, x: number, y: number): number {
    return this.masks[(patch * this.height + this.margin + y) * this.width + this.margin + x]!;
  }
}
