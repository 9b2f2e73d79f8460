import type { InkIdea, InkOffer, PresentInks, ScreenShifts, View } from '@/core/pipeline';
import type { Closeness } from '@/core/solving';
import type { Ink, JobGarment, JobSheet } from '@/core/sheet';

/** What the table shows. */
export type Subject = 'print' | 'artwork' | 'film' | 'dots' | 'difference' | 'reasons';

/** Brightness of what surrounds the garment; all are neutral. */
export type Surround = 'light' | 'middle' | 'dark';

export interface DrawRequest {
  /** Requests with a higher number make older ones void. */
  readonly ticket: number;
  readonly sheet: JobSheet;
  /** The garment that the print is shown on. */
  readonly garment: JobGarment;
  readonly hasOuterMap: boolean;
  readonly view: View;
  readonly subject: Subject;
  readonly surround: Surround;
  /** The plate shown as film. */
  readonly plateId: string | null;
  readonly lifted: readonly string[];
  /** Screens that lie off, for trying what shows then. */
  readonly shifts: ScreenShifts;
  /** How many passes of the run have printed; null: all of them. */
  readonly passes: number | null;
  /** From how far dots are looked at, in metres; 0: as they lie there. */
  readonly awayM: number;
  /** Memory that the pixels may be written to when it has their size. */
  readonly room?: ArrayBuffer;
}

/** Name of the worker that looks at whole prints. */
export const SURVEYOR = 'surveyor';

/** sRGB pixels of four bytes, opaque. */
export interface DrawnBand {
  readonly width: number;
  readonly height: number;
  readonly pixels: Uint8ClampedArray<ArrayBuffer>;
}

/** A view in bands from top to bottom, as the workers made them. */
export interface Drawing {
  readonly width: number;
  readonly height: number;
  readonly bands: readonly (DrawnBand & { readonly y: number })[];
}

/** A job whose artwork is looked at as a whole. */
export interface ArtworkRequest {
  readonly sheet: JobSheet;
  readonly hasOuterMap: boolean;
}

/** Asks which inks would print a job of tones, and what its own are worth. */
export interface InkAdviceRequest extends ArtworkRequest {
  /** Inks on the shop's shelf. */
  readonly stock: readonly Ink[];
  /** Screens of the largest set; left out: as many as are worth showing. */
  readonly most?: number;
  readonly wanted: readonly InkPart['kind'][];
  /** Whether the page can go on only with the answer: surveys wait until it is there. */
  readonly isAwaited?: boolean;
}

/** A part of the answer; offers come one after another, from few screens to many. */
export type InkPart =
  | { readonly kind: 'present'; readonly present: PresentInks | null }
  | { readonly kind: 'offer'; readonly offer: InkOffer }
  /** An ink of its own colour that would serve better; null where none is worth it. */
  | { readonly kind: 'idea'; readonly idea: InkIdea | null }
  /** What all inks of stock together would reach. */
  | { readonly kind: 'all'; readonly all: Closeness };

/** A place of the print. */
export interface PlaceRequest extends ArtworkRequest {
  readonly xMm: number;
  readonly yMm: number;
}

export interface AreaRequest extends PlaceRequest {
  /** CIELAB distance up to which colours are alike. */
  readonly closeness: number;
}

export interface ReadRequest extends PlaceRequest {
  /** The garment that the print is read on. */
  readonly garment: JobGarment;
}
