import type { FoundColour } from '../artwork';
import {
  type Rgb8,
  ciede2000,
  formatHexColour,
  labFromLinear,
  labFromRgb8,
  layerOver,
  linearFromRgb8,
  nameColour,
  parseHexColour,
} from '../colour';
import {
  BASE_WHITE,
  DEFAULT_SCREEN,
  HIGHLIGHT_WHITE,
  type Ink,
  MESH,
  type PaletteColour,
  type Plate,
} from '../sheet';

export interface InkRequest {
  readonly name: string;
  readonly colour: string;
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

/** A colour this near to the garment's (CIEDE2000) is left to the garment. */
const GARMENT_DISTANCE = 6;

/** Opacity to start with by what an ink is; plausible, not measured. */
export function suggestOpacity(rgb: Rgb8): number {
  const [lightness, a, b] = labFromRgb8(rgb);
  if (lightness < 22) return 0.95;
  if (lightness > 92 && Math.hypot(a, b) < 8) return HIGHLIGHT_WHITE.opacity;
  return 0.75;
}

export function isWhite(rgb: Rgb8): boolean {
  const [lightness, a, b] = labFromRgb8(rgb);
  return lightness > 92 && Math.hypot(a, b) < 8;
}

/**
 * How much underbase an ink wants on a garment: none under black and very dark inks and where the garment does
 * not change the ink; three quarters under strong reds, half under off-white. Common practice, no source.
 */
export function suggestBaseStrength(ink: Ink, garmentColour: string): number {
  const rgb = parseHexColour(ink.colour);
  const [lightness, a, b] = labFromRgb8(rgb);
  if (lightness < 25) return 0;
  const optics = { colour: linearFromRgb8(rgb), opacity: ink.opacity };
  const onGarment = labFromLinear(layerOver(linearFromRgb8(parseHexColour(garmentColour)), optics));
  const onWhite = labFromLinear(layerOver([1, 1, 1], optics));
  // A highlight white lies on a base wherever there is one, however well it hides the garment by itself.
  if (isWhite(rgb)) return ciede2000(onGarment, onWhite) < 1 ? 0 : 1;
  if (ciede2000(onGarment, onWhite) < 4) return 0;
  const chroma = Math.hypot(a, b);
  const hue = ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360;
  if (chroma > 55 && hue > 10 && hue < 45) return 0.75;
  if (lightness > 86 && chroma < 16) return 0.5;
  return 1;
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

function titled(name: string): string {
  return name.charAt(0).toUpperCase() + name.slice(1);
}

interface Draft {
  readonly request: InkRequest | null;
  readonly rgb: Rgb8;
}

/** One plate for each flat colour (or for each ink asked for), with an underbase under those that need one. */
export function proposePlates(input: ProposalInput): PlateProposal {
  const garment = labFromRgb8(parseHexColour(input.garmentColour));
  const found = input.colours.map((each, index) => {
    const target = input.standsFor?.[index] ?? index;
    return { rgb: each.rgb, standsFor: input.colours[target]!.rgb };
  });
  const leftOut = (rgb: Rgb8) => formatHexColour(rgb) === input.leftOut;
  const drafts: Draft[] = [];
  const draftOf: (number | null)[] = [];
  if (input.inks) {
    const requested = input.inks.map((request) => ({
      request,
      rgb: parseHexColour(request.colour, request.name),
    }));
    drafts.push(...requested);
    for (const draft of requested) {
      const lab = labFromRgb8(draft.rgb);
      const present = found.some((each) => ciede2000(labFromRgb8(each.rgb), lab) < 7);
      if (!present) found.push({ rgb: draft.rgb, standsFor: draft.rgb });
    }
    for (const each of found)
      draftOf.push(leftOut(each.rgb) ? null : nearestDraft(each.rgb, drafts, garment));
  } else {
    const index = new Map<string, number>();
    const order = [...new Set(found.map((each) => formatHexColour(each.standsFor)))]
      .map((hex) => parseHexColour(hex))
      .filter((rgb) => !leftOut(rgb) && ciede2000(labFromRgb8(rgb), garment) >= GARMENT_DISTANCE)
      .sort((p, q) => labFromRgb8(q)[0] - labFromRgb8(p)[0]);
    for (const rgb of [...order.filter((each) => !isWhite(each)), ...order.filter(isWhite)]) {
      index.set(formatHexColour(rgb), drafts.length);
      drafts.push({ request: null, rgb });
    }
    for (const each of found) draftOf.push(index.get(formatHexColour(each.standsFor)) ?? null);
  }
  const plates = drafts.slice(0, 15).map(() => null as unknown as Plate);
  const names = new Set<string>([BASE_WHITE.name]);
  const ids = new Set<string>(['base-white']);
  drafts.slice(0, 15).forEach((draft, k) => {
    plates[k] = draftPlate(draft, k + 1, input.garmentColour, names, ids);
  });
  const palette = found.map((each, k) => ({
    colour: formatHexColour(each.rgb),
    plateId: draftOf[k] === null ? null : (plates[draftOf[k]!]?.id ?? null),
    tint: 1,
    closeness: null,
    within: null,
  }));
  const base = underbasePlate(plates);
  const all = base ? [base, ...plates] : plates;
  return { palette, plates: all.map((plate, index) => ({ ...plate, number: index + 1 })) };
}

function nearestDraft(
  rgb: Rgb8,
  drafts: readonly Draft[],
  garment: readonly [number, number, number],
): number | null {
  const lab = labFromRgb8(rgb);
  let best = ciede2000(lab, garment);
  let index: number | null = null;
  drafts.forEach((draft, k) => {
    const distance = ciede2000(lab, labFromRgb8(draft.rgb));
    if (distance <= best) {
      best = distance;
      index = k;
    }
  });
  return index;
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
  const ink: Ink = { name, colour: formatHexColour(draft.rgb), opacity: suggestOpacity(draft.rgb) };
  return {
    number,
    id,
    role: white ? 'highlight' : 'colour',
    ink,
    baseStrength: suggestBaseStrength(ink, garmentColour),
    withMarks: true,
    mesh: white ? MESH.highlight : MESH.solidColour,
    screen: DEFAULT_SCREEN,
  };
}

/** The underbase that a set of plates asks for, or null when none wants one. */
export function underbasePlate(plates: readonly Plate[]): Plate | null {
  const strengths = plates.map((plate) => plate.baseStrength).filter((strength) => strength > 0);
  if (strengths.length === 0) return null;
  const screened = strengths.some((strength) => strength < 1);
  return {
    number: 1,
    id: 'base-white',
    role: 'underbase',
    ink: { ...BASE_WHITE },
    baseStrength: 0,
    withMarks: true,
    mesh: screened ? MESH.halftoneWhite : MESH.solidWhite,
    screen: DEFAULT_SCREEN,
  };
}
