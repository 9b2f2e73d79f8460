// Bundles the fuzz program and runs it against a running application.
import { spawn } from 'node:child_process';
import path from 'node:path';
import { root } from './system.mjs';

/** @returns {Promise<number>} its exit code. */
export async function runFuzz(env, dist, minutes, seed) {
  // Loaded here: packages may have been installed only just now.
  const { build } = await import('esbuild');
  const outfile = path.join(root, dist, 'fuzz.mjs');
  await build({
    absWorkingDir: root,
    entryPoints: ['tests/fuzz/fuzz.ts'],
    outfile,
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    packages: 'external',
    alias: { '@': path.join(root, 'src') },
    logLevel: 'warning',
  });
  const child = spawn(process.execPath, [outfile, String(minutes), String(seed)], {
    cwd: root,
    env,
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  return new Promise((resolve) => child.once('exit', (code) => resolve(code ?? 1)));
}
