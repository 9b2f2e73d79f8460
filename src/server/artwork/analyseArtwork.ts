import { type FoundColour, buildOuterMap, findBackground, findPalette } from '@/core/artwork';
import { formatHexColour } from '@/core/colour';
import type { ArtworkSource } from './artworkSource';
import type { ArtworkFacts } from './openArtworkFile';

/** What is found out about flat artwork once, when it comes in. */
export interface ArtworkAnalysis {
  readonly colours: readonly FoundColour[];
  readonly purity: number;
  readonly transparentShare: number;
  readonly unflatShare: number;
  /** The colour along the artwork's border, when there is one. */
  readonly background: string | null;
  /** Share of the artwork where that colour stands inside the drawing, 0..1. */
  readonly backgroundInside: number;
}

/** Drawings are looked at with this many pixels on their longer side; raster artwork at most with its square. */
const VECTOR_SIDE = 2400;
const MAX_ANALYSED_PIXELS = 48e6;

/** The level (raster) or width (vector) at which artwork is analysed. */
export function analysisLevel(facts: ArtworkFacts): number {
  if (facts.kind === 'vector') {
    return Math.max(1, Math.round((VECTOR_SIDE * facts.widthPx) / Math.max(facts.widthPx, facts.heightPx)));
  }
  let level = 0;
  while ((facts.widthPx * facts.heightPx) / 4 ** level > MAX_ANALYSED_PIXELS) level++;
  return level;
}

/** Finds the palette and a background of one colour. */
export function analyseArtwork(source: ArtworkSource, facts: ArtworkFacts): ArtworkAnalysis {
  const reader = source.reader(analysisLevel(facts));
  const palette = findPalette(reader, facts.format === 'jpeg');
  const background = findBackground(
    reader,
    palette.colours.map((colour) => colour.rgb),
    palette.purity,
  );
  let backgroundInside = 0;
  if (background) {
    const { cells } = buildOuterMap(reader, background);
    backgroundInside = cells.reduce((sum, cell) => sum + (cell === 2 ? 1 : 0), 0) / cells.length;
  }
  return {
    colours: palette.colours,
    purity: palette.purity,
    transparentShare: palette.transparentShare,
    unflatShare: palette.unflatShare,
    background: background ? formatHexColour(background) : null,
    backgroundInside,
  };
}
