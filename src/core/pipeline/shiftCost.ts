import { ciede2000, labFromLinear, layerOver, linearFromRgb8, parseHexColour } from '../colour';
import type { Kernels } from '../kernels';
import type { ThresholdTiles } from '../screening';
import { type JobSheet, type Plate, garmentOf, passes } from '../sheet';
import { mmToPx } from '../units';
import { DotPatches } from './dotPatches';

/** What becomes of a tone that several plates print together when one of them lies off. */
export interface ShiftCost {
  /** CIEDE2000 of the mean colour against that in register: over plates and directions on average, and at its worst. */
  readonly mean: number;
  readonly worst: number;
  /** The plate that costs most. */
  readonly plateId: string;
}

/** Side of the patch of dots, many cells wide. */
const PATCH_MM = 9;
/** Tones that the plates share a cell with. */
const TOTAL = 0.8;
const DIRECTIONS = 8;

/**
 * Prints a patch in which some plates share a tone, with the dots that they really have, and moves one plate after the other by the
 * press's tolerance in eight directions.
 *
 * @param plates those whose dots overlap; two at least.
 */
export function shiftCost(
  sheet: JobSheet,
  plates: readonly Plate[],
  tiles: ThresholdTiles,
  kernels: Kernels,
): ShiftCost {
  const { dpi } = sheet.film;
  const reach = Math.max(1, Math.round(mmToPx(sheet.press.toleranceMm, dpi)));
  const share = Math.round((TOTAL / plates.length) * 65535);
  const order = plates.map(({ id }) => id);
  const patches = new DotPatches({
    sheet,
    plates,
    patches: 1,
    side: Math.round(mmToPx(PATCH_MM, dpi)),
    margin: reach,
    toneOf: ({ id, role }) => (role === 'underbase' ? null : order.includes(id) ? share : 0),
    tiles,
    kernels,
  });
  const colours = mixtures(sheet, order);
  const meanWith = (moved: number, dx: number, dy: number) => {
    const mean: [number, number, number] = [0, 0, 0];
    patches.shares(0, moved, dx, dy).forEach((part, mask) => {
      for (let channel = 0; channel < 3; channel++) {
        mean[channel]! += part * colours[mask * 3 + channel]!;
      }
    });
    return labFromLinear(mean);
  };
  const inRegister = meanWith(-1, 0, 0);
  let sum = 0;
  let worst = 0;
  let plateId = order[0]!;
  for (let k = 0; k < plates.length; k++) {
    for (let direction = 0; direction < DIRECTIONS; direction++) {
      const turn = (2 * Math.PI * direction) / DIRECTIONS;
      const off = meanWith(k, Math.round(reach * Math.cos(turn)), Math.round(reach * Math.sin(turn)));
      const difference = ciede2000(inRegister, off);
      sum += difference;
      if (difference > worst) {
        worst = difference;
        plateId = order[k]!;
      }
    }
  }
  return { mean: sum / (plates.length * DIRECTIONS), worst, plateId };
}

/** Linear light of every combination of the plates over base and garment, printed in the order of the run; by bit mask. */
function mixtures(sheet: JobSheet, order: readonly string[]): Float64Array {
  const ground = linearFromRgb8(parseHexColour(garmentOf(sheet).colour));
  const out = new Float64Array((1 << order.length) * 3);
  for (let mask = 0; mask < 1 << order.length; mask++) {
    let light = ground;
    for (const plate of passes(sheet)) {
      const k = order.indexOf(plate.id);
      const prints = k >= 0 ? (mask & (1 << k)) !== 0 : plate.role === 'underbase';
      if (!prints) continue;
      const { colour, opacity } = plate.ink;
      light = layerOver(light, { colour: linearFromRgb8(parseHexColour(colour)), opacity });
    }
    out.set(light, mask * 3);
  }
  return out;
}
