import { formatHexColour, labFromRgb8, parseHexColour } from '../colour';
import {
  BASE_WHITE,
  DEFAULT_SCREEN,
  HIGHLIGHT_WHITE,
  type Ink,
  MESH,
  type Plate,
  START_STOCK,
} from '../sheet';
import { isWhite, suggestBaseStrength } from './baseStrength';
import { isGarmentColour } from './droppedGround';
import { type InkRequest, slug, suggestOpacity, unique } from './proposePlates';

/** What tones are to be printed with. */
export interface SimulatedInks {
  /** In print order; a white one is the highlight white. */
  readonly inks: readonly InkRequest[];
  /** Null: no underbase. */
  readonly base: Omit<Ink, 'name'> | null;
  /** Whether a white prints on top where `inks` name none. */
  readonly highlight: boolean;
}

/** From this lightness (L*) on a garment needs no white: light tones are its own. */
const LIGHT_GARMENT = 90;

export function isLightGarment(colour: string): boolean {
  return labFromRgb8(parseHexColour(colour))[0] >= LIGHT_GARMENT;
}

/** Inks of the stock that lie round most colours, light to dark. */
const USUAL_INKS = ['Lemon sail', 'Signal scarlet', 'Lagoon', 'Bottle green', 'Deep royal', 'Tar'];

/** Inks to begin with where nobody has named any, with the whites that a garment needs. */
export function usualSimulatedInks(garmentColour: string): SimulatedInks {
  const isLight = isLightGarment(garmentColour);
  return {
    inks: USUAL_INKS.map((name) => START_STOCK.inks.find((ink) => ink.name === name)!).filter(
      // A black garment is its own black.
      ({ colour }) => !isGarmentColour(colour, garmentColour),
    ),
    base: isLight ? null : BASE_WHITE,
    highlight: !isLight,
  };
}

/**
 * Plates for tones in print order: base, inks, highlight white. Their dots have no grid: where more than three plates lie over each other, grids beat, and dots
 * beside or on each other change colour when a screen is a little off.
 *
 * @param layerId the layer whose tones they print.
 */
export function proposeSimulated(
  { inks, base, highlight }: SimulatedInks,
  garmentColour: string,
  layerId: string,
): Plate[] {
  const names = new Set<string>();
  const ids = new Set<string>();
  const draft = (
    role: keyof typeof MESHES,
    wanted: string,
    optics: Omit<Ink, 'name'>,
  ): Omit<Plate, 'number'> => {
    const name = unique(wanted, names, ' ');
    names.add(name);
    const id = unique(slug(name), ids, '-');
    ids.add(id);
    const ink = { name, colour: optics.colour, opacity: optics.opacity };
    return {
      id,
      role,
      ink,
      special: null,
      baseStrength: base && role !== 'underbase' ? suggestBaseStrength(ink, garmentColour) : 0,
      withMarks: true,
      sources: [{ kind: 'tones', layerId, patches: [] }],
      stages: [],
      mesh: MESHES[role],
      screen: { ...DEFAULT_SCREEN, screening: 'dispersed' },
    };
  };
  const plates = base ? [draft('underbase', BASE_WHITE.name, base)] : [];
  const whites: Omit<Plate, 'number'>[] = [];
  for (const { name, colour, opacity } of inks) {
    const rgb = parseHexColour(colour, name);
    const white = isWhite(rgb);
    const ink = { colour: formatHexColour(rgb), opacity: opacity ?? suggestOpacity(rgb) };
    (white ? whites : plates).push(draft(white ? 'highlight' : 'colour', name.trim().slice(0, 80), ink));
  }
  if (highlight && whites.length === 0)
    whites.push(draft('highlight', HIGHLIGHT_WHITE.name, HIGHLIGHT_WHITE));
  return [...plates, ...whites].map((plate, k) => ({ ...plate, number: k + 1 }));
}

const MESHES = {
  underbase: MESH.halftoneWhite,
  colour: MESH.halftoneColour,
  highlight: MESH.highlight,
};
