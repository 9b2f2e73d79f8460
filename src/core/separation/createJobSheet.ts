import { type FoundColour, reducePalette } from '../artwork';
import {
  DEFAULT_FILM,
  DEFAULT_FIT,
  type JobSheet,
  LIMITS,
  SHEET_VERSION,
  parseJobSheet,
  proposeRun,
} from '../sheet';
import { KerameusError } from '../units';
import { type InkRequest, proposePlates } from './proposePlates';

export interface NewJob {
  readonly name: string;
  readonly artwork: JobSheet['artwork'];
  readonly colours: readonly FoundColour[];
  readonly purity: number;
  readonly background: string | null;
  /** Share of the artwork where the background's colour stands inside the drawing, 0..1. */
  readonly backgroundInside: number;
  readonly dropBackground: boolean;
  readonly printWidthMm: number;
  readonly garment: JobSheet['garment'];
  /** Every colour found, a number of inks at most, or named inks in print order. */
  readonly inks: 'auto' | number | readonly InkRequest[];
  readonly date: string;
}

/** The most plates a spot separation is proposed with. */
const MOST_COLOURS = 15;

/** Below this share a dropped background stands nowhere else: what is left are soft edges. */
const LEAST_INSIDE = 3e-4;

/** A complete job sheet for new artwork, with sensible settings throughout. */
export function createJobSheet(job: NewJob): JobSheet {
  const limit = typeof job.inks === 'number' ? job.inks : MOST_COLOURS;
  const colours = job.colours.slice(0, LIMITS.maxPaletteColours);
  const dropped = job.dropBackground ? job.background : null;
  const standsFor = typeof job.inks === 'object' ? null : reducePalette(colours, Math.max(1, limit));
  const proposal = proposePlates({
    colours,
    garmentColour: job.garment.colour,
    inks: typeof job.inks === 'object' ? job.inks : null,
    standsFor,
    leftOut: job.backgroundInside < LEAST_INSIDE ? dropped : null,
  });
  const heightMm = (job.printWidthMm * job.artwork.heightPx) / job.artwork.widthPx;
  if (heightMm > 60 * 25.4) {
    throw new KerameusError({
      code: 'length-range',
      parameter: 'print width',
      message: `At this width the print is ${(heightMm / 25.4).toFixed(1)} in high.`,
      remedy: 'Give a width at which the height stays within 60 in.',
    });
  }
  return parseJobSheet({
    format: 'kerameus-job',
    version: SHEET_VERSION,
    name: job.name,
    artwork: job.artwork,
    print: { widthMm: job.printWidthMm, heightMm },
    garment: job.garment,
    otherGarments: [],
    background: job.background ? { colour: job.background, dropped: dropped !== null } : null,
    palette: proposal.palette,
    purity: job.purity,
    plates: proposal.plates,
    run: proposeRun(proposal.plates),
    fit: DEFAULT_FIT,
    film: { ...DEFAULT_FILM, date: job.date },
  });
}
