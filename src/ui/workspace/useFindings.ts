'use client';

import { useMemo } from 'react';
import { type ArtworkNotes, type Finding, NO_NOTES, findingsOf } from '@/core/checks';
import type { Survey } from '@/core/pipeline';
import type { JobSheet } from '@/core/sheet';

/** The findings of a job as it stands; what only a survey can tell joins them once there is one. */
export function useFindings(
  sheet: JobSheet | null,
  survey: Survey | null,
  notes: ArtworkNotes | undefined,
): readonly Finding[] {
  return useMemo(() => (sheet ? findingsOf(sheet, notes ?? NO_NOTES, survey) : []), [sheet, survey, notes]);
}
