import type { RgbaPlane } from '../artwork';
import {
  OFF_REASONS,
  type OffArea,
  type OffReason,
  type PrintDifference,
  type PrintPlace,
  type ReasonShares,
} from '../checks';
import {
  type Rgb8,
  ciede2000,
  formatHexColour,
  labFromRgb8,
  linearFromRgb8,
  parseHexColour,
} from '../colour';
import { droppedGround } from '../separation';
import {
  type JobGarment,
  type JobSheet,
  fullToneLayer,
  garmentOf,
  isSimulated,
  printsTones,
  withLayer,
} from '../sheet';
import { artworkLight } from './artworkLight';
import {
  type Difference,
  DifferenceCounter,
  PairDifferences,
  codesOf,
  leftBare,
  wantGarment,
} from './compare';
import { heldPlanes, printedPlanes } from './dots';
import { type PlateJob, evaluatePlates, plateArtworkNeed } from './evaluatePlates';
import { FilmTones } from './filmTones';
import { PrintableColours } from './fullTone';
import { predictPrint } from './predictPrint';
import { ReasonFinder } from './reasons';
import type { ArtworkNeed } from './printGrid';
import { type View, type ViewLevel, drawDown, encodeRgba, viewLevel } from './view';

/** Pixels per millimetre at which print and artwork are compared: about 100 dpi; of tones, which have few edges, half of that. */
const SCALE = 4;
const TONE_SCALE = 2;
/** Small prints are compared with as many pixels, though not finer than this: the dark rim where a base is choked is much of them. */
const LEAST_PIXELS = 250e3;
const MOST_SCALE = 8;

/** Pixels per millimetre for a job, and how far from an edge, in pixels, the inside of an area begins. */
function surveyScale(sheet: JobSheet): { readonly scale: number; readonly reach: number } {
  const { widthMm, heightMm } = sheet.print;
  const usual = printsTones(sheet) ? TONE_SCALE : SCALE;
  const fine = Math.min(MOST_SCALE, Math.sqrt(LEAST_PIXELS / (widthMm * heightMm)));
  const scale = Math.max(usual, fine);
  return { scale, reach: Math.round(scale / usual) };
}
const BAND_ROWS = 128;

/** A part of the print that is compared, and what it needs of the artwork. */
export interface DifferenceBand {
  readonly view: View;
  readonly level: ViewLevel;
  readonly need: ArtworkNeed;
}

/** What inks could not avoid is no more than what the print is off: tables are coarse, and what was reached can be. */
function notMore(found: Difference, reached: Difference): Difference {
  return { mean: Math.min(found.mean, reached.mean), p95: Math.min(found.p95, reached.p95) };
}

function sharesOf(counts: ReasonShares, pixels: number): ReasonShares {
  const share = (reason: OffReason) => [reason, counts[reason] / pixels] as const;
  return Object.fromEntries(OFF_REASONS.map(share)) as ReasonShares;
}

interface Worn {
  readonly garment: JobGarment;
  readonly counter: DifferenceCounter;
  readonly printable: { readonly colours: PrintableColours; readonly counter: DifferenceCounter } | null;
}

/**
 * Compares the predicted print of a job with its artwork on the garment, band by band. A dropped background counts, unless it is paper or near the
 * garment's colour; what a texture wears away on purpose does not.
 */
export class DifferenceSurvey {
  private readonly job: PlateJob;
  private readonly scale: number;
  private readonly width: number;
  private readonly height: number;
  /** The garments that it is compared on: the one that the plates are made for, and others that tones are found for as well. */
  private readonly worn: readonly Worn[];
  /** The job with its artwork as it came, and how far the print is from that; null where its colours are not changed. */
  private readonly plain: { readonly sheet: JobSheet; readonly counter: DifferenceCounter } | null;
  private readonly off: OffAreas;
  private readonly tones = new FilmTones();
  private readonly reasons: ReasonFinder;
  private readonly reasonPixels: ReasonShares = { inks: 0, light: 0, dark: 0, changed: 0, dots: 0 };
  private bare = 0;

