import { execFile } from 'node:child_process';
import path from 'node:path';
import { promisify } from 'node:util';
import { build } from 'esbuild';
import { distFolder, projectRoot } from '@/server/projectRoot';

/** Bundles a program of the tests and runs it to its end; returns what it printed. */
export async function runBundled(entry: string, args: readonly string[]): Promise<string> {
  const outfile = path.join(distFolder(), `test-${path.basename(entry, '.ts')}.mjs`);
  await build({
    absWorkingDir: projectRoot(),
    entryPoints: [entry],
    outfile,
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    packages: 'external',
    alias: { '@': path.join(projectRoot(), 'src') },
    logLevel: 'warning',
  });
  const { stdout } = await promisify(execFile)(process.execPath, [outfile, ...args], {
    cwd: projectRoot(),
    maxBuffer: 1 << 28,
  });
  return stdout;
}
