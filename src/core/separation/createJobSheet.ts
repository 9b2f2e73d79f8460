import { DEFAULT_FILM, DEFAULT_FIT, type JobSheet, SHEET_VERSION, parseJobSheet, proposeRun } from '../sheet';
import { KerameusError } from '../units';
import type { SimulatedInks } from './proposeSimulated';
import { type SpotInput, simulatedParts, spotParts } from './sheetParts';

export interface NewJob extends SpotInput {
  readonly name: string;
  readonly artwork: JobSheet['artwork'];
  readonly purity: number;
  readonly print: { readonly widthMm: number; readonly chosen: boolean };
  /** Set: the job prints its artwork by the tones of these inks, and not by flat colours. */
  readonly simulated?: SimulatedInks | null;
  readonly date: string;
}

/** A complete job sheet for new artwork, with sensible settings throughout. */
export function createJobSheet(job: NewJob): JobSheet {
  const made = job.simulated ? simulatedParts(job, job.simulated) : spotParts(job);
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
    artwork: job.artwork,
    print: { widthMm, heightMm, chosen },
    garment: job.garment,
    otherGarments: [],
    ...made,
    purity: job.purity,
    run: proposeRun(made.plates),
    fit: DEFAULT_FIT,
    film: { ...DEFAULT_FILM, date: job.date },
  });
}
