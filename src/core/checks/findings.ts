import { type JobSheet } from '../sheet';
import { MM_PER_INCH, trimNumber } from '../units';

export type Severity = 'severe' | 'notice';

/** Something about a job that deserves a look before films are made. */
export interface Finding {
  readonly code: string;
  readonly severity: Severity;
  readonly message: string;
  readonly remedy: string;
  readonly measured?: number;
  readonly limit?: number;
  readonly plateId?: string;
}

/** How good a resolution at print size is. Common practice, no source. */
export type ResolutionJudgement = 'vector' | 'right' | 'soft' | 'low';

const RIGHT_DPI = 300;
const SOFT_DPI = 200;

/** Artwork pixels per inch of print; null for vector artwork. */
export function artworkDpi(sheet: Pick<JobSheet, 'artwork' | 'print'>): number | null {
  if (sheet.artwork.kind === 'vector') return null;
  return sheet.artwork.widthPx / (sheet.print.widthMm / MM_PER_INCH);
}

export function judgeResolution(dpi: number | null): ResolutionJudgement {
  if (dpi === null) return 'vector';
  // Half a pixel in an inch is rounding, not a fault.
  if (dpi >= RIGHT_DPI - 0.5) return 'right';
  return dpi >= SOFT_DPI ? 'soft' : 'low';
}

/** What can be found without evaluating plates. */
export function checkSheet(sheet: JobSheet, missingFonts: readonly string[] = []): Finding[] {
  const findings: Finding[] = [];
  const dpi = artworkDpi(sheet);
  const judgement = judgeResolution(dpi);
  if (judgement === 'soft' || judgement === 'low') {
    findings.push({
      code: 'resolution-low',
      severity: judgement === 'low' ? 'severe' : 'notice',
      message: `The artwork has ${trimNumber(dpi!, 0)} dpi at print size.`,
      remedy: 'Edges of flat artwork want 300 dpi: ask for larger artwork, or print smaller.',
      measured: Math.round(dpi!),
      limit: RIGHT_DPI,
    });
  }
  for (const font of missingFonts) {
    findings.push({
      code: 'font-missing',
      severity: 'severe',
      message: `The artwork's font "${font}" is not here; its text is set in another one.`,
      remedy: 'Turn text into shapes in the drawing program and drop the file again.',
    });
  }
  if (sheet.palette.length === 0) {
    findings.push({
      code: 'no-colours',
      severity: 'severe',
      message: 'No flat colour was found in the artwork.',
      remedy: 'Spot separation is for flat artwork: full-tone artwork has no areas of one colour.',
    });
  }
  return findings;
}

/** From this share of the print down a plate hardly deserves a screen. Common practice, no source. */
const NEARLY_EMPTY = 5e-4;

/** @param coverage share of the print that a plate covers, 0..1, in the order of the plates. */
export function checkCoverage(plates: JobSheet['plates'], coverage: readonly number[]): Finding[] {
  return plates.flatMap((plate, index) => {
    const share = coverage[index]!;
    if (share >= NEARLY_EMPTY) return [];
    return [
      {
        code: share === 0 ? 'plate-empty' : 'plate-nearly-empty',
        severity: 'notice' as const,
        message:
          share === 0
            ? `${plate.ink.name} prints nothing.`
            : `${plate.ink.name} covers ${trimNumber(share * 100, 3)} % of the print.`,
        remedy: 'Merge its colour with another ink, or leave it out.',
        measured: share,
        limit: NEARLY_EMPTY,
        plateId: plate.id,
      },
    ];
  });
}
