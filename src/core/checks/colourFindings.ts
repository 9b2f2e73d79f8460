import { type FoundColour, isLossy } from '../artwork';
import {
  ciede2000,
  formatHexColour,
  labFromRgb8,
  nameColour,
  parseHexColour,
  rgb8FromLinear,
} from '../colour';
import {
  FULL_TONE,
  NARROW_GAP_MM,
  droppedGround,
  isFullTone,
  isGarmentColour,
  offerTint,
  predictFlat,
} from '../separation';
import {
  type JobSheet,
  artworkOf,
  backgroundOf,
  droppedBackground,
  garmentOf,
  isSimulated,
  printsTones,
  layerOf,
  paletteOf,
  transitionsOf,
} from '../sheet';
import { trimNumber } from '../units';
import type { Finding, PrintPlace } from './findings';
import type { PagePlates } from './suppliedFindings';

/** What a survey found of one palette colour. */
export interface ColourSurvey {
  /** Share of the print where it stands flat, 0..1. */
  readonly share: number;
  /** A place where it stands; null where it stands nowhere. */
  readonly place: PrintPlace | null;
}

/** Areas of about one colour that print farther than 5 from themselves. */
export interface OffArea {
  readonly colour: string;
  /** Of the print, 0..1. */
  readonly share: number;
  /** Mean CIEDE2000. */
  readonly difference: number;
  readonly place: PrintPlace;
}

/** How the predicted print differs from the artwork on the garment, CIEDE2000. */
/**
 * Why a print of tones is off its artwork. `inks`: beyond the colours of these inks. `dark`: darker than the garment. `light`: lighter than the whites, or the garment, print.
 * `changed`: the inks could print it nearer; curves, patches, fit, a wish for the base or other garments stand in the way. `dots`: off where meshes lose the dots that are
 * too small for them.
 */
export const OFF_REASONS = ['inks', 'light', 'dark', 'changed', 'dots'] as const;
export type OffReason = (typeof OFF_REASONS)[number];

/** How much is off by each reason. */
export type ReasonShares = Record<OffReason, number>;

export interface PrintDifference {
  readonly mean: number;
  readonly p95: number;
  /** From the artwork as it came, where the job changes its colours before they are separated and the others are from the changed ones; null where it does not. */
  readonly asItCame: { readonly mean: number; readonly p95: number } | null;
  /** The part of it that no amounts of these inks on this garment could avoid; null where plates do not come from tones. */
  readonly printable: { readonly mean: number; readonly p95: number } | null;
  /** The same on the other garments that tones are found for together with the first. */
  readonly others: readonly {
    readonly garmentId: string;
    readonly mean: number;
    readonly p95: number;
    readonly printable: { readonly mean: number; readonly p95: number } | null;
  }[];
  /** What of the artwork was left to the garment with its background. */
  readonly dropped: {
    /** Of the print, 0..1. */
    readonly share: number;
    /** CIEDE2000 between the background and the garment. */
    readonly difference: number;
    /** Whether mean and p95 count it. */
    readonly counted: boolean;
  } | null;
  /** Share of the print, 0..1, that is off by each reason; null where plates do not come from tones. */
  readonly reasons: Readonly<ReasonShares> | null;
  /** The largest first. */
  readonly off: readonly OffArea[];
}

/** What was found of narrow gaps between a drawing's shapes. */
export interface GapSurvey {
  readonly areaMm2: number;
  /** A place in one of them; null where there are none. */
  readonly place: PrintPlace | null;
}

/** What was found when the artwork came in, as far as checks want it. */
export interface ArtworkNotes {
  /** Colours that stand in flat areas, also of artwork that is full of tones otherwise; the largest first. */
  readonly keepable: readonly FoundColour[];
  readonly missingFonts: readonly string[];
  /** Pictures that the file holds, of which the first is printed. */
  readonly pictures: number;
  /** Of a page of a PDF what its reader could not make sense of, and effects that became pictures of so many pixels an inch; null for other files. */
  readonly page: { readonly faults: number; readonly pictures: number; readonly pictureDpi: number } | null;
  /** Plates that a page of a PDF names; null for other files, and for pages that name none. */
  readonly plates: PagePlates | null;
  /** Share of the places without an edge that have one of the flat colours, 0..1; null where it was not looked for. */
  readonly flatShare: number | null;
  /** A colour that the artwork stands on, on all four sides; null where there is none. */
  readonly ground: string | null;
  /** Share of the artwork that no edge parts from the ground, 0..1: there the design fades out into it. */
  readonly fadesIntoGround: number;
  /** Flat colours beyond the rows that a job has, and their share of the opaque artwork. */
  readonly moreColours: { readonly count: number; readonly share: number };
}

