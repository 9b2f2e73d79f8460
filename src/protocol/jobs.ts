import { z } from 'zod';
import type { FoundColour } from '@/core/artwork';
import type { ArtworkNotes } from '@/core/checks';
import type { FoundBackground } from '@/core/separation';
import { type FlatLayer, type Garment, type JobSheet, jobSheetSchema } from '@/core/sheet';
import { cleaningSchema } from './tasks';

/** Facts about a job's artwork that the page shows. */
export interface ArtworkView {
  readonly sha256: string;
  readonly fileName: string;
  readonly format: string;
  readonly kind: 'raster' | 'vector';
  readonly widthPx: number;
  readonly heightPx: number;
  readonly ownWidthMm: number | null;
  readonly ownHeightMm: number | null;
  readonly hasAlpha: boolean;
  readonly transparentShare: number;
  readonly colourSpace: string;
  readonly bits: number;
  readonly notes: ArtworkNotes;
  /** Blurs, shadows and other filters of a drawing that became pictures. */
  readonly filterPictures: number;
  /** Pixels that the coarsest of these has to the width of the whole drawing; null where that is not known. */
  readonly filterWidthPx: number | null;
  /** Which page of a PDF it is, from 1 on, and how many there are; null for other files. */
  readonly page: { readonly number: number; readonly count: number } | null;
  /** The file's own size in pixels where these were not square. */
  readonly oblong: { readonly widthPx: number; readonly heightPx: number } | null;
  /** What spot colours can be made of: the flat colours, the largest first, what lies between them, and what they stand on. */
  readonly flat: {
    readonly colours: readonly FoundColour[];
    readonly transitions: FlatLayer['transitions'];
    readonly background: FoundBackground | null;
  };
  /** Share of the opaque area of each found colour, by its hexadecimal code. */
  readonly areas: Readonly<Record<string, number>>;
  readonly hasOuterMap: boolean;
}

export interface JobView {
  readonly id: string;
  readonly version: number;
  readonly canUndo: boolean;
  readonly canRedo: boolean;
  readonly sheet: JobSheet;
  readonly artwork: ArtworkView;
}

/** A job on the Jobs screen. */
export interface JobCard {
  readonly id: string;
  readonly name: string;
  readonly version: number;
  readonly garment: Garment;
  readonly print: JobSheet['print'];
  readonly inks: readonly { readonly name: string; readonly colour: string }[];
  readonly hasPicture: boolean;
  /** How many things deserve a look; null while that is not known. */
  readonly findings: number | null;
  readonly filmState: 'none' | 'working' | 'ready' | 'stale';
  readonly updatedAt: string;
}

/** Versions are counted in 32 bits. */
export const versionNumber = z
  .int()
  .min(1)
  .max(2 ** 31 - 1);

/** A change of a job: the version it was made from and the whole new sheet. */
export const jobChangeSchema = z.strictObject({ base: versionNumber, sheet: jobSheetSchema });
export const jobMoveSchema = z.strictObject({
  base: versionNumber,
  /** One step back or forth, or to a version by its number. */
  move: z.union([z.enum(['undo', 'redo']), versionNumber]),
});
export type JobMove = z.infer<typeof jobMoveSchema>['move'];

/** A version of a job, as its history lists it. */
export interface VersionCard {
  readonly number: number;
  readonly parent: number | null;
  /** What it changed, in words. */
  readonly change: string;
  readonly name: string | null;
  readonly createdAt: string;
}

export const versionNameSchema = z.strictObject({ name: z.string().trim().max(60).nullable() });
export const filmsRequestSchema = z.strictObject({
  version: versionNumber,
  /** One plate whose film is made again; the whole set when left out. */
  only: z.string().max(40).optional(),
});

/** A job's artwork, cleaned. */
export const cleanRequestSchema = z.strictObject({ version: versionNumber, clean: cleaningSchema });

export const printRequestSchema = z.strictObject({
  /** The task that made the films. */
  filmsTaskId: z.uuid(),
  /** Name of a film printer of the stock. */
  printer: z.string().min(1).max(80),
});
