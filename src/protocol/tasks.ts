import { z } from 'zod';
import type { ChangedPlace } from '@/core/artwork';
import type { CarriedOver } from '@/core/separation';
import { type JobSheet, LIMITS, type Texture } from '@/core/sheet';
import type { ErrorReport } from '@/core/units';

export type TaskKind = 'import' | 'films' | 'picture' | 'approval' | 'print' | 'revise' | 'texture';
export type TaskState = 'queued' | 'running' | 'done' | 'failed' | 'cancelled';

export interface ImportPayload {
  readonly kind: 'import';
  readonly fileId: string;
  readonly fileName: string;
  /** Size of the file; absent in tasks of older installations. */
  readonly bytes?: number;
  /** Page of a PDF, from 1 on; absent: the first. */
  readonly page?: number;
}

export interface FilmsPayload {
  readonly kind: 'films';
  readonly jobId: string;
  readonly version: number;
  /** One plate whose film is made again: the films of the others stay as they are. */
  readonly only?: string;
}

export interface PicturePayload {
  readonly kind: 'picture';
  readonly jobId: string;
}

/** The print on a drawn garment, for the customer. */
export interface ApprovalPayload {
  readonly kind: 'approval';
  readonly jobId: string;
  readonly version: number;
}

/** Films that are done, sent to a film printer. */
export interface PrintPayload {
  readonly kind: 'print';
  readonly jobId: string;
  /** The task that made the films. */
  readonly filmsTaskId: string;
  readonly printer: string;
  readonly uri: string;
}

/** How a picture is cleaned into smooth areas. */
export const cleaningSchema = z.strictObject({
  /** Colours at most. */
  colours: z.number().int().min(1).max(LIMITS.maxPaletteColours),
  /** Pieces smaller than a square of this side on the print are dropped. */
  leastMm: z.number().min(0).max(5),
  /** Whether a frame round the design is taken away. */
  withoutFrame: z.boolean(),
});
export type CleaningWish = z.infer<typeof cleaningSchema>;

/** A job that is to get another artwork: a file that came in, or its own one, cleaned. Nothing changes before the result is taken. */
export interface RevisePayload {
  readonly kind: 'revise';
  readonly jobId: string;
  readonly version: number;
  /** The file that came in, or how the job's own artwork is cleaned. */
  readonly from:
    | { readonly kind: 'file'; readonly fileId: string; readonly fileName: string }
    | { readonly kind: 'cleaning'; readonly wish: CleaningWish };
  readonly bytes?: number;
}

/** A picture or a drawing that is to be a texture. */
export interface TexturePayload {
  readonly kind: 'texture';
  readonly fileId: string;
  readonly fileName: string;
  readonly bytes?: number;
}

/** A picture that came in as a texture: what a job's sheet says of it, and which share of it is rather dark, 0..1. */
export interface AddedTexture {
  readonly picture: NonNullable<Texture['picture']>;
  readonly dark: number;
}

export type TaskPayload =
  | TexturePayload
  | ImportPayload
  | FilmsPayload
  | PicturePayload
  | ApprovalPayload
  | PrintPayload
  | RevisePayload;

/** What cleaning did beside smoothing. */
export interface CleaningNotes {
  /** Colours that are left, of those that were found, and pieces that were dropped, with their area in mm² of the print. */
  readonly colours: number;
  readonly found: number;
  readonly specks: number;
  readonly specksMm2: number;
  /** What became of a frame round the design; `none`: there is none. */
  readonly frame: 'none' | 'kept' | 'taken';
}

/** A job as it would be with another artwork. */
export interface RevisionResult {
  readonly sheet: JobSheet;
  readonly carried: CarriedOver;
  /** Share of the artwork that looks otherwise, 0..1, and where. */
  readonly share: number;
  readonly places: readonly ChangedPlace[];
  /** Of all of them; the largest are told. */
  readonly placeCount: number;
  readonly cleaning: CleaningNotes | null;
}

/** Files of a revision: both artworks, what differs, and the cleaned drawing where there is one. */
export const REVISION_FILES = {
  before: 'before.png',
  after: 'after.png',
  changed: 'changed.png',
  drawing: 'cleaned.svg',
} as const;

/** One bar. */
export interface ProgressItem {
  readonly name: string;
  /** 0..1 */
  readonly done: number;
}

export interface TaskProgress {
  /** What is being done, in words. */
  readonly step: string;
  readonly items: readonly ProgressItem[];
}

export interface TaskResult {
  /** The job that an import made. */
  readonly jobId?: string;
  /** Seconds that the work took. */
  readonly seconds?: number;
  readonly revision?: RevisionResult;
  readonly texture?: AddedTexture;
}

/** The archive of all files of a film set; put together when it is fetched. */
export const FILM_ARCHIVE = 'films.zip';

export interface TaskFile {
  readonly name: string;
  readonly type: string;
  readonly size: number;
  /** Of the job, that it was made from; null where that is not known. */
  readonly version: number | null;
  /** Of a film that came out byte for byte as in the set before: the version since which it has; null where it is another. */
  readonly unchangedSince: number | null;
}

/** A task as the page sees it. */
export interface TaskView {
  readonly id: string;
  readonly kind: TaskKind;
  readonly state: TaskState;
  readonly version: number | null;
  readonly progress: TaskProgress | null;
  readonly result: TaskResult | null;
  readonly error: ErrorReport | null;
  readonly files: readonly TaskFile[];
  readonly createdAt: string;
}

export function isFinished(state: TaskState): boolean {
  return state === 'done' || state === 'failed' || state === 'cancelled';
}

/** The largest file that is taken in. */
export const MAX_UPLOAD_BYTES = 500_000_000;
