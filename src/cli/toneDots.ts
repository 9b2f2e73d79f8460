import type { ArrangedDots, ArtworkColours } from '@/core/pipeline';
import { type JobSheet, isSimulated } from '@/core/sheet';
import { judgedDots } from '@/server/films';
import { bad } from './arguments';

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

/** A job of tones with the arrangement of dots that prints it best at the press's tolerance. Throws KerameusError for flat colours. */
export function withBestDots(
  sheet: JobSheet,
  colours: ArtworkColours,
): { readonly sheet: JobSheet; readonly report: DotsReport } {
  if (!isSimulated(sheet)) {
    throw bad('geometry', '--geometry auto is for tones.', 'Add --method simulated, or name a geometry.');
  }
  if (colours.few.length === 0 || sheet.plates.length === 0) return { sheet, report: [] };
  const judged = judgedDots(sheet, colours);
  const [best] = judged;
  process.stderr.write(`kerameus: Dots are ${best!.arrangement}: nearest when a plate lies off.\n`);
  return { sheet: best!.sheet, report: dotsReport(judged) };
}
