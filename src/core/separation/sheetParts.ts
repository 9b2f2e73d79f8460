import { type FoundColour, reducePalette } from '../artwork';
import { parseHexColour } from '../colour';
import {
  type FlatLayer,
  type Garment,
  type JobSheet,
  LIMITS,
  type Layer,
  type METHODS,
  withPalette,
} from '../sheet';
import { isWhite } from './baseStrength';
import { isGarmentColour } from './droppedGround';
import { type InkRequest, proposePlates } from './proposePlates';
import { type SimulatedInks, proposeSimulated } from './proposeSimulated';

/** A colour along the artwork's border. */
export interface FoundBackground {
  readonly colour: string;
  /** Whether it reaches all four sides. */
  readonly onAllSides: boolean;
  /** Share of the artwork where it stands inside the design, 0..1. */
  readonly inside: number;
  /** Share of the artwork that no edge parts from it, 0..1; older analyses do not know. */
  readonly fades?: number;
}

/** What is to become of a background; `auto` drops paper and what the garment shows anyway, and asks about anything else. */
export type BackgroundWish = 'auto' | NonNullable<Layer['background']>['drop'];

/** The parts of a sheet that follow from how the artwork is separated. */
export type SheetParts = Pick<JobSheet, 'layers' | 'plates'>;

/** The layer that is separated: which it is, and what holds for it whatever becomes of it. */
export type LayerPlace = Pick<Layer, 'id' | 'artworkId' | 'mask' | 'purity'>;

/** What is known of flat artwork, and what is wanted of it. */
export interface SpotInput extends LayerPlace {
  /** Largest first. */
  readonly colours: readonly FoundColour[];
  readonly transitions: FlatLayer['transitions'];
  readonly background: FoundBackground | null;
  readonly backgroundWish: BackgroundWish;
  readonly garment: Garment;
  /** Every colour found, a number of inks at most, or named inks in print order. */
  readonly inks: 'auto' | number | readonly InkRequest[];
}

/** Each flat colour on the plate of an ink. */
export function spotParts(job: SpotInput): SheetParts {
  const limit = typeof job.inks === 'number' ? job.inks : MOST_COLOURS;
  const colours = job.colours.slice(0, LIMITS.maxPaletteColours);
  const background = settleBackground(job, 'spot');
  const inside = background?.drop === 'everywhere' ? 0 : (job.background?.inside ?? 0);
  const isDropped = background !== null && background.drop !== 'keep';
  const standsFor =
    typeof job.inks === 'object' ? null : reducePalette(colours, Math.max(1, limit), LOOK_ALIKE);
  const proposal = proposePlates({
    colours,
    garmentColour: job.garment.colour,
    inks: typeof job.inks === 'object' ? job.inks : null,
    standsFor,
    leftOut: isDropped && inside < LEAST_INSIDE ? background.colour : null,
  });
  const layer: Layer = {
    ...placeOf(job),
    background,
    kind: 'flat',
    colours: [],
    transitions: job.transitions,
  };
  return withPalette({ layers: [layer], plates: proposal.plates }, proposal.palette);
}

/** The tones of inks: no colours of the artwork are told apart but its background. */
export function simulatedParts(
  job: LayerPlace & Pick<SpotInput, 'garment' | 'background' | 'backgroundWish'>,
  inks: SimulatedInks,
): SheetParts {
  const { colour } = job.garment;
  const background = settleBackground(job, 'simulated');
  const layer: Layer = {
    ...placeOf(job),
    background,
    kind: 'full-tone',
    solvedFor: colour,
    together: false,
    adjust: null,
    baseWish: 0,
    process: null,
    leaveOutLone: true,
    kept: [],
    pinned: [],
    banned: [],
  };
  return { layers: [layer], plates: proposeSimulated(inks, colour, job.id) };
}

function placeOf({ id, artworkId, mask, purity }: LayerPlace): LayerPlace {
  return { id, artworkId, mask, purity };
}

/** The most plates a spot separation is proposed with. */
const MOST_COLOURS = 15;

/** Two colours nearer than this (CIEDE2000) look alike on a shirt; the smaller prints as the larger one. */
const LOOK_ALIKE = 2.3;

/** Below this share a dropped background stands nowhere else: what is left are soft edges. */
const LEAST_INSIDE = 3e-4;

/** What becomes of a background that was found. */
export function settleBackground(
  job: Pick<SpotInput, 'garment' | 'background' | 'backgroundWish'>,
  method: (typeof METHODS)[number],
): Layer['background'] {
  const { background, backgroundWish } = job;
  if (!background) return null;
  const { colour, onAllSides } = background;
  if (backgroundWish !== 'auto') return { colour, drop: backgroundWish, open: false };
  const isPaper = isWhite(parseHexColour(colour));
  const isGarment = isGarmentColour(colour, job.garment.colour);
  // Tones print nothing in the garment's colour anyway, and fade into it where the design does.
  if (isGarment && method === 'simulated') return { colour, drop: 'keep', open: false };
  return onAllSides && (isPaper || isGarment)
    ? { colour, drop: 'outside', open: false }
    : { colour, drop: 'keep', open: true };
}
