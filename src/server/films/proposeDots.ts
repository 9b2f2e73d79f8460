import { createWasmKernels } from '@/core/kernels';
import {
  type ArrangedDots,
  type ArtworkColours,
  dotsScore,
  judgeArrangements,
  tonesMeet,
} from '@/core/pipeline';
import { type JobSheet, isInk } from '@/core/sheet';
import { kernelModule } from '../projectRoot';
import { keptTiles } from './tileFiles';

/** How every arrangement of the dots of a job of tones prints its artwork, the best first. */
export function judgedDots(sheet: JobSheet, colours: ArtworkColours): ArrangedDots[] {
  const ids = sheet.plates.filter(isInk).map(({ id }) => id);
  const judged = judgeArrangements({
    sheet,
    ids,
    overlap: tonesMeet(sheet, colours.few),
    colours: colours.few,
    tiles: keptTiles(),
    kernels: createWasmKernels(kernelModule()),
  });
  return [...judged].sort((p, q) => dotsScore(p) - dotsScore(q));
}
