import { ENCODE_TABLE, type LinearRgb, linearFromRgb8, parseHexColour } from '../colour';
import type { PlatePlanes } from '../fit';
import type { GroupPlace, PrintLayer, RasterKernels } from '../raster';
import { isPredicted, liesOnBase, nestPlaces, nestedPlates } from '../separation';
import { type JobSheet, type Plate, garmentOf, printsTones, passes } from '../sheet';
import { type View, type ViewLevel, viewSpans } from './view';

/** sRGB pixels of four bytes, opaque. */
export type Pixels = Uint8ClampedArray<ArrayBuffer>;

function draw(
  layers: readonly PrintLayer[],
  ground: LinearRgb,
  planes: PlatePlanes,
  level: ViewLevel,
  view: View,
  kernels: RasterKernels,
  out: Pixels = new Uint8ClampedArray(view.width * view.height * 4),
): Pixels {
  const { width, height } = planes.rect;
  kernels.printView({ layers, ground, width, height, ...viewSpans(level, view), codes: ENCODE_TABLE, out });
  return out;
}

/** The group of plates whose dots lie in each other by themselves; groups that are set are numbered from 1. */
const NESTED = 0;

export interface PrintOptions {
  /** Plates that are left out; left out itself: those that do not run for the sheet's first garment. */
  readonly lifted?: ReadonlySet<string>;
  /** How many passes of the run have printed; all of them when left out or null. */
  readonly passes?: number | null;
  /** Colour of the garment that it is printed on; left out: the one that the plates are made for. */
  readonly garment?: string;
  /** Where the pixels go: as many as the window has. */
  readonly out?: Pixels;
}

/**
 * The garment with the plates printed on it in print order, as a window shows it.
 *
 * @param planes all of the level's region.
 */
export function predictPrint(
  planes: PlatePlanes,
  sheet: JobSheet,
  level: ViewLevel,
  view: View,
  kernels: RasterKernels,
  options: PrintOptions = {},
): Pixels {
  const byId = new Map(planes.planes.map((plane) => [plane.plate.id, plane]));
  // Inks and order come from the sheet: the planes may be those of an earlier state with the same plates.
  const printed = passes(sheet).slice(0, options.passes ?? undefined);
  const lifted = options.lifted ?? new Set(garmentOf(sheet).without);
  const nested = nestedPlates(sheet);
  const nests = printsTones(sheet) ? nestPlaces(sheet.plates) : null;
  const layers = printed.flatMap((plate, k): PrintLayer[] => {
    const plane = byId.get(plate.id);
    if (!plane || !isPredicted(plate) || lifted.has(plate.id)) return [];
    const { colour, opacity } = plate.ink;
    // Real dots lie where they lie; only tones stand for areas that are apart.
    const { interlock, screening } = plate.screen;
    // A second pass of a screen lies on its own dots, not beside them.
    const again = printed.findIndex((each) => each.id === plate.id) < k;
    const own = interlock ?? (nested.has(plate.id) ? NESTED : null);
    const group = plane.tone && screening === 'grid' && !again ? own : null;
    // A base that others of its group lie under is none to them.
    const late = group !== NESTED && printed.slice(0, k).some((each) => each.screen.interlock === group);
    const place = placeOf(sheet, plate);
    const ink = { colour: linearFromRgb8(parseHexColour(colour)), opacity };
    return [
      {
        shape: plane.shape,
        tone: plane.tone,
        ...ink,
        group: place === 'under' && late ? null : group,
        place,
        nest: plane.tone && !again ? (nests?.get(plate.id) ?? null) : null,
      },
    ];
  });
  const garment = linearFromRgb8(parseHexColour(options.garment ?? garmentOf(sheet).colour));
  return draw(layers, garment, planes, level, view, kernels, options.out);
}

function placeOf(sheet: JobSheet, plate: Plate): GroupPlace {
  if (plate.role === 'underbase') return 'under';
  return liesOnBase(sheet, plate) ? 'on' : 'off';
}

/** One plate as film on a light table, as a window shows it: black where it is opaque. */
export function predictFilm(
  planes: PlatePlanes,
  plateId: string,
  level: ViewLevel,
  view: View,
  kernels: RasterKernels,
  out?: Pixels,
): Pixels {
  const layers = planes.planes
    .filter(({ plate }) => plate.id === plateId)
    .map(({ shape, tone }) => ({ shape, tone, colour: FILM_BLACK, opacity: 1 }));
  return draw(layers, FILM_GROUND, planes, level, view, kernels, out);
}

// Clear and exposed film on a lit table, as shares of the table's light.
const FILM_BLACK: LinearRgb = [0.006, 0.006, 0.006];

/** Clear film, in linear light. */
export const FILM_GROUND: LinearRgb = [0.94, 0.94, 0.94];
