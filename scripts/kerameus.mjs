// The command line: builds what it needs the first time, then hands over.
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { Advice, MEMORY_ENV, ensureNodePackages, root, runNode, sourceStamp } from './lib/system.mjs';

try {
  const stampFile = path.join(root, 'dist/sources');
  if (!process.env.KERAMEUS_DIST) {
    ensureNodePackages();
    const stamp = sourceStamp();
    runNode(['scripts/buildKernels.mjs'], process.env, 'pipe');
    if (!existsSync(stampFile) || readFileSync(stampFile, 'utf8') !== stamp) {
      runNode(['scripts/buildWorker.mjs'], process.env, 'pipe');
      writeFileSync(stampFile, stamp);
    }
  }
  const entry = path.join(root, process.env.KERAMEUS_DIST ?? 'dist', 'cli.mjs');
  // Names of files count from where the user called npm.
  const result = spawnSync(process.execPath, [entry, ...process.argv.slice(2)], {
    cwd: process.env.INIT_CWD ?? process.cwd(),
    env: { ...process.env, ...MEMORY_ENV, KERAMEUS_ROOT: root },
    stdio: 'inherit',
  });
  process.exitCode = result.status ?? 1;
} catch (error) {
  process.stderr.write(`kerameus: ${error instanceof Advice ? error.message : error.stack}\n`);
  process.exitCode = 1;
}