export const NO_NOTES: ArtworkNotes = {
  keepable: [],
  missingFonts: [],
  pictures: 1,
  page: null,
  plates: null,
  flatShare: null,
  ground: null,
  fadesIntoGround: 0,
  moreColours: { count: 0, share: 0 },
};

/** From this share of the artwork on a fade into its ground is told. */
const SEEN_FADE = 0.005;

/** From this difference on what the garment supplies can be seen. */
const SEEN = 2;
/** Below this share of the print a colour is too little to be told of. */
const LEAST_SHARE = 2e-4;

function percent(share: number): string {
  return `${trimNumber(share * 100, share < 0.01 ? 2 : 1)} %`;
}

/** How a palette colour prints, for the report and the page. */
export interface ColourPrint {
  readonly colour: string;
  readonly share: number | null;
  readonly plateId: string | null;
  readonly tint: number;
  readonly printed: string;
  readonly difference: number;
}

/** @param surveys of the palette's colours, where the print was surveyed. */
export function colourPrints(sheet: JobSheet, surveys: readonly ColourSurvey[] | null): ColourPrint[] {
  return paletteOf(sheet).map((entry, index) => {
    const { print, difference } = predictFlat(sheet, entry);
    return {
      colour: entry.colour,
      share: surveys?.[index]?.share ?? null,
      plateId: entry.plateId,
      tint: entry.tint,
      printed: formatHexColour(rgb8FromLinear(print)),
      difference,
    };
  });
}

/** Colours that do not print as themselves, and what the garment supplies. */
export function checkColours(sheet: JobSheet, surveys: readonly ColourSurvey[]): Finding[] {
  const garment = garmentOf(sheet).name;
  const ends = droppedBackground(sheet)?.colour ?? null;
  return colourPrints(sheet, surveys).flatMap(({ colour, share, plateId, difference }, index): Finding[] => {
    const { place } = surveys[index]!;
    if (share! < LEAST_SHARE || !place) return [];
    const what = `${nameColour(parseHexColour(colour))} ${colour} (${percent(share!)} of the print)`;
    const common = {
      step: 'plates' as const,
      place,
      share: share!,
      measured: Math.round(difference * 10) / 10,
    };
    if (plateId === null) {
      // What was dropped outside of the design and stands inside it is the garment's by the same word.
      if (difference < SEEN || colour === ends) return [];
      return [
        {
          ...common,
          colour,
          code: 'garment-supplies',
          severity: difference >= sheet.limits.visiblyOff ? 'severe' : 'notice',
          message: `${garment} supplies ${what}, ${difference.toFixed(0)} from it.`,
          remedy: 'Give it an ink of its own where the difference matters.',
          limit: SEEN,
        },
      ];
    }
    if (difference < sheet.limits.visiblyOff) return [];
    const plate = sheet.plates.find((each) => each.id === plateId)!;
    const offer = offerTint(sheet, paletteOf(sheet)[index]!);
    return [
      {
        ...common,
        colour,
        code: 'colour-off',
        severity: 'severe',
        message: `${what} prints on ${plate.ink.name}, ${difference.toFixed(0)} from itself.`,
        remedy: offer
          ? `Print it as ${Math.round(offer.tint * 100)} % of ${offer.plate.ink.name} (${offer.difference.toFixed(0)} off), or give it an ink of its own.`
          : 'Give it an ink of its own, or one that is nearer.',
        limit: sheet.limits.visiblyOff,
        plateId,
      },
    ];
  });
}

