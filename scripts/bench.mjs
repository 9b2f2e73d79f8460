// npm run bench -- compare REV [PAIRS]: the films of this copy against those of another revision, as ratios.
// npm run bench [-- kernels wedges films table screen tones large roll work]: figures and ratios from one run, through the real worker and the real page.
// Nothing is asserted. `screen` compares a film with what a general interpreter needs for it; `large` is a film set of
// the largest kind, `roll` one as long as a roll carries, `tones` what inks of stock come to, and `work` ten minutes of scripted work on the page: these run only when they
// are named.
import { mkdirSync, mkdtempSync, openSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { databaseFolder, dropPostgres, startPostgres } from './lib/postgres.mjs';
import {
  PACKAGES,
  endChild,
  ensureBuild,
  ensureNodePackages,
  ensureSystemPackages,
  freePort,
  root,
  runNode,
  say,
  startWeb,
  startWorker,
} from './lib/system.mjs';

ensureSystemPackages([PACKAGES.postgres, PACKAGES.chromium]);
ensureNodePackages();
ensureBuild();
// Loaded when the packages that they use are there.
const { build } = await import('esbuild');
const { saySteal } = await import('./bench/figures.mjs');

const scratch = mkdtempSync(path.join(tmpdir(), 'kerameus-bench-'));
const folder = databaseFolder(`bench-database-${process.pid}`);
let web = null;
let worker = null;

/** Runs a program of tests/bench. */
async function runBench(name) {
  await build({
    absWorkingDir: root,
    entryPoints: [`tests/bench/${name}.ts`],
    outfile: path.join(scratch, `${name}.mjs`),
    bundle: true,
    platform: 'node',
    format: 'esm',
    logLevel: 'warning',
  });
  runNode([path.join(scratch, `${name}.mjs`)], { ...process.env, KERAMEUS_ROOT: root });
}

async function start() {
  const port = await freePort();
  const base = `http://127.0.0.1:${port}`;
  const env = { ...process.env, KERAMEUS_DATABASE_URL: startPostgres(folder, await freePort()) };
  runNode(['dist/migrate.mjs'], env);
  mkdirSync(path.join(root, '.local'), { recursive: true });
  const log = openSync(path.join(root, '.local', 'bench.log'), 'w');
  worker = startWorker({ env, log });
  web = await startWeb({ port, env, log });
  return { base, worker, scratch };
}

async function main() {
  const named = process.argv.slice(2);
  if (named[0] === 'compare') {
    const { compareRevision } = await import('./bench/compare.mjs');
    await compareRevision(named[1] ?? 'HEAD', Number(named[2] ?? 3), scratch);
    return;
  }
  const sections = new Set(named.length > 0 ? named : ['kernels', 'wedges', 'films', 'table', 'screen']);
  if (sections.has('kernels')) {
    say('Kernels, plain against compiled, best of four:');
    await runBench('kernels');
  }
  if (sections.has('wedges')) {
    say('\nScreens of 35 to 65 lpi, 720 to 2880 dpi, whole and half degrees:');
    await runBench('wedges');
  }
  if (sections.has('tones')) {
    say('\nInks of stock on a black garment, tables of seven plates:');
    const { bundleProgram } = await import('./lib/bundle.mjs');
    await bundleProgram('tests/bench/tones.ts', path.join(root, 'dist/benchTones.mjs'));
    runNode(['dist/benchTones.mjs'], { ...process.env, KERAMEUS_ROOT: root });
  }
  if (sections.has('screen')) {
    ensureSystemPackages([PACKAGES.ghostscript]);
    const { benchScreen } = await import('./bench/screen.mjs');
    await saySteal(() => benchScreen(scratch));
  }
  if (!['films', 'large', 'roll', 'table', 'work'].some((section) => sections.has(section))) return;
  const host = await start();
  if (sections.has('films')) {
    const { benchFilms } = await import('./bench/films.mjs');
    await benchFilms(host);
  }
  const { benchLarge } = await import('./bench/films.mjs');
  if (sections.has('large')) await benchLarge(host, 13, 19);
  if (sections.has('roll')) await benchLarge(host, 24, 60);
  if (sections.has('table') || sections.has('work')) {
    const { benchTable } = await import('./bench/table.mjs');
    await benchTable(host, sections);
  }
}

try {
  await main();
} finally {
  await Promise.all([endChild(web), endChild(worker)]);
  dropPostgres(folder);
  rmSync(scratch, { recursive: true, force: true });
}
