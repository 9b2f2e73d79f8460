// Bundles a program of the tests for Node.js.
import path from 'node:path';
import { root } from './system.mjs';

/**
 * @param {string} entry a TypeScript file, from the project's folder.
 * @param {string} outfile where the bundle is written; beside the application's, so that packages are found.
 */
export async function bundleProgram(entry, outfile) {
  // Loaded here: packages may have been installed only just now.
  const { build } = await import('esbuild');
  await build({
    absWorkingDir: root,
    entryPoints: [entry],
    outfile,
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    packages: 'external',
    alias: { '@': path.join(root, 'src') },
    logLevel: 'warning',
  });
}
