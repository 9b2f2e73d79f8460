import {
  type Artwork,
  DEFAULT_FILM,
  DEFAULT_FIT,
  DEFAULT_PRESS,
  FIRST_ARTWORK,
  FIRST_LAYER,
  type Ink,
  type JobSheet,
  SHEET_VERSION,
  garmentId,
  parseJobSheet,
  proposeRun,
} from '../sheet';
import { KerameusError } from '../units';
import type { SimulatedInks } from './proposeSimulated';
import { type NamedPlate, suppliedFit, suppliedParts } from './supplied';
import { type LayerPlace, type SpotInput, simulatedParts, spotParts } from './sheetParts';

export interface NewJob extends Omit<SpotInput, keyof LayerPlace> {
  readonly name: string;
  readonly artwork: Omit<Artwork, 'id'>;
  readonly purity: number;
  readonly print: { readonly widthMm: number; readonly chosen: boolean };
  /** Set: the job prints its artwork by the tones of these inks, and not by flat colours. */
  readonly simulated?: SimulatedInks | null;
  /** Set: it prints the plates that its artwork's file names, with inks of stock where they bear the same name. */
  readonly supplied?: { readonly plates: readonly NamedPlate[]; readonly stock: readonly Ink[] } | null;
  readonly date: string;
}

/** A complete job sheet for new artwork, with sensible settings throughout. */
export function createJobSheet(job: NewJob): JobSheet {
  const wanted = { ...job, id: FIRST_LAYER, artworkId: FIRST_ARTWORK, mask: null };
  const made = job.supplied
    ? suppliedParts(wanted, job.supplied.plates, job.garment.colour, job.supplied.stock)
    : job.simulated
      ? simulatedParts(wanted, job.simulated)
      : spotParts(wanted);
  const { widthMm, chosen } = job.print;
  const heightMm = (widthMm * job.artwork.heightPx) / job.artwork.widthPx;
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
    artworks: [{ ...job.artwork, id: FIRST_ARTWORK }],
    print: { widthMm, heightMm, chosen },
    garments: [{ ...job.garment, id: garmentId(1), without: [] }],
    ...made,
    run: proposeRun(made.plates),
    press: DEFAULT_PRESS,
    fit: job.supplied ? suppliedFit(DEFAULT_FIT) : DEFAULT_FIT,
    film: { ...DEFAULT_FILM, date: job.date },
  });
}
