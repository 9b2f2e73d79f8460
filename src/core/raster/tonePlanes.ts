import { DARK, INKED, LEAST_TONE, LIT, MIXED, PARTLY, THIN, UNBASED, UNLIT } from './codes';
import { type LabelTables, NO_PLATE } from './sortLabels';

/** Pixels of the artwork: one label each, or shares of three. */
export interface TonePixels {
  /** MIXED (255) where there are shares. */
  readonly label: Uint8Array;
  /** For MIXED pixels the index into the arrays below, which have three entries each; shares are 0..65535. */
  readonly mixAt: Int32Array;
  readonly mixLabels: Uint8Array;
  readonly mixShares: Uint16Array;
}

export interface TonePlaneArguments extends LabelTables, TonePixels {
  /** Colour plates. */
  readonly plates: number;
  /** Which of them is the highlight, the first of several; -1 for none. */
  readonly highlight: number;
  /** The first of the pixels that are looked at, and how many there are. */
  readonly first: number;
  readonly count: number;
  /** For each plate its tone, then how much base is wanted, then the share of dark inks without base, 0..65535; `count` of each. */
  readonly planes: readonly Uint16Array[];
  /** What is to be known of each pixel, INKED and so on; null where it is not. */
  readonly about: Uint8Array | null;
}

/**
 * What the plates get at the artwork's own pixels: each the shares of its labels times their tints. The base fades as the square of the
 * ink where inks without base or bare garment have their part in a pixel, so that its dots stay inside the ink's dots as a choked edge stays
 * inside the ink's edge.
 *
 * @returns which planes are not all 0, the first as the lowest bit.
 */
export function tonePlanes(args: TonePlaneArguments): number {
  const { label: labels, mixAt, mixLabels, mixShares, plates, highlight, first, count, planes, about } = args;
  const { plateOf, tintOf, strengthOf, darkOf } = args;
  const base = planes[plates]!;
  const dark = planes[plates + 1]!;
  for (const plane of planes) plane.fill(0);
  // Rounding takes a little of each plate's share.
  const enough = (LEAST_TONE + 2) * plates;
  let seen = 0;
  for (let x = 0, i = first; x < count; x++, i++) {
    const label = labels[i]!;
    let printed = 0;
    let lit = 0;
    let strength = 0;
    let based = 0;
    let darkness = 0;
    if (label === MIXED) {
      for (let k = mixAt[i]! * 3, end = k + 3; k < end; k++) {
        const share = mixShares[k]!;
        if (share === 0) continue;
        const each = mixLabels[k]!;
        const plate = plateOf[each]!;
        if (plate === NO_PLATE) continue;
        const plane = planes[plate]!;
        const tone = Math.round((tintOf[each]! * share) / 65535);
        plane[x] = Math.min(65535, plane[x]! + tone);
        seen |= 1 << plate;
        printed += tone;
        if (plate === highlight) lit += tone;
        if (strengthOf[each]! > 0) {
          strength += Math.round((share * strengthOf[each]!) / 65535);
          based += share;
        }
        if (darkOf[each] !== 0) darkness += share;
      }
      if (strength > 0) strength = Math.round((Math.min(65535, strength) * Math.min(65535, based)) / 65535);
      darkness = Math.min(65535, darkness);
    } else if (plateOf[label] !== NO_PLATE) {
      const plate = plateOf[label]!;
      printed = tintOf[label]!;
      planes[plate]![x] = printed;
      if (plate === highlight) lit = printed;
      strength = strengthOf[label]!;
      darkness = darkOf[label] === 0 ? 0 : 65535;
      seen |= 1 << plate;
    }
    if (strength > 0) {
      base[x] = strength;
      seen |= 1 << plates;
    }
    if (darkness > 0) {
      dark[x] = darkness;
      seen |= 2 << plates;
    }
    if (!about) continue;
    about[x] =
      (printed > 0 ? INKED : 0) |
      (printed < enough ? THIN : 0) |
      (darkness > 0 ? DARK : 0) |
      (strength < LEAST_TONE ? UNBASED : 0) |
      (lit > 0 ? LIT : 0) |
      (lit < LEAST_TONE ? UNLIT : 0) |
      (printed < 65535 ? PARTLY : 0);
  }
  return seen;
}
