import {
  type ArtworkReader,
  FADING,
  type Faintness,
  type FoundColour,
  buildOuterMap,
  enclosedShare,
  findBackground,
  findFaintness,
  findPalette,
  flatAreas,
  flatShare,
  inFull,
  isLossy,
} from '@/core/artwork';
import { type ArtworkNotes, NO_NOTES } from '@/core/checks';
import { formatHexColour, parseHexColour } from '@/core/colour';
import { levelCount } from '@/core/pipeline';
import { FULL_TONE, type FoundBackground, findTransitions, isFullTone, startPrint } from '@/core/separation';
import { type FlatLayer, LIMITS } from '@/core/sheet';
import type { ArtworkSource } from './artworkSource';
import type { ArtworkFacts } from './openArtworkFile';

/** What is found out about flat artwork once, when it comes in. */
export interface ArtworkAnalysis {
  /** Flat colours, the largest first; then the ends of gradients that stand nowhere flat. */
  readonly colours: readonly FoundColour[];
  readonly transitions: FlatLayer['transitions'];
  /** Share of the places without an edge, but for a ground on all sides, that have one of the flat colours, 0..1: low for full-tone artwork. */
  readonly flatShare: number;
  /** Colours of flat areas, which can be kept solid where the artwork prints by its tones; the largest first. */
  readonly keepable: readonly FoundColour[];
  readonly purity: number;
  readonly transparentShare: number;
  readonly background: FoundBackground | null;
}

type Analysed = Omit<ArtworkAnalysis, 'keepable'>;

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

/** Whether a stored analysis has all that a new job needs; older ones lack what lies between the colours. */
export function isWholeAnalysis(analysis: ArtworkAnalysis): boolean {
  return (analysis as Partial<ArtworkAnalysis>).keepable !== undefined;
}

/** What checks want to know of artwork that was not analysed. */
export function notesOfFile({ missingFonts, page, plates, pictures }: ArtworkFacts): ArtworkNotes {
  return { ...NO_NOTES, missingFonts, page: page ?? null, plates: plates ?? null, pictures: pictures ?? 1 };
}

/** What checks want to know of artwork. */
export function notesOf(facts: ArtworkFacts, analysis: ArtworkAnalysis): ArtworkNotes {
  const more = analysis.colours.slice(LIMITS.maxPaletteColours);
  return {
    ...notesOfFile(facts),
    keepable: (analysis as Partial<ArtworkAnalysis>).keepable ?? [],
    flatShare: (analysis as Partial<ArtworkAnalysis>).flatShare ?? null,
    ground: analysis.background?.onAllSides ? analysis.background.colour : null,
    // Older analyses do not know.
    fadesIntoGround: analysis.background?.fades ?? 0,
    moreColours: { count: more.length, share: more.reduce((sum, { area }) => sum + area, 0) },
  };
}

/**
 * Finds the palette, what lies between its colours, and a background of one colour.
 *
 * @param heard told how much is done, 0..1, every now and then.
 */
export function analyseArtwork(
  source: ArtworkSource,
  facts: ArtworkFacts,
  heard: (done: number) => void = () => undefined,
): ArtworkAnalysis {
  const reader = source.reader(analysisLevel(facts));
  const faint = findFaintness(reader);
  const sampled = facts.kind === 'raster' ? sampleFullTone(source, facts, faint) : null;
  const told = heardReader(reader, READINGS[facts.kind], heard);
  const analysed = sampled ?? analyseLevel(source, facts, told, faint);
  const keepable = flatAreas(reader, isLossy(analysed.purity)).slice(0, LIMITS.maxPaletteColours);
  return { ...analysed, keepable };
}

/**
 * Levels by which full tone is recognised, by their pixels, and what share of flat colours still is surely full tone there: flat artwork with much
 * detail comes out low on a coarse level, a photograph with noise high.
 */
const SAMPLES = [
  { pixels: 16e4, surely: 0.35 },
  { pixels: 130e4, surely: 0.5 },
] as const;
const MAYBE_FULL_TONE = 0.7;
/** Its flat colours that are kept, so that they and the ends of gradients have rows; and the colours between them that are looked at. */
const SAMPLE_COLOURS = 48;
const SAMPLE_BINS = 400;

/**
 * Full-tone artwork has thousands of colours, which take minutes to tell apart and are of no use: of artwork that surely is, a coarser level is looked at
 * instead. Its flat colours are those that spot plates would posterise it to. Null for other artwork.
 */
