import type { ArrangedDots, ArtworkColours } from '@/core/pipeline';
import { type JobSheet, isSimulated } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { type ArtworkFiles, openArtwork } from '@/server/artwork';
import { artworkColours, judgedDots, outerMapFor } from '@/server/films';
import { type Options, bad } from './arguments';
import type { Stopwatch } from './produce';

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

/** The colours that a job of tones prints. */
export async function coloursOf(sheet: JobSheet, files: ArtworkFiles): Promise<ArtworkColours> {
  const source = openArtwork(files);
  try {
    return await artworkColours(sheet, source, outerMapFor(source, sheet));
  } finally {
    source.close();
  }
}

/** The sheet with the best arrangement of dots where `--geometry auto` asks for it. */
export async function withAutoDots(
  sheet: JobSheet,
  files: ArtworkFiles,
  options: Options,
  watch: Stopwatch,
): Promise<{ sheet: JobSheet; dots: DotsReport | null }> {
  if (options.geometry !== 'auto') return { sheet, dots: null };
  if (!isSimulated(sheet)) {
    throw bad('geometry', '--geometry auto is for tones.', 'Add --method simulated, or name a geometry.');
  }
  const found = await watch.time('dots', async () => withBestDots(sheet, await coloursOf(sheet, files)));
  return { sheet: found.sheet, dots: found.report };
}
