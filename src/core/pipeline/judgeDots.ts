import { type Arrangement, arrangeDots, arrangementsOf } from '../checks';
import { type LinearRgb, ciede2000, labFromLinear, layerOver } from '../colour';
import type { Kernels } from '../kernels';
import type { ThresholdTiles } from '../screening';
import { type JobSheet, withoutSpecials } from '../sheet';
import { type InkStack, NOTHING, type WeighedColour, solveColours } from '../solving';
import { mmToPx } from '../units';
import { DotPatches } from './dotPatches';
import { stackOf } from './fullTone';
import { eyeBlurFwhmMm } from './stepBack';

/** How the dots of a job of tones print its artwork. All are means over the print and the garments that its films are found for. */
export interface DotsJudged {
  /** CIEDE2000 from the artwork, in register. */
  readonly off: number;
  /** The same when one plate lies off by the press's tolerance, over plates and directions. */
  readonly shifted: number;
  /** What the eye sees of the dots as roughness: the standard deviation of L* between places that it still tells apart. */
  readonly grain: number;
}

/** The artwork's colours that are printed: those with the largest areas. */
const MOST_COLOURS = 24;
/** Side of a patch, some cells wide. */
const PATCH_MM = 5;
/** Film pixels of patches that are printed at a time: each plate needs three bytes for one. */
const PIXELS_AT_ONCE = 1.5e6;
/** From how far grain is judged, in metres: a shirt that somebody else wears. */
const AWAY_M = 1;
const DIRECTIONS: readonly (readonly [number, number])[] = [
  [1, 0],
  [0, 1],
  [-1, 0],
  [0, -1],
];

/** What grain counts beside a colour difference, when arrangements are compared. A decision of ours: it is seen as texture, not as a wrong colour. */
const GRAIN_WEIGHT = 0.25;

/** What arrangements of dots are chosen by, the less the better. */
export function dotsScore({ shifted, grain }: DotsJudged): number {
  return shifted + GRAIN_WEIGHT * grain;
}

/**
 * Solves for colours of the artwork in the geometry of a job's dots, prints them with the dots that its plates really have, and moves one plate after the other.
 *
 * @param colours of the artwork, see `ColourSurveyor`.
 */
export function judgeDots(
  given: JobSheet,
  colours: readonly WeighedColour[],
  tiles: ThresholdTiles,
  kernels: Kernels,
): DotsJudged {
  const sheet = withoutSpecials(given);
  const chosen = colours
    .filter(({ share }) => share > 0)
    .sort((p, q) => q.share - p.share)
    .slice(0, MOST_COLOURS);
  const all = chosen.reduce((sum, { share }) => sum + share, 0);
  const stack = stackOf(sheet);
  const tones = solveColours(stack, chosen);
  const { dpi } = sheet.film;
  const reach = Math.max(1, Math.round(mmToPx(sheet.press.toleranceMm, dpi)));
  const places = new Map(sheet.plates.map(({ id }, k) => [id, k]));
  const side = Math.round(mmToPx(PATCH_MM, dpi));
  const lights = stack.grounds.map((_, ground) => overlaps(stack, ground));
  const block = Math.max(1, Math.round(mmToPx(eyeBlurFwhmMm(AWAY_M), dpi)));
  const atOnce = Math.max(1, Math.floor(PIXELS_AT_ONCE / (side + 2 * reach) ** 2));
  let [off, shifted, grain] = [0, 0, 0];
  for (let first = 0; first < chosen.length; first += atOnce) {
    const some = chosen.slice(first, first + atOnce);
    const patches = new DotPatches({
      sheet,
      plates: sheet.plates,
      patches: some.length,
      side,
      margin: reach,
      toneOf: ({ id }, patch) => Math.round(tones[first + patch]![places.get(id)!]! * 65535),
      tiles,
      kernels,
    });
    some.forEach(({ lab, share }, patch) => {
      const weight = share / all / lights.length;
      const differences = (moved: number, dx: number, dy: number) => {
        const shares = patches.shares(patch, moved, dx, dy);
        return lights.reduce((sum, light) => sum + ciede2000(labFromLinear(meanOf(shares, light)), lab), 0);
      };
      const inRegister = differences(-1, 0, 0);
      off += weight * inRegister;
      sheet.plates.forEach((_, k) => {
        // A plate without ink here moves nothing.
        const prints = tones[first + patch]![k]! > 0;
        const part = weight / sheet.plates.length / DIRECTIONS.length;
        for (const [x, y] of DIRECTIONS) {
          shifted += part * (prints ? differences(k, x * reach, y * reach) : inRegister);
        }
      });
      for (const light of lights) grain += weight * roughness(patches, patch, light, block);
    });
  }
  return { off, shifted, grain };
}

