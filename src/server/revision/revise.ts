import {
  type ArtworkChanges,
  type ArtworkSamples,
  coloursBefore,
  compareArtworks,
  sampleArtwork,
} from '@/core/artwork';
import { labFromRgb8, parseHexColour } from '@/core/colour';
import { type CarriedOver, reviseSheet } from '@/core/separation';
import { type JobSheet, paletteOf } from '@/core/sheet';
import { levelCount } from '@/core/pipeline';
import {
  type ArtworkAnalysis,
  type ArtworkFacts,
  type ArtworkFiles,
  type ArtworkSource,
  artworkFor,
  openArtwork,
} from '../artwork';

/** Places on the longer side of the grid on which two artworks are compared. */
const SIDE = 1000;

/** A job that gets another artwork, what that changes, and both artworks as they look. */
export interface Revised {
  readonly sheet: JobSheet;
  readonly carried: CarriedOver;
  readonly changes: ArtworkChanges;
  readonly before: ArtworkSamples;
  readonly after: ArtworkSamples;
}

export interface RevisionInput {
  readonly sheet: JobSheet;
  readonly old: { readonly files: ArtworkFiles; readonly facts: ArtworkFacts };
  readonly next: {
    readonly files: ArtworkFiles;
    readonly facts: ArtworkFacts;
    readonly analysis: ArtworkAnalysis;
  };
}

/** Compares a job's artwork with what takes its place, and carries the job's settings over. */
export function reviseJob({ sheet, old, next }: RevisionInput): Revised {
  const { widthPx, heightPx } = next.facts;
  const longer = Math.max(widthPx, heightPx);
  const columns = Math.max(1, Math.round((SIDE * widthPx) / longer));
  const rows = Math.max(1, Math.round((SIDE * heightPx) / longer));
  const before = samplesOf(old.files, old.facts, columns, rows);
  const after = samplesOf(next.files, next.facts, columns, rows);
  const { analysis } = next;
  const { sheet: revised, carried } = reviseSheet(sheet, {
    artwork: artworkFor(next.facts),
    colours: analysis.colours,
    transitions: analysis.transitions,
    purity: analysis.purity,
    background: analysis.background,
    before: coloursBefore(
      before,
      after,
      paletteOf(sheet).map(({ colour }) => labFromRgb8(parseHexColour(colour))),
      analysis.colours.map(({ rgb }) => labFromRgb8(rgb)),
      analysis.purity + NOISE,
    ),
  });
  return { sheet: revised, carried, changes: compareArtworks(before, after), before, after };
}

/** How far an old artwork's pixels may lie from its colours, beyond what the new one's do: it may have been damaged. */
const NOISE = 6;

function samplesOf(files: ArtworkFiles, facts: ArtworkFacts, columns: number, rows: number): ArtworkSamples {
  const source = openArtwork(files);
  try {
    return sampleArtwork(readerFor(source, facts, columns), columns, rows);
  } finally {
    source.close();
  }
}

/** The coarsest level of a picture that is no coarser than the grid; a drawing at its width. */
function readerFor(source: ArtworkSource, { kind, widthPx, heightPx }: ArtworkFacts, columns: number) {
  if (kind === 'vector') return source.reader(columns);
  let level = 0;
  while (level + 1 < levelCount(widthPx, heightPx) && widthPx >> (level + 1) >= columns) level++;
  return source.reader(level);
}