function sampleFullTone(
  source: ArtworkSource,
  facts: ArtworkFacts,
  faint: Faintness | null,
): Analysed | null {
  const { widthPx, heightPx } = facts;
  const last = levelCount(widthPx, heightPx) - 1;
  for (const { pixels, surely } of SAMPLES) {
    const level = Math.min(last, Math.ceil(Math.log2(Math.max(1, (widthPx * heightPx) / pixels)) / 2));
    if (level === 0) return null;
    const sampled = analyseLevel(source, facts, source.reader(level), faint, true);
    const { flatShare: share, transitions } = sampled;
    if (share < surely && isFullTone(share, transitions)) return sampled;
    // Flat artwork is not looked at once more.
    if (share > MAYBE_FULL_TONE) return null;
  }
  return null;
}

/**
 * @param reader of the level that is looked at.
 * @param faint set for artwork whose colours are those that it would have if it were printed in full; its background is none, since nothing of it is opaque.
 * @param isSampled whether the level is coarse, since the artwork may have thousands of colours.
 */
function analyseLevel(
  source: ArtworkSource,
  facts: ArtworkFacts,
  reader: ArtworkReader,
  faint: Faintness | null,
  isSampled = false,
): Analysed {
  const full = faint ? inFull(reader, faint) : reader;
  const pxPerMm = reader.width / startPrint(facts).widthMm;
  const drawing = facts.kind === 'vector';
  const palette = findPalette(full, {
    drawing,
    lossy: facts.format === 'jpeg',
    // A drawing's colours are exact, whatever is drawn with them.
    thinLines: !drawing && !isSampled,
    piece: pxPerMm * pxPerMm,
    ...(source.paints ? { paints: source.paints } : {}),
  });
  const flat = palette.colours.map((colour) => colour.rgb);
  const background = backgroundOf(reader, palette);
  const ground = background?.onAllSides ? parseHexColour(background.colour) : null;
  // On a coarse level thin lines have no colours yet.
  const isNowhereFlat = !isSampled && flat.length === 0 && palette.transparentShare < 1;
  const share = isNowhereFlat ? 0 : flatShare(full, flat, ground);
  // So may a small picture, and one that is flat and full of tones in parts.
  const isFull = isSampled || (!drawing && share < FULL_TONE);
  const kept = palette.colours.slice(0, isSampled ? SAMPLE_COLOURS : undefined);
  // Colours without rows are ends of nothing: hundreds of them take minutes to pair.
  const between = findTransitions(
    reader,
    kept.slice(0, LIMITS.maxPaletteColours).map(({ rgb }) => rgb),
    palette.purity,
    edgePx(facts),
    isFull ? SAMPLE_BINS : undefined,
  );
  // Of one pixel, or of a few: too small for a block of a colour, and nothing lies between its colours.
  const isSpecks = isNowhereFlat && between.ends.length > 0 && between.pairs.length === 0;
  // The ends have rows, whatever number of flat colours there is.
  const rows = LIMITS.maxPaletteColours - between.ends.length;
  return {
    colours: [...kept.slice(0, rows), ...between.ends, ...kept.slice(rows)],
    transitions: between.pairs.map(([one, other]) => [one, other]),
    flatShare: isSpecks ? 1 : share,
    purity: palette.purity,
    transparentShare: faint?.transparentShare ?? palette.transparentShare,
    background,
  };
}

/** How far an edge reaches in the artwork, in pixels: compression with halved colour resolution smears it over more of them. */
function edgePx({ kind, format }: ArtworkFacts): number {
  if (kind === 'vector') return 0;
  return format === 'jpeg' || format === 'webp' ? 4 : 2;
}

/** How often an analysis reads the whole artwork: counted, for the bar alone. */
const READINGS = { vector: 5, raster: 8 } as const;
/** Parts of the whole that are told. */
const TOLD_PARTS = 50;

/** A reader that tells how much of an analysis is done by what was read of the artwork. */
function heardReader(art: ArtworkReader, readings: number, heard: (done: number) => void): ArtworkReader {
  let pixels = 0;
  let told = 0;
  return {
    width: art.width,
    height: art.height,
    read: (rect) => {
      pixels += rect.width * rect.height;
      const done = Math.min(1, pixels / (readings * art.width * art.height));
      if (done >= told + 1 / TOLD_PARTS) heard((told = done));
      return art.read(rect);
    },
  };
}

function backgroundOf(
  reader: ArtworkReader,
  palette: ReturnType<typeof findPalette>,
): FoundBackground | null {
  const colours = palette.colours.map((colour) => colour.rgb);
  const found = findBackground(reader, colours, palette.purity);
  if (!found) return null;
  const map = buildOuterMap(reader, found.rgb, palette.purity);
  const colour = formatHexColour(found.rgb);
  const others = colours.filter((rgb) => formatHexColour(rgb) !== colour);
  const inside = enclosedShare(reader, map, found.rgb, others, palette.purity);
  const fades = map.cells.reduce((sum, cell) => sum + (cell === FADING ? 1 : 0), 0) / map.cells.length;
  return { colour, onAllSides: found.onAllSides, inside, fades };
}
