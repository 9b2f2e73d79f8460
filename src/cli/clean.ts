import { copyFile, mkdir } from 'node:fs/promises';
import path from 'node:path';
import { LIMITS } from '@/core/sheet';
import { MM_PER_INCH, parseLengthMm, trimNumber } from '@/core/units';
import { analyseArtwork, openArtwork, takeInArtwork } from '@/server/artwork';
import { cleanFile } from '@/server/revision';
import { type Options, bad, readChoice, readNumber } from './arguments';
import { withWorkFolder } from './workFiles';

/** Smaller pieces are noise, in pixels of the artwork. */
const LEAST_PX = 1.5;

/** `clean ART`: a coarse or damaged picture as a drawing of smooth areas. Returns what was made, in words. */
export function clean(art: string, options: Options): Promise<string> {
  const { out } = options;
  if (!out || !/\.svg$/i.test(out)) {
    throw bad('out', 'clean makes a drawing, and --out names none.', 'Give --out FILE.svg.');
  }
  const count = readNumber(options, 'colours', 1, LIMITS.maxPaletteColours);
  const withoutFrame = readChoice(options, 'frame', ['keep', 'drop']) === 'drop';
  return withWorkFolder(async (folder) => {
    const { facts, files } = await takeInArtwork(art, path.basename(art), folder);
    const source = openArtwork(files);
    try {
      const widthMm = options.width
        ? parseLengthMm(options.width, {
            parameter: 'width',
            minMm: LIMITS.minPrintMm,
            maxMm: LIMITS.maxPrintMm,
          })
        : (facts.ownWidthMm ?? (facts.widthPx / 300) * MM_PER_INCH);
      const leastMm = options.specks
        ? parseLengthMm(options.specks, { parameter: 'specks', minMm: 0, maxMm: 5 })
        : (LEAST_PX * widthMm) / facts.widthPx;
      const analysis = analyseArtwork(source, facts);
      const target = path.join(folder, 'clean.svg');
      const wish = { colours: count ?? analysis.colours.length, leastMm, withoutFrame };
      const notes = await cleanFile(source, facts, analysis, wish, widthMm, target);
      await mkdir(path.dirname(path.resolve(out)), { recursive: true });
      await copyFile(target, out);
      const { colours, found, specks, specksMm2, frame } = notes;
      const parts = [
        `${colours} of ${found} colours that were found`,
        `${specks} pieces below ${trimNumber(leastMm, 2)} mm dropped (${trimNumber(specksMm2, 2)} mm²)`,
        ...(frame === 'none'
          ? withoutFrame
            ? ['no frame']
            : []
          : [`a frame ${frame === 'taken' ? 'taken away' : 'kept'}`]),
      ];
      return `${out}: ${parts.join(', ')}`;
    } finally {
      source.close();
    }
  });
}
