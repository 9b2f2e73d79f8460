import { createHash } from 'node:crypto';
import { Budget, DrawingLevel, type DrawingPicture, REGION_STEPS, storeDrawing } from '@/core/drawing';
import { KerameusError } from '@/core/units';
import type { SvgArtwork } from '../artwork/readSvg';
import { type FilterPictures, readTree } from './readTree';
import { renderSvg, simplifySvg } from './svgLibrary';

/** What a drawing became. */
export interface FlatDrawing {
  /** Its stored form. */
  readonly bytes: Uint8Array<ArrayBuffer>;
  readonly filters: FilterPictures;
  /** Whether anything of it can be seen inside its box. */
  readonly isEmpty: boolean;
}

/** Longer side at which a drawing is tried, in pixels. */
const TRIAL_SIDE = 2400;
const TRIAL_ROWS = 240;
/** Steps that drawing it at that size may take in all: a strip of a film has about as many pixels, and may take as many. */
const TRIAL_STEPS = 2 * REGION_STEPS;

/**
 * Resolves a drawing into our own form, and draws it once to see that it can be drawn. To be run in a thread of its own: the library may take
 * without end, or give up in the middle. Throws KerameusError `svg-refused` and `drawing-too-much`.
 *
 * @param pictures what the drawing embeds, decoded, in the order of `svg.pictures`.
 */
export function flattenSvg(svg: SvgArtwork, pictures: readonly DrawingPicture[]): FlatDrawing {
  const known = new Map(
    pictures.map((picture, k) => [createHash('sha256').update(svg.pictures[k]!).digest('hex'), picture]),
  );
  const tree = guarded('The SVG cannot be read: its library gave up on it.', () =>
    simplifySvg(documentOf(svg), svg.hasText),
  );
  const { drawing, filters } = readTree(tree, {
    pictures: known,
    firstRadii: svg.firstRadii,
    render: (source, widthPx, heightPx, filter) => {
      const picture = guarded(`The SVG has a filter that cannot be rendered (${filter}).`, () =>
        renderSvg(source),
      );
      if (picture.width !== widthPx || picture.height !== heightPx)
        throw new Error('a filter came out in another size');
      return picture;
    },
  });
  const isEmpty = !tryDrawing(new DrawingLevel(drawing, ...trialSize(drawing.width, drawing.height)));
  return { bytes: storeDrawing(drawing), filters, isEmpty };
}

function trialSize(width: number, height: number): [number, number] {
  const scale = TRIAL_SIDE / Math.max(width, height);
  return [Math.max(1, Math.round(width * scale)), Math.max(1, Math.round(height * scale))];
}

/** Draws all of it; tells whether any pixel was painted. */
function tryDrawing(level: DrawingLevel): boolean {
  const { width, height } = level;
  const words = new Uint32Array(width * Math.min(height, TRIAL_ROWS));
  const budget = new Budget(TRIAL_STEPS);
  let painted = false;
  for (let y = 0; y < height; y += TRIAL_ROWS) {
    const rows = Math.min(TRIAL_ROWS, height - y);
    const part = words.subarray(0, width * rows).fill(0);
    level.draw({ x: 0, y, width, height: rows }, part, budget);
    painted ||= part.some((word) => word !== 0);
  }
  return painted;
}

/** The drawing in a frame of its own box, without a clip of its own: whoever draws it cuts it to its box. */
export function documentOf(svg: SvgArtwork): string {
  const { width, height } = svg;
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">` +
    `<svg ${svg.rootAttributes} x="0" y="0" width="${width}" height="${height}" overflow="visible" ` +
    `viewBox="${svg.viewBox}" preserveAspectRatio="${svg.aspect}">${svg.content}</svg></svg>`
  );
}

/** Runs the library; what it throws is no sentence for users, and a trap leaves it unusable, which ends the thread's work. */
function guarded<T>(message: string, work: () => T): T {
  try {
    return work();
  } catch (thrown) {
    if (thrown instanceof KerameusError) throw thrown;
    throw new KerameusError({
      code: 'svg-refused',
      parameter: 'artwork',
      message,
      remedy:
        'Simplify the drawing (flatten transparency, expand effects), or export it as a PNG at print size.',
    });
  }
}