/** What the artwork itself asks for: a background that nobody has decided on, full tone, colours beyond the rows, a size that was chosen. */
export function checkNotes(sheet: JobSheet, notes: ArtworkNotes): Finding[] {
  const findings: Finding[] = [];
  const background = backgroundOf(sheet);
  const dropped = droppedGround(sheet);
  const garment = garmentOf(sheet);
  const say = (finding: Omit<Finding, 'step'>) => findings.push({ step: 'artwork', ...finding });
  if (background?.open) {
    say({
      code: 'background-open',
      severity: 'notice',
      message: `The artwork stands on ${nameColour(parseHexColour(background.colour))} ${background.colour}, which is kept and printed.`,
      remedy:
        'Say what is to become of it: print it, leave it to the garment outside of the design, or everywhere.',
    });
  }
  if (dropped?.counted) {
    say({
      code: 'background-dropped',
      severity: 'notice',
      message: `The background ${background!.colour} is left to ${garment.name}, ${dropped.difference.toFixed(0)} from it.`,
      remedy: 'Print it where it belongs to the design.',
      measured: Math.round(dropped.difference * 10) / 10,
    });
  }
  const { flatShare } = notes;
  if (flatShare !== null && !printsTones(sheet) && isFullTone(flatShare, transitionsOf(sheet))) {
    say({
      code: 'full-tone',
      severity: 'severe',
      message: `Flat colours explain ${percent(flatShare)} of the artwork's areas only: it is full tone, and spot plates posterise it.`,
      remedy: 'Separate it by tones: then all inks print its colours together.',
      measured: flatShare,
      limit: FULL_TONE,
    });
  }
  const isUnsettled = isSimulated(sheet) && !background && notes.ground !== null;
  if (isUnsettled && !isGarmentColour(notes.ground, garment.colour)) {
    say({
      code: 'ground-prints',
      severity: 'severe',
      message: `The artwork stands on ${nameColour(parseHexColour(notes.ground))} ${notes.ground}, which prints.`,
      remedy:
        'Choose flat colours under Separation and then tones again: the ground can be left to the garment then.',
    });
  }
  if (printsTones(sheet) && droppedBackground(sheet) && notes.fadesIntoGround >= SEEN_FADE) {
    say({
      code: 'ground-fades',
      severity: 'notice',
      message: `No edge parts about ${percent(notes.fadesIntoGround)} of the artwork from its background ${background!.colour}: where it fades out, by tones it ends as soon as it is nearly that colour.`,
      remedy: 'Look at it on the table; ask for the artwork with transparency, or print the background.',
      measured: notes.fadesIntoGround,
      limit: SEEN_FADE,
    });
  }
  if (notes.moreColours.count > 0 && !printsTones(sheet)) {
    say({
      code: 'more-colours',
      severity: 'severe',
      message: `The artwork has ${notes.moreColours.count} flat colours more than the ${paletteOf(sheet).length} that have rows: ${percent(notes.moreColours.share)} of it.`,
      remedy:
        'They print as the nearest colour. Pick one on the table to give it a row, or reduce the artwork.',
      measured: notes.moreColours.count,
    });
  }
  if (
    artworkOf(sheet).kind === 'raster' &&
    !printsTones(sheet) &&
    transitionsOf(sheet) !== null &&
    isLossy(layerOf(sheet).purity)
  ) {
    say({
      code: 'artwork-damaged',
      severity: 'notice',
      message: `Compression or noise has changed the flat areas: shades nearer than about ${trimNumber(layerOf(sheet).purity, 0)} to each other were taken as one, and so were narrow pieces nearly of a much larger colour.`,
      remedy: 'Ask for the file as it was before it was compressed; look at small areas in the colours.',
      measured: layerOf(sheet).purity,
    });
  }
  if (sheet.print.chosen) {
    say({
      code: 'size-chosen',
      severity: 'notice',
      message: `The file states no size that could be a print's; ${trimNumber(sheet.print.widthMm / 25.4, 2)} in wide was chosen.`,
      remedy: 'Set the width that is to be printed.',
    });
  }
  return findings;
}

/** Pieces of a plate that are smaller than the press holds, and where one of them is. */
export interface PieceSurvey {
  readonly count: number;
  readonly place: PrintPlace | null;
}