  constructor(job: PlateJob) {
    this.job = job;
    const garments = fullToneLayer(job.sheet)?.together ? job.sheet.garments : [garmentOf(job.sheet)];
    this.worn = garments.map((garment) => ({
      garment,
      counter: new DifferenceCounter(),
      printable: isSimulated(job.sheet)
        ? { colours: new PrintableColours(job.sheet, garment), counter: new DifferenceCounter() }
        : null,
    }));
    const layer = fullToneLayer(job.sheet);
    this.plain = layer?.adjust
      ? { sheet: withLayer(job.sheet, { ...layer, adjust: null }), counter: new DifferenceCounter() }
      : null;
    this.reasons = new ReasonFinder(parseHexColour(garments[0]!.colour));
    const { widthMm, heightMm } = job.sheet.print;
    const { scale, reach } = surveyScale(job.sheet);
    this.scale = scale;
    this.off = new OffAreas(reach);
    this.width = Math.max(1, Math.round(widthMm * this.scale));
    this.height = Math.max(1, Math.round(heightMm * this.scale));
  }

  *bands(): Generator<DifferenceBand> {
    const { scale } = this;
    const { sheet } = this.job;
    for (let y = 0; y < this.height; y += BAND_ROWS) {
      const height = Math.min(BAND_ROWS, this.height - y);
      const view: View = { xMm: 0, yMm: y / scale, scale, width: this.width, height };
      const level = viewLevel(sheet, view);
      yield { view, level, need: plateArtworkNeed(this.job, level.grid, level.region) };
    }
  }

  /** @param art the plane that the band needs. */
  add({ view, level, need }: DifferenceBand, art: RgbaPlane): void {
    const { job, tones } = this;
    const { sheet } = job;
    const planes = printedPlanes(evaluatePlates(job, level.grid, level.region, art, true), sheet, tones);
    for (const [k, { garment, counter, printable }] of this.worn.entries()) {
      const ground = parseHexColour(garment.colour);
      const linear = linearFromRgb8(ground);
      const lifted = new Set(garment.without);
      const options = { garment: garment.colour, lifted };
      const print = predictPrint(planes, sheet, level, view, job.kernels, options);
      const light = artworkLight(sheet, level.grid, level.region, need, art, () => linear);
      const artwork = encodeRgba(drawDown(light, level, view));
      const dropped = droppedGround(sheet, garment.colour);
      const bare = dropped && leftBare(print, artwork, view.width, ground, dropped.rgb);
      if (bare && !dropped.counted) wantGarment(artwork, bare, ground);
      counter.add(print, artwork);
      const could = printable && printable.colours.print(artwork);
      if (could) printable.counter.add(could, artwork);
      if (k > 0) continue;
      if (this.plain) {
        const came = artworkLight(this.plain.sheet, level.grid, level.region, need, art, () => linear);
        const seen = encodeRgba(drawDown(came, level, view));
        if (bare && !dropped.counted) wantGarment(seen, bare, ground);
        this.plain.counter.add(print, seen);
      }
      if (could) {
        const lossy = heldPlanes(planes, sheet, tones);
        const held = lossy && predictPrint(lossy, sheet, level, view, job.kernels, options);
        this.reasons.count({ print, artwork, printable: could, held }, this.reasonPixels);
      }
      if (bare) this.bare += bare.reduce((sum, is) => sum + is, 0);
      // What was dropped and is bare is told by its own figure.
      this.off.add(print, artwork, view, bare);
    }
  }

  result(): PrintDifference {
    const dropped = droppedGround(this.job.sheet);
    const pixels = this.width * this.height;
    const [first, ...others] = this.worn.map(({ garment, counter, printable }) => {
      const reached = counter.result();
      return {
        garmentId: garment.id,
        ...reached,
        printable: printable && notMore(printable.counter.result(), reached),
      };
    });
    const { mean, p95, printable } = first!;
    return {
      mean,
      p95,
      asItCame: this.plain?.counter.result() ?? null,
      printable,
      others,
      dropped: dropped && { ...dropped, share: this.bare / pixels },
      reasons: isSimulated(this.job.sheet) ? sharesOf(this.reasonPixels, pixels) : null,
      off: this.off.result(pixels),
    };
  }
}

