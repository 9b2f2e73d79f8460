import type { RgbaPlane } from '../artwork';
import { type Rgb8, encodeSrgb8, linearFromRgb8, parseHexColour } from '../colour';
import type { Kernels } from '../kernels';
import type { Allocator } from '../raster';
import { draftSetting } from '../fit';
import { type PixelShares, type PlateFields, silhouetteColours, stackInks, stackLimit } from '../separation';
import {
  FadeTables,
  type Ground,
  type InkStack,
  type StackInk,
  type PrintModel,
  type TableWish,
  type ToneTable,
  modelOf,
  tablesOf,
  toneTableOf,
} from '../solving';
import { mostTone } from '../stages';
import {
  type JobGarment,
  type JobSheet,
  type Patch,
  fullToneLayer,
  isSimulated,
  patchesOf,
  sharesOf,
  stagesOf,
  tonedGarments,
  withoutSpecials,
} from '../sheet';
import { smallestDot } from '../tone';
import { smallestDotUm } from './filmTones';
import { type TonePlace, applyPatches } from './patches';

function groundOf(
  { plates }: Pick<JobSheet, 'plates'>,
  { colour, without }: Pick<JobGarment, 'colour' | 'without'>,
): Ground {
  return {
    garment: linearFromRgb8(parseHexColour(colour)),
    without: plates.flatMap(({ id }, k) => (without.includes(id) ? [k] : [])),
  };
}

/** The inks of a job as its tones are solved for: each plate that is not special once, in print order. */
export function stackOf(given: Pick<JobSheet, 'garments' | 'plates' | 'layers'>): InkStack {
  const sheet = withoutSpecials(given);
  const grounds = tonedGarments(sheet).map((garment) => groundOf(sheet, garment));
  return { grounds, inks: withLone(sheet, stackInks(sheet)), ...stackLimit(sheet) };
}

/** Below this share dispersed dots stand so far apart that each is seen: a dot of a mesh's smallest in a square of five. Common practice, no source. */
const LONE_SHARE = 0.04;

/** Inks whose lone dots are left out, where the job says so: on a grid those of shares whose dots the mesh does not hold. */
function withLone({ plates, layers }: Pick<JobSheet, 'plates' | 'layers'>, inks: StackInk[]): StackInk[] {
  if (!fullToneLayer({ layers })?.leaveOutLone) return inks;
  return inks.map((ink, k) => {
    const { screen, mesh } = plates[k]!;
    if (screen.screening === 'solid') return ink;
    const isGrid = screen.screening === 'grid';
    return { ...ink, lone: isGrid ? smallestDot(screen.lpi, smallestDotUm(mesh)) : LONE_SHARE };
  });
}

/** The inks of a job on one of its garments alone: what could be printed there if no other garment shared the films. */
function stackOnOne(
  sheet: Pick<JobSheet, 'garments' | 'plates' | 'layers'>,
  { colour, without }: Pick<JobGarment, 'colour' | 'without'>,
): InkStack {
  // What the base is wished for, and lone dots that are left out, stand in the way as curves do: the inks could do without.
  const grounds = [groundOf(withoutSpecials(sheet), { colour, without })];
  return { ...stackOf(sheet), inks: stackInks(sheet, 0), grounds };
}

/**
 * The tables that a job of tones is drawn with, those first that others are made from; none where it is not of tones.
 *
 * @param alsoOn garments for which also that is wanted which tells what the inks could print there at best.
 */
export function tablesFor(
  sheet: JobSheet,
  alsoOn: readonly Pick<JobGarment, 'colour' | 'without'>[] = [],
): TableWish[] {
  if (!isSimulated(sheet) || sheet.plates.length === 0) return [];
  const stack = stackOf(sheet);
  const several = stack.grounds.length > 1;
  const alone = alsoOn.flatMap((garment) => tablesOf(stackOnOne(sheet, garment), false));
  return [...tablesOf(stack, several), ...alone];
}