/** An arrangement of a job's dots, and how it prints. */
export interface ArrangedDots extends DotsJudged {
  readonly arrangement: Arrangement;
  readonly sheet: JobSheet;
}

/** A job of tones whose dots are arranged, and what of its artwork is looked at. */
export interface DotsQuestion {
  readonly sheet: JobSheet;
  /** The plates whose dots are arranged. */
  readonly ids: readonly string[];
  /** Share of the print where two of them both have dots. */
  readonly overlap: (one: string, other: string) => number;
  readonly colours: readonly WeighedColour[];
  readonly tiles: ThresholdTiles;
  readonly kernels: Kernels;
}

/** Judges every arrangement of some plates' dots, one after another. */
export function* judgeArrangements(question: DotsQuestion): Generator<ArrangedDots, void> {
  const { sheet, ids, overlap, colours, tiles, kernels } = question;
  for (const arrangement of arrangementsOf(ids.length)) {
    const arranged = arrangeDots(sheet, ids, arrangement, overlap);
    yield { arrangement, sheet: arranged, ...judgeDots(arranged, colours, tiles, kernels) };
  }
}

/** From this share of a cell on, and as much below all of it, a tone has dots that meet others. */
const HAS_DOTS = 0.02;

/** Share of the print where two plates both have dots, as their tones are solved for now. */
export function tonesMeet(
  given: JobSheet,
  colours: readonly WeighedColour[],
): (one: string, other: string) => number {
  const sheet = withoutSpecials(given);
  const tones = solveColours(stackOf(sheet), colours);
  const places = new Map(sheet.plates.map(({ id }, k) => [id, k]));
  const hasDots = (each: Float64Array, id: string) => {
    const tone = each[places.get(id)!]!;
    return tone > HAS_DOTS && tone < 1 - HAS_DOTS;
  };
  return (one, other) =>
    colours.reduce(
      (sum, { share }, k) => sum + (hasDots(tones[k]!, one) && hasDots(tones[k]!, other) ? share : 0),
      0,
    );
}

/** Linear light of every overlap of a stack's inks on one of its garments, by bit mask, three channels each. */
function overlaps({ inks, grounds }: InkStack, ground: number): Float64Array {
  const { garment, without } = grounds[ground]!;
  const out = new Float64Array((1 << inks.length) * 3);
  for (let mask = 0; mask < 1 << inks.length; mask++) {
    let light = garment;
    inks.forEach((ink, k) => {
      if ((mask & (1 << k)) !== 0) light = layerOver(light, without.includes(k) ? NOTHING : ink);
    });
    out.set(light, mask * 3);
  }
  return out;
}

function meanOf(shares: Float64Array, light: Float64Array): LinearRgb {
  const mean: [number, number, number] = [0, 0, 0];
  shares.forEach((share, mask) => {
    if (share === 0) return;
    for (let c = 0; c < 3; c++) mean[c]! += share * light[mask * 3 + c]!;
  });
  return mean;
}

/** The standard deviation of L* between squares of a patch. */
function roughness(patches: DotPatches, patch: number, light: Float64Array, block: number): number {
  const across = Math.floor(patches.side / block);
  let [sum, squares] = [0, 0];
  for (let row = 0; row < across; row++) {
    for (let column = 0; column < across; column++) {
      const mean: [number, number, number] = [0, 0, 0];
      for (let y = row * block; y < (row + 1) * block; y++) {
        for (let x = column * block; x < (column + 1) * block; x++) {
          const at = patches.at(patch, x, y) * 3;
          for (let c = 0; c < 3; c++) mean[c]! += light[at + c]!;
        }
      }
      const [r, g, b] = mean.map((each) => each / (block * block)) as [number, number, number];
      const [lightness] = labFromLinear([r, g, b]);
      sum += lightness;
      squares += lightness * lightness;
    }
  }
  const count = across * across;
  return count === 0 ? 0 : Math.sqrt(Math.max(0, squares / count - (sum / count) ** 2));
}
