import type { PlatePlanes } from '../fit';
import type { Rect } from '../geometry';
import type { Kernels } from '../kernels';
import { LEAST_TONE, isEmpty } from '../raster';
import {
  type BitTarget,
  type LaidTone,
  SOLID_TILE,
  type ScreenLayer,
  type ThresholdTile,
  type ThresholdTiles,
  packedBits,
  weighField,
  weighPlane,
} from '../screening';
import { liesOnBase } from '../separation';
import { type JobSheet, type Plate, stagesOf } from '../sheet';
import type { Wear } from '../texture';
import { stageTable } from '../stages';
import { type FilmTones, plateTile } from './filmTones';
import type { PlateBlock } from './plateBlocks';
import type { TonePlanes } from './toneBlocks';

/** How plates are to be screened. */
export interface BitsRequest {
  readonly sheet: JobSheet;
  readonly tiles: ThresholdTiles;
  readonly kernels: Kernels;
  readonly tones: FilmTones;
  /** The tone of a plate that stands as a plane: as it stands on film, or in print; it matters where the shape is in. */
  toneOf(plate: Plate, tone: Uint16Array, shape: Uint8Array): Uint16Array;
}

const NOTHING: LaidTone = { sum: 0, screened: false };

/**
 * Screens plates of a block. Plates that interlock divide each cell among them: each takes
 * the thresholds behind those of the plates before it, so that their areas are exact and apart until they sum up to more than the
 * cell; what is beyond that lies on the first ones again. First come those that want a base, in the order of the sheet, then the
 * others. A base that interlocks with them has the lowest thresholds for its own, and so lies under those that want it.
 *
 * @param block has all plates that divide cells with the wanted ones, in one form.
 * @param targets where the bits of each plate go, 1 = ink, the most significant bit leftmost; they are clear.
 * @param weigh whether what each plate comes to is wanted; else it is nothing.
 *
 * What the texture takes away is taken from the bits, so that no dot beside a hole changes for it.
 *
 * Throws what `plateTile` throws.
 */
export function screenBlock(
  request: BitsRequest,
  { rect, views, wear }: Pick<PlateBlock, 'rect' | 'views' | 'wear'>,
  wanted: readonly Plate[],
  targets: readonly BitTarget[],
  weigh = true,
): LaidTone[] {
  const { sheet, kernels } = request;
  const field = views.kind === 'tones' ? views.tones : null;
  const printing = withThoseBefore(sheet, wanted).flatMap((plate) => {
    const form =
      views.kind === 'tones' ? fieldOf(request, views.tones, plate) : planeOf(request, views.planes, plate);
    if (!form) return [];
    const { x, y } = form.tone.kind === 'solid' ? { x: 0, y: 0 } : maskOffset(plate, form.tile);
    const out = targets[wanted.findIndex(({ id }) => id === plate.id)] ?? null;
    return [{ plate, layer: { ...form, originX: rect.x + x, originY: rect.y + y, out } }];
  });
  const layers = printing.map(({ layer }) => layer);
  const laid = kernels.screenLayers({ width: rect.width, rows: rect.height, field, layers });
  const inked = new Set(printing.map(({ plate }) => plate.id));
  const left = wear ? wearBits(rect, wear, wanted, inked, targets) : null;
  return wanted.map(({ id }, k) => {
    const at = weigh ? printing.findIndex(({ plate }) => plate.id === id) : -1;
    if (at < 0) return NOTHING;
    const { plate, layer } = printing[at]!;
    if (views.kind === 'planes') {
      // Tones as they are wanted in print: those of the layer are the film's.
      const { shape, tone } = views.planes.planes.find((plane) => plane.plate.id === id)!;
      const whole = weighPlane(shape, tone);
      const holes = wear?.holesOf(id);
      // Whether a plate has dots does not depend on where its texture has holes.
      return holes ? { ...whole, sum: weighPlane(withoutHoles(shape, holes), tone).sum } : whole;
    }
    const table = stageTable(stagesOf(plate));
    const { sum, screened } =
      table && layer.tone.kind === 'field' ? laidThrough(layer.tone.values, table, views.tones) : laid[at]!;
    return { sum: left ? sum * left[k]! : sum, screened };
  });
}

/**
 * Takes the holes of a texture away from bits.
 *
 * @param inked plates that have any.
 * @returns for each plate which part of its bits is left.
 */
function wearBits(
  { width, height }: Rect,
  wear: Wear,
  plates: readonly Plate[],
  inked: ReadonlySet<string>,
  targets: readonly BitTarget[],
): number[] {
  const packed = new Map<Uint8Array, Uint8Array>();
  return plates.map(({ id }, k) => {
    const holes = inked.has(id) ? wear.holesOf(id) : null;
    if (!holes) return 1;
    const kept = packed.get(holes) ?? packWithout(holes, width, height);
    packed.set(holes, kept);
    const { bits, at, rowBytes, bytes, rows } = targets[k]!;
    let [before, after] = [0, 0];
    for (let row = 0; row < rows; row++) {
      for (let byte = 0; byte < bytes; byte++) {
        const place = at + row * rowBytes + byte;
        const own = bits[place]!;
        if (own === 0) continue;
        const rest = own & kept[row * (width >> 3) + byte]!;
        before += BIT_COUNTS[own]!;
        after += BIT_COUNTS[rest]!;
        bits[place] = rest;
      }
    }
    return before > 0 ? after / before : 1;
  });
}

