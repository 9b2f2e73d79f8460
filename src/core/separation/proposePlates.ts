import type { FoundColour } from '../artwork';
import { type Rgb8, ciede2000, formatHexColour, labFromRgb8, nameColour, parseHexColour } from '../colour';
import { isWhite, suggestBaseStrength } from './baseStrength';
import { isGarmentColour } from './droppedGround';
import { GOOD_TINT, findTint } from './predictFlat';
import {
  BASE_WHITE,
  DEFAULT_SCREEN,
  HIGHLIGHT_WHITE,
  type Ink,
  LIMITS,
  MESH,
  type PaletteColour,
  type Plate,
  colourId,
} from '../sheet';

export interface InkRequest {
  readonly name: string;
  readonly colour: string;
  /** 0..1; left out: what is plausible for the colour. */
  readonly opacity?: number;
}

export interface PlateProposal {
  readonly palette: PaletteColour[];
  /** In print order: underbase, colours, highlight white. */
  readonly plates: Plate[];
}

export interface ProposalInput {
  readonly colours: readonly FoundColour[];
  readonly garmentColour: string;
  /** Inks in print order; null: one for each colour found, light to dark. */
  readonly inks: readonly InkRequest[] | null;
  /** For each colour found, the index of the one that stands for it; null: each for itself. */
  readonly standsFor?: readonly number[] | null;
  /** A colour that needs no plate, such as a background that is dropped and stands nowhere else. */
  readonly leftOut?: string | null;
}

/** Opacity to start with by what an ink is; plausible, not measured. */
export function suggestOpacity(rgb: Rgb8): number {
  const [lightness, a, b] = labFromRgb8(rgb);
  if (lightness < 22) return 0.95;
  if (lightness > 92 && Math.hypot(a, b) < 8) return HIGHLIGHT_WHITE.opacity;
  return 0.75;
}

/** Lower-case letters, digits and hyphens; `ink` when nothing is left. */
export function slug(text: string): string {
  const plain = text
    .normalize('NFKD')
    .replace(/[^\p{Letter}\p{Number}]+/gu, '-')
    .replace(/[^a-zA-Z0-9-]/g, '')
    .toLowerCase()
    .replace(/^-+|-+$/g, '')
    .slice(0, 32)
    .replace(/-+$/, '');
  return plain || 'ink';
}

/** A name or id that none of the others has, by a number behind it where needed. */
export function unique(wanted: string, taken: ReadonlySet<string>, joint: string): string {
  if (!taken.has(wanted)) return wanted;
  for (let k = 2; ; k++) {
    const candidate = `${wanted}${joint}${k}`;
    if (!taken.has(candidate)) return candidate;
  }
}

/** The name of an ink by that of its colour. */
export function titled(name: string): string {
  return name.charAt(0).toUpperCase() + name.slice(1);
}

interface Draft {
  readonly request: InkRequest | null;
  readonly rgb: Rgb8;
}

/** The most plates beside the base that a spot separation is proposed with. */
const MOST_PLATES = 15;

/** One plate for each flat colour (or for each ink asked for), with an underbase under those that need one. */
export function proposePlates(input: ProposalInput): PlateProposal {
  return input.inks ? onNamedInks(input, input.inks) : onOwnInks(input);
}

function isLeftOut(input: ProposalInput, rgb: Rgb8): boolean {
  return formatHexColour(rgb) === input.leftOut;
}

/** A colour before it has its id. */
type Proposed = Omit<PaletteColour, 'id'>;

function entryOf(rgb: Rgb8, plateId: string | null, tint = 1): Proposed {
  return { colour: formatHexColour(rgb), plateId, tint, closeness: null, within: null, base: null };
}

/** Each colour on an ink of its own, or on that of the colour which stands for it: solid, or as a tint that prints nearer. */
function onOwnInks(input: ProposalInput): PlateProposal {
  const found = input.colours.map((each, index) => ({
    rgb: each.rgb,
    standsFor: input.colours[input.standsFor?.[index] ?? index]!.rgb,
  }));
  const onGarment = (rgb: Rgb8) =>
    isLeftOut(input, rgb) || isGarmentColour(formatHexColour(rgb), input.garmentColour);
  const order = [...new Set(found.map((each) => formatHexColour(each.standsFor)))]
    .map((hex) => parseHexColour(hex))
    .filter((rgb) => !onGarment(rgb))
    .sort((p, q) => labFromRgb8(q)[0] - labFromRgb8(p)[0]);
  const drafts = [...order.filter((each) => !isWhite(each)), ...order.filter(isWhite)]
    .slice(0, MOST_PLATES)
    .map((rgb): Draft => ({ request: null, rgb }));
  const plates = draftPlates(drafts, input.garmentColour);
  const plateOf = new Map(drafts.map(({ rgb }, k) => [formatHexColour(rgb), plates[k]!]));
  const palette = found.map(({ rgb, standsFor }) => {
    if (onGarment(rgb)) return entryOf(rgb, null);
    const plate = plateOf.get(formatHexColour(standsFor));
    const isOwn = formatHexColour(rgb) === formatHexColour(standsFor);
    return plate && isOwn
      ? entryOf(rgb, plate.id)
      : onNearest(rgb, plate ?? null, plates, input.garmentColour);
  });
  return withBase(palette, plates);
}

