'use client';

import { useMemo } from 'react';
import { type Finding, checkAngles, checkCoverage, checkSheet } from '@/core/checks';
import type { Survey } from '@/core/pipeline';
import type { JobSheet } from '@/core/sheet';

/** Everything that deserves a look before films are made: what the sheet tells, and what a survey of the print found. */
export function useFindings(
  sheet: JobSheet | null,
  survey: Survey | null,
  missingFonts: readonly string[] | undefined,
): readonly Finding[] {
  return useMemo(() => {
    if (!sheet) return [];
    const found = checkSheet(sheet, missingFonts ?? []);
    if (!survey) return found;
    const count = sheet.plates.length;
    return [
      ...found,
      ...checkCoverage(sheet.plates, survey.plates),
      ...checkAngles(sheet.plates, (one, other) => survey.overlaps[one * count + other]!),
    ];
  }, [sheet, survey, missingFonts]);
}
