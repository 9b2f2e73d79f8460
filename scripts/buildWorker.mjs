// Bundles the background worker, its threads and the command line for Node.js.
import { readdirSync, rmSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import { solverHash } from './lib/solverHash.mjs';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');

const outdir = process.env.KERAMEUS_DIST ?? 'dist';
const common = {
  absWorkingDir: root,
  outdir,
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  packages: 'external',
  define: { 'process.env.SOLVER_HASH': JSON.stringify(solverHash()) },
  sourcemap: 'linked',
  logLevel: 'warning',
};

const { metafile } = await build({
  ...common,
  metafile: true,
  entryPoints: {
    worker: 'src/worker/main.ts',
    cli: 'src/cli/main.ts',
    seed: 'src/demo/main.ts',
    migrate: 'src/server/db/migrateMain.ts',
    space: 'src/server/spaceMain.ts',
    web: 'src/server/web/main.ts',
  },
  splitting: true,
  chunkNames: 'chunk-[hash]',
});

// Parts of earlier builds would pile up.
const made = new Set(Object.keys(metafile.outputs).map((file) => path.basename(file)));
for (const name of readdirSync(path.resolve(root, outdir))) {
  if (name.startsWith('chunk-') && !made.has(name)) rmSync(path.resolve(root, outdir, name));
}

// By themselves, so that they load nothing that only the others need: it would take longer than a film of one plate, and a good part
// of a second before a set's first strip.
await build({
  ...common,
  // What is no program of its own comes into the file, and only what is used of it.
  packages: 'bundle',
  external: ['sharp'],
  entryPoints: {
    screen: 'src/cli/screen.ts',
    filmThread: 'src/server/films/filmThread.ts',
    drawingThread: 'src/server/drawings/drawingThread.ts',
    rasterChild: 'src/server/artwork/rasterChild.ts',
    pdfChild: 'src/server/pdf/pdfChild.ts',
    studyThread: 'src/server/study/studyThread.ts',
  },
});
