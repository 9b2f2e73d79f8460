import type { OuterMap } from '@/core/artwork';
import { createWasmKernels } from '@/core/kernels';
import {
  type ArtworkColours,
  ColourSurveyor,
  type InkOffer,
  MOST_SCREENS,
  inkOffers,
  isOfferedEnough,
  preparePlateJob,
  withOffer,
} from '@/core/pipeline';
import type { Ink, JobSheet } from '@/core/sheet';
import type { ArtworkSource } from '../artwork';
import { kernelModule } from '../projectRoot';

const nothing = () => Promise.resolve();

/** The colours that a job of tones prints; `between` is waited for before each part of the work. */
export async function artworkColours(
  sheet: JobSheet,
  source: ArtworkSource,
  outerMap: OuterMap | null,
  between: () => Promise<void> = nothing,
): Promise<ArtworkColours> {
  const surveyor = new ColourSurveyor(preparePlateJob(sheet, outerMap, createWasmKernels(kernelModule())));
  for (const { need, add } of surveyor.steps()) {
    await between();
    add(source.read(need));
  }
  return surveyor.result();
}

export interface OfferOptions {
  /** Screens of the largest set; left out: as many as are worth showing. */
  readonly most?: number;
  readonly between?: () => Promise<void>;
  /** Told how much is done, 0..1. */
  readonly heard?: (done: number) => void;
}

/** The best inks of stock for a new job of tones, for each number of screens as far as these are worth looking at; the inks that it has so far are none of its own. */
export async function offersFor(
  sheet: JobSheet,
  stock: readonly Ink[],
  colours: ArtworkColours,
  { most = MOST_SCREENS, between = nothing, heard = () => undefined }: OfferOptions = {},
): Promise<InkOffer[]> {
  let offers: InkOffer[] = [];
  for (const offer of inkOffers({ sheet: { ...sheet, plates: [] }, stock, colours }, most)) {
    await between();
    if (!offer) continue;
    offers = withOffer(offers, offer);
    heard(Math.min(1, offers.length / most));
    if (isOfferedEnough(offers)) break;
  }
  return offers;
}
