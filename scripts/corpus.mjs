// npm run corpus [-- --drawings 300 --pictures 10 --only TEXT --verbose]: separates openly licensed drawings and pictures made from them,
// compares the predicted prints with an independent rendering, and says what is lost or off without a finding.
import path from 'node:path';
import { bundleProgram } from './lib/bundle.mjs';
import { Advice, PACKAGES, ensureNodePackages, ensureSystemPackages, root, runNode } from './lib/system.mjs';

try {
  ensureSystemPackages([PACKAGES.librsvg, PACKAGES.clipart]);
  ensureNodePackages();
  runNode(['scripts/buildKernels.mjs'], process.env);
  runNode(['scripts/buildWorker.mjs'], process.env);
  const program = path.join('dist', 'corpus.mjs');
  await bundleProgram('tests/corpus/corpus.ts', path.join(root, program));
  runNode([program, ...process.argv.slice(2)], {
    ...process.env,
    KERAMEUS_ROOT: root,
    KERAMEUS_DIST: 'dist',
  });
} catch (error) {
  process.stderr.write(`${error instanceof Advice ? error.message : error.stack}\n`);
  process.exitCode = 1;
}