/** What the tones of plates depend on, beside the artwork. */
export interface ToneSetting {
  readonly stack: InkStack;
  /** The garment that they are found for, in codes: what is transparent fades into it. Null: they are found for several, into each of which it fades. */
  readonly garment: Rgb8 | null;
  /** The most that each plate may print, 0..65535: a little less than solid where its stages print less than solid for it. */
  readonly plates: readonly {
    readonly id: string;
    readonly most: number;
    readonly patches: readonly Patch[];
    /** What is added of other plates, by their places. */
    readonly shares: readonly { readonly place: number; readonly share: number }[];
  }[];
  /** For each colour that is kept out of the tones what each plate prints of it, 0..65535. */
  readonly kept: readonly (readonly number[])[];
}

export function toneSetting(given: JobSheet): ToneSetting {
  const sheet = withoutSpecials(given);
  return {
    stack: stackOf(sheet),
    garment: tonedGarments(sheet).length > 1 ? null : parseHexColour(tonedGarments(sheet)[0]!.colour),
    plates: sheet.plates.map((plate) => ({
      id: plate.id,
      most: mostTone(stagesOf(plate)),
      patches: patchesOf(plate),
      shares: sharesOf(plate).flatMap(({ plateId, share }) => {
        const place = sheet.plates.findIndex(({ id }) => id === plateId);
        return place < 0 || share === 0 ? [] : [{ place, share }];
      }),
    })),
    kept: keptTones(sheet),
  };
}

/** For each colour that is kept out of the tones what each plate prints of it, 0..65535. */
export function keptTones(sheet: JobSheet): number[][] {
  const { colours, plates } = draftSetting(sheet);
  return colours.map(({ plateId, tint, base }) =>
    plates.map(({ id, role }) => (id === plateId ? tint : role === 'underbase' ? base : 0)),
  );
}

/** Below this opacity, of 255, a fade's tones go to nothing with it: no ink is left where nothing of the artwork is. */
const FAINT_ALPHA = 32;

/**
 * What each plate prints at the artwork's own pixels, 0..65535, by its id: what the inks' table says of their colours.
 *
 * @param shares the silhouette of the same pixels.
 * @param place where the pixels lie in the artwork.
 */
export function plateFields(
  { stack, garment, plates, kept }: ToneSetting,
  art: RgbaPlane,
  shares: PixelShares,
  place: Omit<TonePlace, 'rect'>,
  kernels: Kernels,
  memory: Allocator,
): PlateFields {
  const count = shares.label.length;
  const planes = plates.map(() => memory.words(count, 'any'));
  const printing = memory.bytes(count, 'any');
  memory.scratch(() => {
    const colours = silhouetteColours(art, shares, garment, printing, memory);
    if (plates.length > 0) {
      kernels.toneFields({ table: toneTableOf(stack), colours, wanted: printing, planes });
    }
  });
  if (garment) fadeFaint(art.data, shares.tone, planes);
  else fadeForAll(stack, art, shares.tone, planes, kernels);
  addShares(plates, planes);
  plates.forEach(({ most, patches }, k) => {
    applyPatches(planes[k]!, patches, printing, { ...place, rect: art.rect });
    if (most < 65535) cutTo(most, planes[k]!);
  });
  if (kept.length > 0) layKept(kept, shares.label, printing, planes);
  return new Map(plates.map(({ id }, k) => [id, planes[k]!]));
}

/** Writes what plates print of kept colours where no tones go on below them. */
function layKept(
  kept: ToneSetting['kept'],
  label: Uint8Array,
  printing: Uint8Array,
  planes: readonly Uint16Array[],
): void {
  for (let i = 0; i < label.length; i++) {
    if (label[i]! >= kept.length || printing[i] === 1) continue;
    const tones = kept[label[i]!]!;
    planes.forEach((plane, k) => (plane[i] = tones[k]!));
  }
}

