import { readFileSync } from 'node:fs';
import { parentPort, workerData } from 'node:worker_threads';
import type { DrawingPicture } from '@/core/drawing';
import { type ErrorReport, toErrorReport } from '@/core/units';
import { type SvgArtwork, readSvg } from '../artwork/readSvg';
import { type FlatDrawing, flattenSvg } from './flattenSvg';
import { loadSvgLibrary, renderSvg } from './svgLibrary';

/** What the thread is started for. */
export type DrawingOrder =
  | { readonly kind: 'flatten'; readonly path: string }
  /** One of our own pages, to be rendered smoothed. */
  | { readonly kind: 'render'; readonly source: string; readonly widthPx: number };

export type SvgFacts = Pick<
  SvgArtwork,
  'width' | 'height' | 'statesSize' | 'widthMm' | 'heightMm' | 'missingFonts'
>;

/** What it says: first the pictures that it wants decoded, then the end. */
export type DrawingAnswer =
  | { readonly kind: 'pictures'; readonly files: readonly Uint8Array[] }
  | { readonly kind: 'flat'; readonly facts: SvgFacts; readonly flat: FlatDrawing }
  | { readonly kind: 'rendered'; readonly picture: DrawingPicture }
  | { readonly kind: 'failed'; readonly error: ErrorReport };

export interface DecodedPictures {
  readonly pictures: readonly DrawingPicture[];
}

function say(answer: DrawingAnswer, moved: ArrayBuffer[] = []): void {
  parentPort!.postMessage(answer, moved);
}

async function decoded(files: readonly Uint8Array[]): Promise<readonly DrawingPicture[]> {
  if (files.length === 0) return [];
  const answer = new Promise<DecodedPictures>((resolve) => parentPort!.once('message', resolve));
  say({ kind: 'pictures', files });
  return (await answer).pictures;
}

async function run(order: DrawingOrder): Promise<void> {
  if (order.kind === 'render') {
    await loadSvgLibrary();
    say({ kind: 'rendered', picture: renderSvg(order.source, true, order.widthPx) });
    return;
  }
  const svg = readSvg(readFileSync(order.path));
  const pictures = await decoded(svg.pictures);
  await loadSvgLibrary();
  const flat = flattenSvg(svg, pictures);
  const { width, height, statesSize, widthMm, heightMm, missingFonts } = svg;
  const facts = { width, height, statesSize, widthMm, heightMm, missingFonts };
  say({ kind: 'flat', facts, flat }, [flat.bytes.buffer]);
}

run(workerData as DrawingOrder).catch((thrown: unknown) => {
  say({ kind: 'failed', error: toErrorReport(thrown) });
});
