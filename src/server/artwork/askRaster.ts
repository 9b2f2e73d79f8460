import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import type { DrawingPicture } from '@/core/drawing';
import { KerameusError } from '@/core/units';
import { distFolder, projectRoot } from '../projectRoot';
import type { RasterLevel } from './artworkSource';
import type { RasterFacts } from './decodeRaster';
import type { RasterAnswer, RasterOrder } from './rasterChild';

/** Decoding one file may take this long, and this much memory beside what is on the disk. */
const TIME_LIMIT_MS = 180_000;
const MEMORY_LIMIT = 3_000_000_000;
/** Pixels that a drawing may embed in all. */
const MOST_EMBEDDED = 40e6;
const PRLIMIT = '/usr/bin/prlimit';

/**
 * Has a file decoded by a program of its own: what a damaged file does to the decoder ends that program and nothing else. Throws KerameusError with
 * what is wrong, or the signal's reason.
 */
function ask(order: RasterOrder, signal?: AbortSignal): Promise<RasterAnswer> {
  signal?.throwIfAborted();
  const entry = path.join(/* turbopackIgnore: true */ distFolder(), 'rasterChild.mjs');
  if (!existsSync(entry)) {
    throw new KerameusError({
      code: 'not-built',
      message: 'The program that decodes pictures is not built.',
      remedy: 'Run npm run build:worker.',
    });
  }
  const node = [process.execPath, '--max-old-space-size=400', entry];
  // Where the limits cannot be set, the time is still bounded.
  const [program, ...rest] = existsSync(PRLIMIT)
    ? [PRLIMIT, `--data=${MEMORY_LIMIT}`, '--core=0', ...node]
    : node;
  return new Promise<RasterAnswer>((resolve, reject) => {
    const child = spawn(program!, rest, {
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
      env: { ...process.env, KERAMEUS_ROOT: projectRoot(), NODE_OPTIONS: '' },
    });
    let settled = false;
    const end = (settle: () => void): void => {
      if (settled) return;
      settled = true;
      clearTimeout(timer);
      signal?.removeEventListener('abort', abort);
      child.kill('SIGKILL');
      settle();
    };
    const timer = setTimeout(() => end(() => reject(tooLong())), TIME_LIMIT_MS);
    const abort = (): void => end(() => reject(signal!.reason as Error));
    signal?.addEventListener('abort', abort, { once: true });
    child.once('error', (error) => end(() => reject(error)));
    child.once('exit', (code, by) => end(() => reject(ended(code, by))));
    child.once('message', (answer: RasterAnswer) =>
      end(() => (answer.kind === 'failed' ? reject(new KerameusError(answer.error)) : resolve(answer))),
    );
    child.send(order, (error) => {
      if (error) end(() => reject(ended(null, null)));
    });
  });
}

/** Decodes a raster file into levels in a folder; see `decodeRaster`. */
export async function decodeApart(
  file: string,
  folder: string,
  signal?: AbortSignal,
): Promise<{ readonly facts: RasterFacts; readonly levels: readonly RasterLevel[] }> {
  const answer = await ask(
    { kind: 'decode', file: path.resolve(file), folder: path.resolve(folder) },
    signal,
  );
  if (answer.kind !== 'decoded') throw new Error('the decoder answered something else');
  return answer;
}

/** What a raster file says of itself. */
export async function rasterFactsApart(file: string, signal?: AbortSignal): Promise<RasterFacts> {
  const answer = await ask({ kind: 'facts', file: path.resolve(file) }, signal);
  if (answer.kind !== 'facts') throw new Error('the decoder answered something else');
  return answer.facts;
}

/** Decodes the pictures that a drawing embeds; `folder` is for what is only needed meanwhile. */
export async function decodePictures(
  files: readonly Uint8Array[],
  folder: string,
  signal?: AbortSignal,
): Promise<readonly DrawingPicture[]> {
  const paths = files.map((_, k) => path.resolve(folder, `embedded-${k}`));
  for (const [k, file] of files.entries()) await writeFile(paths[k]!, file);
  const answer = await ask({ kind: 'pictures', files: paths, mostPixels: MOST_EMBEDDED }, signal);
  if (answer.kind !== 'pictures') throw new Error('the decoder answered something else');
  return Promise.all(
    answer.sizes.map(async (size, k) => ({
      ...size,
      data: new Uint8Array(await readFile(`${paths[k]!}.rgba`)),
    })),
  );
}

function tooLong(): KerameusError {
  return new KerameusError({
    code: 'artwork-unreadable',
    parameter: 'artwork',
    message: `The artwork takes more than ${TIME_LIMIT_MS / 60_000} minutes to decode.`,
    remedy: 'Save it again without special compression, or at 300 dpi at print size.',
  });
}

/** The decoder ended without an answer: damage that it was not made for, or too little memory. */
function ended(code: number | null, signal: NodeJS.Signals | null): KerameusError {
  const memory = signal === 'SIGABRT' || signal === 'SIGKILL' || code === 134;
  return new KerameusError({
    code: 'artwork-unreadable',
    parameter: 'artwork',
    message: memory
      ? 'The artwork takes more memory to decode than is allowed, or is damaged.'
      : 'The artwork is damaged in a way that ends its decoder.',
    remedy: 'Save it again in another format, or smaller: 300 dpi at print size is enough.',
  });
}
