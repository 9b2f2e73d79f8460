// Bundles the background worker, its threads and the command line for Node.js.
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');

const common = {
  absWorkingDir: root,
  outdir: process.env.KERAMEUS_DIST ?? 'dist',
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  packages: 'external',
  sourcemap: 'linked',
  logLevel: 'warning',
};

await build({
  ...common,
  entryPoints: {
    worker: 'src/worker/main.ts',
    filmThread: 'src/server/films/filmThread.ts',
    cli: 'src/cli/main.ts',
    seed: 'src/demo/main.ts',
    migrate: 'src/server/db/migrateMain.ts',
  },
  splitting: true,
  chunkNames: 'chunk-[hash]',
});

// By itself, so that it loads nothing that only the other commands need: a film of one plate takes less time than those.
await build({ ...common, entryPoints: { screen: 'src/cli/screen.ts' } });