/** A few small pieces are details of the artwork; more deserve a look. */
export function checkPieces(
  { plates, limits }: Pick<JobSheet, 'plates' | 'limits'>,
  pieces: readonly PieceSurvey[],
): Finding[] {
  return pieces.flatMap(({ count, place }, k): Finding[] => {
    const plate = plates[k]!;
    if (count < limits.pieces || !place) return [];
    return [
      {
        code: 'small-pieces',
        severity: 'notice',
        step: 'plates',
        message: `${plate.ink.name} has ${count} pieces smaller than 0.1 mm², which a screen does not hold.`,
        remedy:
          'Look whether they belong to the design; print larger, or take the specks out of the artwork.',
        measured: count,
        limit: limits.pieces,
        plateId: plate.id,
        place,
        close: true,
      },
    ];
  });
}

/** From this area on gaps are told: a slit of two millimetres; tips of narrow notches are less. */
const LEAST_GAPS_MM2 = 0.3;

/** Slits between shapes of a drawing that were meant to meet. */
export function checkGaps(sheet: JobSheet, { areaMm2, place }: GapSurvey): Finding[] {
  if (areaMm2 < LEAST_GAPS_MM2 || !place) return [];
  const limit = trimNumber(NARROW_GAP_MM, 2);
  return [
    {
      code: 'narrow-gaps',
      severity: 'notice',
      step: 'fit',
      message: `Between shapes of the drawing ${garmentOf(sheet).name} shows in gaps narrower than ${limit} mm, on about ${trimNumber(areaMm2, areaMm2 < 10 ? 1 : 0)} mm² in all.`,
      remedy: `Close gaps of ${limit} mm in this step, if the shapes were meant to meet.`,
      measured: Math.round(areaMm2 * 10) / 10,
      limit: LEAST_GAPS_MM2,
      place,
    },
  ];
}

/** From this share of the print on an area that prints off is told. */
const LEAST_OFF = 5e-4;
/** Colours that are named, the largest first; of the others the number is told, and the share of the print counts them. */
const MOST_OFF = 6;
/** A colour this near (CIEDE2000) to one that is told has been told, as far as that one's share goes. */
const TOLD = 4;
/** From this many times the share that is told on, the rest is told too: a row's share leaves out the gradient that ends in it. */
const MUCH_MORE = 1.5;
/** What prints this far off is severe also in a transition, where the nearest that inks can print is often some way off. */
const SEVERELY_OFF = 10;

/**
 * Areas that print off though no row tells it: in transitions, or where compression hid a colour.
 *
 * @param told what `checkColours` found.
 */
export function checkAreas(
  sheet: Pick<JobSheet, 'layers' | 'limits'>,
  off: readonly OffArea[],
  told: readonly Finding[],
): Finding[] {
  const labOf = (colour: string) => labFromRgb8(parseHexColour(colour));
  const known = told.flatMap(({ colour, share }) =>
    colour === undefined ? [] : [{ lab: labOf(colour), share: share ?? 0 }],
  );
  const left = off.filter(({ colour, share }) => {
    const near = known.filter(({ lab }) => ciede2000(lab, labOf(colour)) < TOLD);
    const already = near.reduce((sum, each) => sum + each.share, 0);
    return share >= LEAST_OFF && (near.length === 0 || share > MUCH_MORE * already);
  });
  if (left.length === 0) return [];
  const share = left.reduce((sum, each) => sum + each.share, 0);
  const named = left.slice(0, MOST_OFF).map(({ colour, share: part, difference }) => {
    const name = nameColour(parseHexColour(colour));
    return `${name} ${colour} (${percent(part)}, ${difference.toFixed(0)} off)`;
  });
  const more = left.length > MOST_OFF ? ` and ${left.length - MOST_OFF} more` : '';
  const most = Math.max(...left.map(({ difference }) => difference));
  const around = `${percent(share)} of the print is farther than ${sheet.limits.visiblyOff} from the artwork: around ${named.join(', ')}${more}.`;
  const words = printsTones(sheet)
    ? {
        message: around,
        remedy:
          'Look there in Difference: colours that these inks do not reach want an ink nearer to them; what curves, dots or fit changed is mended there.',
      }
    : {
        message: `In transitions, or where no row stands for the colour, ${around}`,
        remedy:
          'Look there in Difference; a row of its own for the colour, or another ink beside it, brings it nearer.',
      };
  return [
    {
      code: 'areas-off',
      severity: most >= SEVERELY_OFF ? 'severe' : 'notice',
      step: 'plates',
      ...words,
      measured: Math.round(most * 10) / 10,
      limit: sheet.limits.visiblyOff,
      place: left[0]!.place,
    },
  ];
}
