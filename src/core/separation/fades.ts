import { labFromLinear, linearFromRgb8, parseHexColour, printOver } from '../colour';
import { type JobSheet, type Plate, garmentOf, paletteOf, transitionsOf } from '../sheet';
import { WAY_STEPS, mixCoded, screenOf } from './pairWays';
import { baseUnder, baseUnderPlate } from './baseUnder';
import { opticsOf } from './predictFlat';

/**
 * The base and the inks that only fade out, where their dots lie in each other: on one screen, smaller dots grow inside of larger ones. Inks
 * that interlock say so themselves; those that also meet other inks in transitions are taken as independent.
 */
export function nestedPlates(sheet: JobSheet): ReadonlySet<string> {
  const { plates } = sheet;
  const [transitions, palette] = [transitionsOf(sheet), paletteOf(sheet)];
  const base = plates.find((plate) => plate.role === 'underbase');
  if (!base || !transitions || base.screen.screening !== 'grid') return new Set();
  const isOnScreenOfBase = ({ screen }: Plate) =>
    JSON.stringify({ ...screen, gain: 0, measured: null }) ===
    JSON.stringify({ ...base.screen, gain: 0, measured: null });
  const inks = plates.filter((plate) => {
    if (plate === base || baseUnderPlate(sheet, plate) === 0 || plate.screen.interlock !== null) return false;
    const colours = new Set(palette.flatMap(({ colour, plateId }) => (plateId === plate.id ? [colour] : [])));
    const own = transitions.filter((pair) => pair.some((colour) => colours.has(colour)));
    return own.length > 0 && own.every(([one, other]) => one === other) && isOnScreenOfBase(plate);
  });
  return new Set(inks.length > 0 ? [base.id, ...inks.map(({ id }) => id)] : []);
}

/** Tries of a fade's amount, evenly from none to all. */
const FADE_TRIES = 250;

/**
 * How an ink fades out into the garment: for each step of opacity the share of it that prints nearest to the artwork, which mixes its codes with the
 * garment's. The base under it fades as the square of the ink. Null where the colour has no ink.
 */
export function fadeOf(sheet: JobSheet, colour: string): Float64Array | null {
  const entry = paletteOf(sheet).find((each) => each.colour === colour && each.within === null);
  const plate = sheet.plates.find((each) => each.id === entry?.plateId);
  if (!entry || !plate) return null;
  // The base by itself fades out as any ink does.
  const base = plate.role === 'underbase' ? null : sheet.plates.find((each) => each.role === 'underbase');
  const wanted = baseUnder(sheet, entry);
  const garment = parseHexColour(garmentOf(sheet).colour);
  const ground = linearFromRgb8(garment);
  const ink = screenOf(plate, entry.tint);
  // Dots of the base that lie under the ink's dots show nowhere beside them.
  const isNested = nestedPlates(sheet).has(plate.id);
  const printed = (share: number) => {
    const strength = base ? wanted * share * share : 0;
    const amount = share * ink.tint;
    if (strength === 0) return labFromLinear(printOver(ground, ink, amount));
    if (!isNested)
      return labFromLinear(printOver(printOver(ground, opticsOf(base!.ink), strength), ink, amount));
    const onBase = printOver(printOver(ground, opticsOf(base!.ink), 1), ink, 1);
    const under = Math.min(strength, amount);
    const bare = printOver(ground, ink, 1);
    const mix = (c: 0 | 1 | 2) => under * onBase[c] + (amount - under) * bare[c] + (1 - amount) * ground[c];
    return labFromLinear([mix(0), mix(1), mix(2)]);
  };
  const tries = Array.from({ length: FADE_TRIES + 1 }, (_, k) => printed(k / FADE_TRIES));
  const shares = new Float64Array(WAY_STEPS + 1);
  shares[WAY_STEPS] = 1;
  let least = 0;
  for (let step = 1; step < WAY_STEPS; step++) {
    const mixed = mixCoded(parseHexColour(colour), garment, step / WAY_STEPS);
    const wanted = labFromLinear(linearFromRgb8(mixed));
    let best = Infinity;
    let at = least;
    // It never prints less where the artwork shows more.
    for (let k = least; k <= FADE_TRIES; k++) {
      const lab = tries[k]!;
      const off = (lab[0] - wanted[0]) ** 2 + (lab[1] - wanted[1]) ** 2 + (lab[2] - wanted[2]) ** 2;
      if (off < best) [best, at] = [off, k];
    }
    least = at;
    shares[step] = at / FADE_TRIES;
  }
  return shares;
}

/** The share of an ink at an opacity of the artwork, 0..65535. */
export function onFade(shares: Float64Array, opacity: number): number {
  const at = Math.min(1, Math.max(0, opacity)) * WAY_STEPS;
  const step = Math.min(WAY_STEPS - 1, Math.floor(at));
  return Math.round((shares[step]! + (shares[step + 1]! - shares[step]!) * (at - step)) * 65535);
}

/** The fades of a job's colours that fade out, by their colour. */
export function fadesOf(sheet: JobSheet): ReadonlyMap<string, Float64Array> {
  const fades = new Map<string, Float64Array>();
  for (const [one, other] of transitionsOf(sheet) ?? []) {
    const fade = one === other ? fadeOf(sheet, one) : null;
    if (fade) fades.set(one, fade);
  }
  return fades;
}
