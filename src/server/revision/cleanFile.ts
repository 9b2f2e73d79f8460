import { writeFile } from 'node:fs/promises';
import { reducePalette } from '@/core/artwork';
import { areasSvg, cleanArtwork } from '@/core/cleaning';
import type { Rgb8 } from '@/core/colour';
import { startPrint } from '@/core/separation';
import { LIMITS } from '@/core/sheet';
import { KerameusError } from '@/core/units';
import type { CleaningNotes, CleaningWish } from '@/protocol/tasks';
import type { ArtworkAnalysis, ArtworkFacts, ArtworkSource } from '../artwork';

/** The colours that artwork is cleaned into: those found, joined until so many are left. */
export function cleaningColours({ colours: found }: Pick<ArtworkAnalysis, 'colours'>, count: number): Rgb8[] {
  // The smallest of hundreds are noise, and take minutes to join.
  const colours = found.slice(0, LIMITS.maxPaletteColours);
  const standsFor = reducePalette(colours, count);
  return [...new Set(standsFor)].map((k) => colours[k]!.rgb);
}

/**
 * Cleans a picture into a drawing of smooth areas, writes that as SVG, and tells what was left out. Throws KerameusError `cleaning-drawing` for drawings, and what `cleanArtwork` throws.
 *
 * @param printWidthMm width at which the wish's lengths are measured; null: the size that the artwork opens at.
 */
export async function cleanFile(
  source: ArtworkSource,
  facts: ArtworkFacts,
  analysis: ArtworkAnalysis,
  wish: CleaningWish,
  printWidthMm: number | null,
  target: string,
  heard: (done: number) => void = () => undefined,
): Promise<CleaningNotes> {
  if (facts.kind === 'vector') {
    throw new KerameusError({
      code: 'cleaning-drawing',
      parameter: 'artwork',
      message: 'The artwork is a drawing: its areas are smooth already.',
      remedy: 'Clean pictures only.',
    });
  }
  const pxPerMm = facts.widthPx / (printWidthMm ?? startPrint(facts).widthMm);
  const cleaned = cleanArtwork(
    source.reader(0),
    {
      colours: cleaningColours(analysis, wish.colours),
      purity: analysis.purity,
      leastPx: (wish.leastMm * pxPerMm) ** 2,
      withoutFrame: wish.withoutFrame,
    },
    heard,
  );
  const { widthPx, heightPx, ownWidthMm: widthMm, ownHeightMm: heightMm } = facts;
  await writeFile(target, areasSvg(cleaned.areas, { widthPx, heightPx, widthMm, heightMm }));
  const { specks, frame } = cleaned;
  return {
    colours: cleaned.areas.length,
    found: analysis.colours.length,
    specks: specks.count,
    specksMm2: specks.areaPx / (pxPerMm * pxPerMm),
    frame: frame === null ? 'none' : wish.withoutFrame ? 'taken' : 'kept',
  };
}
