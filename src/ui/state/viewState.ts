'use client';

import { z } from 'zod';
import { useStoredObject } from './useStored';

export const STEPS = ['artwork', 'plates', 'fit', 'dots', 'film'] as const;
export const SUBJECTS = ['artwork', 'print', 'film', 'dots', 'difference', 'reasons'] as const;
export const SURROUNDINGS = ['light', 'middle', 'dark'] as const;

const place = z.object({ centreXMm: z.number(), centreYMm: z.number(), scale: z.number().positive() });

/** How far screens are moved on the table: more than any press wanders. */
export const MOST_SHIFT_MM = 2;
export const MOST_TURN_DEG = 1;

const shift = z.object({
  xMm: z.number().min(-MOST_SHIFT_MM).max(MOST_SHIFT_MM),
  yMm: z.number().min(-MOST_SHIFT_MM).max(MOST_SHIFT_MM),
  deg: z.number().min(-MOST_TURN_DEG).max(MOST_TURN_DEG),
});

/** How a job is looked at: nothing of it changes a film. */
const viewStateSchema = z.object({
  step: z.enum(STEPS),
  subject: z.enum(SUBJECTS),
  /** What is held against the subject: by a wipe when `wipe` is set, and while the key is held. */
  against: z.enum(SUBJECTS),
  /** Where the wipe stands, 0..1; null when there is none. */
  wipe: z.number().min(0).max(1).nullable(),
  /** Null: fitted to the window. */
  place: place.nullable(),
  selected: z.string().nullable(),
  lifted: z.array(z.string()),
  /** Screens that lie off on the table, by their plate. */
  shifts: z.record(z.string(), shift).default({}),
  /** Passes of the run that have printed; null: all. */
  passes: z.number().int().min(0).nullable(),
  surround: z.enum(SURROUNDINGS),
  /** From how far dots are looked at, in metres; 0: as they lie there. */
  awayM: z.number().min(0).max(20).default(0),
  folded: z.boolean(),
  /** The other garment on which the print is shown; null: the one that the plates are made for. */
  shownGarment: z.string().nullable().catch(null),
  pins: z.array(z.object({ xMm: z.number(), yMm: z.number() })),
});

export type ViewState = z.infer<typeof viewStateSchema>;
export type TablePlace = z.infer<typeof place>;

const START: ViewState = {
  step: 'artwork',
  subject: 'print',
  against: 'artwork',
  wipe: null,
  place: null,
  selected: null,
  lifted: [],
  shifts: {},
  passes: null,
  surround: 'middle',
  awayM: 0,
  folded: false,
  shownGarment: null,
  pins: [],
};

/** The view of a job, as this browser remembers it. */
export function useViewState(jobId: string): [ViewState, (change: Partial<ViewState>) => void] {
  return useStoredObject(`kerameus.view.${jobId}`, START, viewStateSchema);
}