/** Adds to planes what they take of others, as those were before any took of another. */
function addShares(plates: ToneSetting['plates'], planes: readonly Uint16Array[]): void {
  const given = new Set(plates.flatMap(({ shares }) => shares.map(({ place }) => place)));
  const before = new Map([...given].map((place) => [place, planes[place]!.slice()]));
  plates.forEach(({ shares }, k) => {
    const plane = planes[k]!;
    for (const { place, share } of shares) {
      const other = before.get(place)!;
      for (let i = 0; i < plane.length; i++) {
        const moved = plane[i]! + share * other[i]!;
        plane[i] = moved < 0 ? 0 : moved > 65535 ? 65535 : moved + 0.5;
      }
    }
  });
}

function cutTo(most: number, plane: Uint16Array): void {
  for (let i = 0; i < plane.length; i++) if (plane[i]! > most) plane[i] = most;
}

/** The tones of fades on several garments. */
function fadeForAll(
  stack: InkStack,
  { data }: RgbaPlane,
  fades: Uint8Array,
  planes: readonly Uint16Array[],
  { toneFields }: Pick<Kernels, 'toneFields'>,
): void {
  if (fades.indexOf(1) < 0) return;
  const all = new Int32Array(fades.length);
  let count = 0;
  for (let i = 0; i < fades.length; i++) if (fades[i] === 1) all[count++] = i;
  const at = all.subarray(0, count);
  const colours = new Uint32Array(data.buffer, data.byteOffset, fades.length);
  new FadeTables(stack).fields({ colours, at, planes, toneFields });
}

function fadeFaint(data: Uint8Array, fades: Uint8Array, planes: readonly Uint16Array[]): void {
  for (let i = 0; i < fades.length; i++) {
    if (fades[i] !== 1) continue;
    const alpha = data[i * 4 + 3]!;
    if (alpha >= FAINT_ALPHA) continue;
    for (const plane of planes) plane[i] = Math.round((plane[i]! * alpha) / FAINT_ALPHA);
  }
}

/** The colours that a job's inks print for those of the artwork, where nothing but the inks and the garment stands in the way. */
export class PrintableColours {
  private readonly known = new Map<number, number>();
  private readonly stack: InkStack;
  private readonly model: PrintModel;
  private readonly tones: Uint16Array;
  private readonly shares: Float64Array;
  private readonly light = new Float64Array(3);
  /** Made when it is needed: it takes a second. */
  private table: ToneTable | null = null;

  /** @param garment that is solved for alone, since what others cost could be avoided. */
  constructor(sheet: JobSheet, worn: Pick<JobGarment, 'colour' | 'without'>) {
    const stack = stackOnOne(sheet, worn);
    this.stack = stack;
    this.model = modelOf(stack);
    this.tones = new Uint16Array(stack.inks.length);
    this.shares = new Float64Array(stack.inks.length);
    // Where nothing is wanted, nothing prints.
    const [r, g, b] = parseHexColour(worn.colour);
    const garment = r | (g << 8) | (b << 16);
    this.known.set(garment, garment);
  }

  /** @param pixels of four bytes, opaque. */
  print(pixels: Uint8ClampedArray): Uint8ClampedArray {
    const out = new Uint8ClampedArray(pixels.length);
    for (let i = 0; i < pixels.length; i += 4) {
      const printed = this.codeOf(pixels[i]! | (pixels[i + 1]! << 8) | (pixels[i + 2]! << 16));
      out[i] = printed & 255;
      out[i + 1] = (printed >> 8) & 255;
      out[i + 2] = printed >> 16;
      out[i + 3] = 255;
    }
    return out;
  }

  private codeOf(colour: number): number {
    const known = this.known.get(colour);
    if (known !== undefined) return known;
    this.table ??= toneTableOf(this.stack);
    this.table.find(colour & 255, (colour >> 8) & 255, colour >> 16, this.tones);
    this.tones.forEach((tone, k) => (this.shares[k] = tone / 65535));
    this.model.print(this.shares, this.light);
    const [r, g, b] = [...this.light].map((light) => encodeSrgb8(light)) as [number, number, number];
    const printed = r | (g << 8) | (b << 16);
    if (this.known.size > 1 << 18) this.known.clear();
    this.known.set(colour, printed);
    return printed;
  }
}