/** On the plate that stands for a colour, or as a tint of whichever plate where the solid is visibly off and the tint is not. */
function onNearest(
  rgb: Rgb8,
  plate: Plate | null,
  plates: readonly Plate[],
  garmentColour: string,
): Proposed {
  const colour = formatHexColour(rgb);
  const solid = plate ? ciede2000(labFromRgb8(rgb), labFromRgb8(parseHexColour(plate.ink.colour))) : Infinity;
  if (solid <= GOOD_TINT) return entryOf(rgb, plate!.id);
  let best = { plateId: plate?.id ?? null, tint: 1, difference: solid };
  for (const each of plates) {
    const { tint, difference } = findTint(garmentColour, BASE_WHITE, each, colour);
    if (difference <= GOOD_TINT && difference < best.difference - 1)
      best = { plateId: each.id, tint, difference };
  }
  return entryOf(rgb, best.plateId, best.tint);
}

/** Each colour on the ink that prints nearest to it, solid or as a tint, or on none where the garment is nearer still. */
function onNamedInks(input: ProposalInput, inks: readonly InkRequest[]): PlateProposal {
  const garment = labFromRgb8(parseHexColour(input.garmentColour));
  const drafts = inks.map((request): Draft => ({
    request,
    rgb: parseHexColour(request.colour, request.name),
  }));
  const plates = draftPlates(drafts, input.garmentColour);
  const found = input.colours.map(({ rgb }) => rgb);
  const alone = drafts.flatMap(({ rgb }) => {
    const lab = labFromRgb8(rgb);
    return found.some((each) => ciede2000(labFromRgb8(each), lab) < 7) ? [] : [rgb];
  });
  // Inks that nothing of the artwork is near to have rows in the place of its smallest colours.
  const colours = [...found.slice(0, LIMITS.maxPaletteColours - alone.length), ...alone];
  const palette = colours.map((rgb) => {
    if (isLeftOut(input, rgb)) return entryOf(rgb, null);
    let best = { plateId: null as string | null, tint: 1, difference: ciede2000(labFromRgb8(rgb), garment) };
    for (const plate of plates) {
      const { tint, difference } = findTint(input.garmentColour, BASE_WHITE, plate, formatHexColour(rgb));
      if (difference < best.difference) best = { plateId: plate.id, tint, difference };
    }
    return entryOf(rgb, best.plateId, best.tint);
  });
  return withBase(palette, plates);
}

function withBase(proposed: readonly Proposed[], plates: Plate[]): PlateProposal {
  const palette = proposed.map((entry, k) => ({ id: colourId(k + 1), ...entry }));
  const all = plates.some(({ baseStrength }) => baseStrength > 0) ? [underbasePlate(), ...plates] : plates;
  return { palette, plates: all.map((plate, index) => ({ ...plate, number: index + 1 })) };
}

function draftPlates(drafts: readonly Draft[], garmentColour: string): Plate[] {
  const names = new Set<string>([BASE_WHITE.name]);
  const ids = new Set<string>(['base-white']);
  return drafts.map((draft, k) => draftPlate(draft, k + 1, garmentColour, names, ids));
}

function draftPlate(
  draft: Draft,
  number: number,
  garmentColour: string,
  names: Set<string>,
  ids: Set<string>,
): Plate {
  const white = isWhite(draft.rgb);
  const wanted =
    draft.request?.name.trim().slice(0, 80) || (white ? HIGHLIGHT_WHITE.name : titled(nameColour(draft.rgb)));
  const name = unique(wanted, names, ' ');
  names.add(name);
  const id = unique(slug(name), ids, '-');
  ids.add(id);
  const ink: Ink = {
    name,
    colour: formatHexColour(draft.rgb),
    opacity: draft.request?.opacity ?? suggestOpacity(draft.rgb),
  };
  return {
    number,
    id,
    role: white ? 'highlight' : 'colour',
    ink,
    special: null,
    baseStrength: suggestBaseStrength(ink, garmentColour),
    withMarks: true,
    sources: [],
    stages: [],
    mesh: white ? MESH.highlight : MESH.solidColour,
    screen: DEFAULT_SCREEN,
  };
}

/** The underbase of a job of flat colours. */
export function underbasePlate(): Plate {
  return {
    number: 1,
    id: 'base-white',
    role: 'underbase',
    ink: { ...BASE_WHITE },
    special: null,
    baseStrength: 0,
    withMarks: true,
    sources: [],
    stages: [],
    mesh: MESH.solidWhite,
    screen: DEFAULT_SCREEN,
  };
}
