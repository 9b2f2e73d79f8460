// Runs the fuzz program against a running application.
import { spawn } from 'node:child_process';
import path from 'node:path';
import { bundleProgram } from './bundle.mjs';
import { root } from './system.mjs';

/** @returns {Promise<number>} its exit code. */
export async function runFuzz(env, dist, minutes, seed) {
  const outfile = path.join(root, dist, 'fuzz.mjs');
  await bundleProgram('tests/fuzz/fuzz.ts', outfile);
  const child = spawn(process.execPath, [outfile, String(minutes), String(seed)], {
    cwd: root,
    env,
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  return new Promise((resolve) => child.once('exit', (code) => resolve(code ?? 1)));
}
