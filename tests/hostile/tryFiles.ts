/** Reads every hostile file as the application does and prints what came of each, as JSON; a program of its own, since what it tries may end it. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { takeInArtwork } from '@/server/artwork';
import { toErrorReport } from '@/core/units';
import { triedFiles } from './hostileFiles';

export interface Tried {
  readonly name: string;
  readonly refused: boolean;
  /** Null where it was taken in. */
  readonly error: { readonly code: string; readonly message: string; readonly remedy?: string } | null;
  readonly seconds: number;
}

async function attempt({
  name,
  fileName,
  bytes,
  refused,
}: ReturnType<typeof triedFiles>[number]): Promise<Tried> {
  const folder = mkdtempSync(path.join(tmpdir(), 'hostile-'));
  const started = performance.now();
  const end = (error: Tried['error']): Tried => ({
    name,
    refused,
    error,
    seconds: (performance.now() - started) / 1000,
  });
  try {
    const file = path.join(folder, 'file');
    writeFileSync(file, bytes);
    await takeInArtwork(file, fileName, folder);
    return end(null);
  } catch (thrown) {
    return end(toErrorReport(thrown));
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

const files = triedFiles();
const tried: Tried[] = [];
// Two beside each other, as a worker does.
await Promise.all(
  [0, 1].map(async () => {
    for (let file = files.shift(); file; file = files.shift()) tried.push(await attempt(file));
  }),
);
process.stdout.write(JSON.stringify({ tried, memoryMb: process.memoryUsage().rss / 1e6 }));