const BIT_COUNTS = Uint8Array.from({ length: 256 }, (_, byte) => byte.toString(2).replaceAll('0', '').length);

/** What holes leave, as bits in rows of whole bytes. */
function packWithout(holes: Uint8Array, width: number, height: number): Uint8Array {
  const { bits } = packedBits(width, height);
  for (let byte = 0, i = 0; byte < bits.length; byte++, i += 8) {
    let value = 0;
    for (let k = 0; k < 8; k++) value = (value << 1) | (holes[i + k] === 0 ? 1 : 0);
    bits[byte] = value;
  }
  return bits;
}

function withoutHoles(shape: Uint8Array, holes: Uint8Array): Uint8Array {
  return shape.map((own, i) => (holes[i] === 0 ? own : 0));
}

/** Plates of a region that stand as planes, as bits in rows of whole bytes. @param wanted in any order; the bits come in the same. */
export function platesBits(
  request: BitsRequest,
  planes: PlatePlanes,
  wanted: readonly Plate[],
): Uint8Array[] {
  const { rect } = planes;
  const targets = wanted.map(() => packedBits(rect.width, rect.height));
  screenBlock(request, { rect, views: { kind: 'planes', planes }, wear: null }, wanted, targets, false);
  return targets.map(({ bits }) => bits);
}

type LayerForm = Omit<ScreenLayer, 'originX' | 'originY' | 'out'>;

/** A plate that is tones at the artwork's pixels; null where it prints nothing. */
function fieldOf({ sheet, tiles, tones }: BitsRequest, planes: TonePlanes, plate: Plate): LayerForm | null {
  const values = planes.tonesOf(plate);
  if (!values) return null;
  const tile = plateTile(tiles, sheet.film.dpi, plate);
  const group = groupOf(plate);
  return {
    shape: null,
    tone: { kind: 'field', values },
    tile: group === null ? tones.foldedTile(sheet, plate, tile) : tile,
    stack: group === null ? null : { group, onFilm: tones.filmTable(sheet, plate) },
  };
}

/** A plate that stands at the film's resolution; null where it prints nothing. */
function planeOf(
  { sheet, tiles, toneOf }: BitsRequest,
  { planes }: PlatePlanes,
  plate: Plate,
): LayerForm | null {
  const plane = planes.find((each) => each.plate.id === plate.id);
  if (!plane || isEmpty(plane.shape)) return null;
  const { shape, tone } = plane;
  const group = groupOf(plate);
  return {
    shape,
    tone: tone ? { kind: 'plane', values: toneOf(plate, tone, shape) } : { kind: 'solid' },
    tile: tone ? plateTile(tiles, sheet.film.dpi, plate) : SOLID_TILE,
    stack: group === null ? null : { group, onFilm: null },
  };
}

/** What tones come to behind a table: at the artwork's pixels, which between them differ from the film's by as much as the table bends there. */
function laidThrough(values: Uint16Array, table: Uint16Array, field: TonePlanes): LaidTone {
  return weighField({ ...field, tones: values.map((value) => (value < LEAST_TONE ? 0 : table[value]!)) });
}

/** Plates that share this divide their cells. */
export function groupOf({ role, screen }: Plate): number | null {
  return screen.screening === 'grid' && role !== 'underbase' ? screen.interlock : null;
}

/** Some plates, and those that take their part of the cells before them do, in the order in which they take them. */
export function withThoseBefore(sheet: JobSheet, wanted: readonly Plate[]): readonly Plate[] {
  const onBase = (plate: Plate) => liesOnBase(sheet, plate);
  const stacked = [...sheet.plates.filter(onBase), ...sheet.plates.filter((plate) => !onBase(plate))];
  const order = new Map(stacked.map(({ id }, k) => [id, k]));
  const all = new Map(wanted.map((plate) => [plate.id, plate]));
  for (const plate of wanted) {
    const group = groupOf(plate);
    if (group === null) continue;
    for (const each of stacked.slice(0, order.get(plate.id))) {
      if (groupOf(each) === group && !all.has(each.id)) all.set(each.id, each);
    }
  }
  return [...all.values()].sort((p, q) => order.get(p.id)! - order.get(q.id)!);
}

/**
 * Where a plate's mask of dispersed dots lies: elsewhere for each plate, or their dots would lie on each other. It depends on the
 * plate alone, so that its film has the same dots whenever it is made.
 */
export function maskOffset({ id, screen }: Plate, tile: ThresholdTile): { x: number; y: number } {
  if (screen.screening !== 'dispersed') return { x: 0, y: 0 };
  // FNV-1a, by Fowler, Noll and Vo.
  let hash = 0x811c9dc5;
  for (let k = 0; k < id.length; k++) hash = Math.imul(hash ^ id.charCodeAt(k), 0x01000193);
  return { x: (hash >>> 16) % tile.length, y: (hash & 0xffff) % tile.rows };
}
