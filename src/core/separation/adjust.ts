import type { LumaMap } from '../artwork';
import {
  type LinearRgb,
  decodeSrgb,
  encodeSrgb8,
  formatHexColour,
  labFromLinear,
  layerOver,
  linearFromRgb8,
  parseHexColour,
  rgb8FromLinear,
} from '../colour';
import {
  type Adjustment,
  type JobSheet,
  type Plate,
  fullToneLayer,
  tonedGarments,
  withLayer,
  withoutSpecials,
} from '../sheet';
import { throughStages } from '../stages';

const maps = new WeakMap<Adjustment, LumaMap>();

/** How a job changes the colours of its artwork before they are separated; null where it does not. */
export function lumaMapOf(sheet: Pick<JobSheet, 'layers'>): LumaMap | null {
  const adjustment = fullToneLayer(sheet)?.adjust ?? null;
  if (!adjustment) return null;
  const known = maps.get(adjustment) ?? makeMap(adjustment);
  maps.set(adjustment, known);
  return known;
}

/**
 * Contrast first, then the curve. More contrast leads towards the curve t²(3 − 2t), which leaves black, middle and white where they are; less towards half of each
 * distance from the middle.
 */
function makeMap({ contrast, saturation, curve, ends }: Adjustment): LumaMap {
  const through = throughStages([{ kind: 'curve', points: curve }]);
  const luma = Float64Array.from({ length: 257 }, (_, code) => {
    const t = Math.min(255, code) / 255;
    const goal = contrast > 0 ? t * t * (3 - 2 * t) : 0.5 + (t - 0.5) / 2;
    return 255 * through(t + Math.abs(contrast) * (goal - t));
  });
  return { luma, saturation: 1 + saturation, ...(ends ? { channels: channelsOf(ends) } : {}) };
}

type Ends = NonNullable<Adjustment['ends']>;

/** Black and white moved to where they can print, and what lies between them as T' = K + T·(W − K), of linear light. */
function channelsOf({ black, white }: Ends): NonNullable<LumaMap['channels']> {
  const [low, high] = [black, white].map((hex) => linearFromRgb8(parseHexColour(hex)));
  const channel = (c: 0 | 1 | 2) =>
    Uint8Array.from({ length: 256 }, (_, code) =>
      encodeSrgb8(low![c] + decodeSrgb(code / 255) * (high![c] - low![c])),
    );
  return [channel(0), channel(1), channel(2)];
}

/** The darkest and the lightest that a job's inks print on its garment; of several garments what all reach. */
export function printedEnds(sheet: Pick<JobSheet, 'garments' | 'plates' | 'layers'>): Ends {
  const lightness = (light: LinearRgb) => labFromLinear(light)[0];
  const of = tonedGarments(sheet).map(({ colour, without }) => {
    const garment = linearFromRgb8(parseHexColour(colour));
    const plates = withoutSpecials(sheet).plates.filter(({ id }) => !without.includes(id));
    const over = (backing: LinearRgb, { ink }: Plate) =>
      layerOver(backing, { colour: linearFromRgb8(parseHexColour(ink.colour)), opacity: ink.opacity });
    const whites = plates.filter(({ role }) => role !== 'colour');
    const built = whites.reduce<LinearRgb[]>((all, plate) => [...all, over(all.at(-1)!, plate)], [garment]);
    const solids = plates.filter(({ role }) => role === 'colour').map((plate) => over(garment, plate));
    const order = [...built, ...solids].sort((p, q) => lightness(p) - lightness(q));
    return { black: order[0]!, white: order.at(-1)! };
  });
  const hex = (light: LinearRgb) => formatHexColour(rgb8FromLinear(light));
  const [black] = of.map((each) => each.black).sort((p, q) => lightness(q) - lightness(p));
  const [white] = of.map((each) => each.white).sort((p, q) => lightness(p) - lightness(q));
  return { black: hex(black!), white: hex(white!) };
}

/** The sheet with its artwork's colours changed; null: as they are. A job of flat colours stays as it is. */
export function withAdjustment(sheet: JobSheet, adjust: Adjustment | null): JobSheet {
  const layer = fullToneLayer(sheet);
  if (!layer) return sheet;
  const isPlain =
    !adjust ||
    (adjust.contrast === 0 &&
      adjust.saturation === 0 &&
      adjust.ends === null &&
      JSON.stringify(adjust.curve) === '[[0,0],[1,1]]');
  return withLayer(sheet, { ...layer, adjust: isPlain ? null : adjust });
}
