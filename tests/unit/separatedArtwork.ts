import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Resvg } from '@resvg/resvg-js';
import type { Finding } from '@/core/checks';
import type { Survey } from '@/core/pipeline';
import type { NewJob } from '@/core/separation';
import type { JobSheet } from '@/core/sheet';
import type { ArtworkAnalysis } from '@/server/artwork';
import { runBundled } from '../bundled';

/** Made for the tests of one file; removed after them. */
export const folder = mkdtempSync(path.join(tmpdir(), 'kerameus-flat-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

export const drawing = (inside: string, attributes = '') =>
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100" ${attributes}>${inside}</svg>`;

/** Mid red lies on the way from dark red to light red, where their smooth edges are. */
export const SHADES =
  '<rect width="100" height="100" fill="#fff"/><circle cx="50" cy="50" r="45" fill="#701018"/>' +
  '<ellipse cx="45" cy="45" rx="33" ry="28" fill="#e04050"/><circle cx="80" cy="70" r="10" fill="#a82834"/>';
/** Smooth, as people send it. */
export const picture = (svg: string, width: number) =>
  new Resvg(svg, { fitTo: { mode: 'width', value: width } }).render().asPng();

export interface Separated {
  readonly sheet: JobSheet;
  readonly analysis: ArtworkAnalysis;
  readonly survey: Pick<Survey, 'plates' | 'colours' | 'difference'>;
  readonly findings: readonly Finding[];
}

interface Case {
  readonly file: string;
  readonly bytes: () => Promise<string | Uint8Array>;
  readonly change: Partial<NewJob>;
}

const cases = new Map<string, Case>();
let results: Readonly<Record<string, Separated>>;

/** Artwork that is separated before the tests begin, all of it by one program. */
export function artwork(
  name: string,
  bytes: string | (() => Promise<Uint8Array>),
  change: Partial<NewJob> = {},
): () => Separated {
  const file = `${cases.size}.${typeof bytes === 'string' ? 'svg' : 'png'}`;
  cases.set(name, { file, bytes: typeof bytes === 'string' ? () => Promise.resolve(bytes) : bytes, change });
  return () => results[name]!;
}

beforeAll(async () => {
  if (cases.size === 0) return;
  for (const { file, bytes } of cases.values()) writeFileSync(path.join(folder, file), await bytes());
  const list = [...cases].map(([name, { file, change }]) => ({ name, file, change }));
  writeFileSync(path.join(folder, 'cases.json'), JSON.stringify(list));
  results = JSON.parse(await runBundled('tests/corpus/separateCases.ts', [folder])) as typeof results;
}, 300_000);
