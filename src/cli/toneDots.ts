import type { ArrangedDots, ArtworkColours } from '@/core/pipeline';
import type { JobSheet } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { judgedDots } from '@/server/films';

const rounded = (value: number) => Math.round(value * 1000) / 1000;

/** What `report.json` says of each arrangement of dots, the best first. */
function dotsReport(judged: readonly ArrangedDots[]) {
  return judged.map(({ arrangement, off, shifted, grain }) => ({
    geometry: arrangement,
    off: rounded(off),
    shifted: rounded(shifted),
    grain: rounded(grain),
  }));
}

export type DotsReport = ReturnType<typeof dotsReport>;

/** A job of tones with the arrangement of dots that prints it best at the press's tolerance. */
export function withBestDots(
  sheet: JobSheet,
  colours: ArtworkColours,
): { readonly sheet: JobSheet; readonly report: DotsReport } {
  if (colours.few.length === 0 || sheet.plates.length === 0) return { sheet, report: [] };
  const judged = judgedDots(sheet, colours);
  const [best] = judged;
  process.stderr.write(
    `kerameus: Dots are ${best!.arrangement}: ${trimNumber(best!.shifted, 1)} from the artwork when a plate lies off, grain ${trimNumber(best!.grain, 1)}.\n`,
  );
  return { sheet: best!.sheet, report: dotsReport(judged) };
}