/** A place is inside of an area where nothing near it differs from it by more codes than this: shading and compression do less, edges more. */
const AREA_CODES = 16;
/** CIEDE2000 from which on an area prints off. */
const OFF = 5;
/** Areas whose colours are nearer than this (CIEDE2000) are told as one. */
const ONE_COLOUR = 6;

interface OffBin {
  count: number;
  sums: [number, number, number, number];
  place: PrintPlace;
}

/** Gathers, by the artwork's colour, what prints off inside of areas; beside edges fit moves colours on purpose. */
class OffAreas {
  private readonly bins = new Map<number, OffBin>();
  private readonly pairs = new PairDifferences();

  /** @param reach how far from an edge, in pixels, the inside of an area begins. */
  constructor(private readonly reach: number) {}

  /**
   * Both are pixels of four bytes, of one window.
   *
   * @param leave 1 for pixels that are not looked at, 0 for others; null where all are.
   */
  add(
    print: Uint8ClampedArray,
    artwork: Uint8ClampedArray,
    { xMm, yMm, scale, width, height }: View,
    leave: Uint8Array | null,
  ): void {
    const { reach } = this;
    for (let y = reach; y < height - reach; y++) {
      for (let x = reach; x < width - reach; x++) {
        if (leave?.[y * width + x]) continue;
        const i = (y * width + x) * 4;
        const colour = codesOf(artwork, i);
        const printed = codesOf(print, i);
        const difference = this.pairs.between(printed, colour);
        if (difference <= OFF || !isInside(artwork, width, i, reach)) continue;
        // Five bits of each channel.
        const key = (colour >> 3) & 0x1f1f1f;
        let bin = this.bins.get(key);
        if (!bin) {
          const place = { xMm: xMm + (x + 0.5) / scale, yMm: yMm + (y + 0.5) / scale };
          this.bins.set(key, (bin = { count: 0, sums: [0, 0, 0, 0], place }));
        }
        bin.count++;
        for (const c of [0, 1, 2] as const) bin.sums[c] += artwork[i + c]!;
        bin.sums[3] += difference;
      }
    }
  }

  /** The largest first. */
  result(pixels: number): OffArea[] {
    const found: { bin: OffBin; lab: ReturnType<typeof labFromRgb8>; rgb: Rgb8 }[] = [];
    for (const bin of [...this.bins.values()].sort((p, q) => q.count - p.count)) {
      const rgb = bin.sums.slice(0, 3).map((sum) => Math.round(sum / bin.count)) as unknown as Rgb8;
      const lab = labFromRgb8(rgb);
      const same = found.find((each) => ciede2000(each.lab, lab) < ONE_COLOUR);
      if (!same) {
        found.push({ bin: { ...bin, sums: [...bin.sums] }, lab, rgb });
        continue;
      }
      same.bin.count += bin.count;
      same.bin.sums[3] += bin.sums[3];
    }
    return found
      .map(({ bin, rgb }) => ({
        colour: formatHexColour(rgb),
        share: bin.count / pixels,
        difference: bin.sums[3] / bin.count,
        place: bin.place,
      }))
      .sort((p, q) => q.share - p.share);
  }
}

function isInside(artwork: Uint8ClampedArray, width: number, i: number, reach: number): boolean {
  for (let dy = -reach; dy <= reach; dy++) {
    for (let dx = -reach; dx <= reach; dx++) {
      const other = i + (dy * width + dx) * 4;
      for (let c = 0; c < 3; c++) {
        if (Math.abs(artwork[i + c]! - artwork[other + c]!) > AREA_CODES) return false;
      }
    }
  }
  return true;
}
