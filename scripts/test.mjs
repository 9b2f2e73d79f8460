// npm test: installs what is missing, then every check and test, against a database and a build of its own.
import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, openSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { runFuzz } from './lib/fuzz.mjs';
import { databaseFolder, dropPostgres, startPostgres } from './lib/postgres.mjs';
import {
  Advice,
  PACKAGES,
  endChild,
  ensureBuild,
  ensureNodePackages,
  ensureSystemPackages,
  freePort,
  keepWorker,
  root,
  runNode,
  say,
  startWeb,
} from './lib/system.mjs';

const NEXT_DIR = '.next-test';
const DIST = 'dist-test';
const FUZZ_MINUTES = 1;

const totals = { passed: 0, failed: 0 };
const running = { web: null, worker: null };
let folder = null;

/** Runs one check; it counts as one test. */
function check(name, args) {
  const started = Date.now();
  const result = spawnSync(process.execPath, args, { cwd: root, stdio: ['ignore', 'inherit', 'inherit'] });
  const good = result.status === 0;
  totals[good ? 'passed' : 'failed']++;
  say(`${good ? 'ok    ' : 'FAILED'} ${name} (${((Date.now() - started) / 1000).toFixed(1)} s)`);
}

/** Adds the counts that a runner wrote to a file; a runner that wrote none failed. */
function countFrom(name, file, read, status) {
  try {
    const { passed, failed } = read(JSON.parse(readFileSync(file, 'utf8')));
    totals.passed += passed;
    totals.failed += failed;
    if (status !== 0 && failed === 0) totals.failed++;
    say(`${name}: ${passed} passed, ${failed} failed`);
  } catch {
    totals.failed++;
    say(`FAILED ${name}: it wrote no result`);
  }
}

function unitTests(scratch) {
  const file = path.join(scratch, 'unit.json');
  const result = spawnSync(
    process.execPath,
    ['--experimental-vm-modules', 'node_modules/jest/bin/jest.js', '--json', `--outputFile=${file}`],
    {
      cwd: root,
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, KERAMEUS_DIST: DIST, KERAMEUS_ROOT: root, NODE_NO_WARNINGS: '1' },
    },
  );
  const read = (report) => ({
    passed: report.numPassedTests,
    failed: report.numFailedTests + report.numRuntimeErrorTestSuites,
  });
  countFrom('Unit tests', file, read, result.status);
}

/** Runs a program and stays awake meanwhile: the worker beside it may have to be started again. */
function runToEnd(args, env) {
  const child = spawn(process.execPath, args, { cwd: root, stdio: ['ignore', 'inherit', 'inherit'], env });
  return new Promise((resolve) => child.once('exit', (status) => resolve(status ?? 1)));
}

async function endToEndTests(scratch) {
  folder = databaseFolder(`test-database-${process.pid}`);
  const port = await freePort();
  const url = startPostgres(folder, await freePort());
  const env = { ...process.env, KERAMEUS_DATABASE_URL: url, KERAMEUS_ROOT: root, KERAMEUS_DIST: DIST };
  runNode([path.join(DIST, 'migrate.mjs')], env);
  const log = openSync(path.join(root, '.local', 'test.log'), 'w');
  running.worker = keepWorker({ env, dist: DIST, log });
  runNode([path.join(DIST, 'seed.mjs')], env);
  running.web = await startWeb({ port, env, nextDir: NEXT_DIR, dist: DIST, log });
  const file = path.join(scratch, 'e2e.json');
  const status = await runToEnd(['node_modules/@playwright/test/cli.js', 'test'], {
    ...env,
    KERAMEUS_URL: `http://127.0.0.1:${port}`,
    KERAMEUS_TEST_LOG: path.join(root, '.local', 'test.log'),
    PLAYWRIGHT_JSON_OUTPUT_NAME: file,
  });
  const read = ({ stats }) => ({ passed: stats.expected + stats.flaky, failed: stats.unexpected });
  countFrom('End-to-end tests', file, read, status);
  // What it finds depends on its seed, which it prints; a longer run is `npm run fuzz`.
  const seed = Math.floor(Math.random() * 1e9);
  const good =
    (await runFuzz({ ...env, KERAMEUS_URL: `http://127.0.0.1:${port}` }, DIST, FUZZ_MINUTES, seed)) === 0;
  totals[good ? 'passed' : 'failed']++;
  say(`${good ? 'ok    ' : 'FAILED'} fuzz`);
}

async function clean() {
  await Promise.all([endChild(running.web), running.worker?.end()]);
  if (folder) dropPostgres(folder);
}

async function main() {
  const { postgres, chromium, poppler, tiff, ghostscript, ipptool, librsvg, scipy } = PACKAGES;
  ensureSystemPackages([postgres, chromium, poppler, tiff, ghostscript, ipptool, librsvg, scipy]);
  ensureNodePackages();
  mkdirSync(path.join(root, '.local'), { recursive: true });
  ensureBuild({ nextDir: NEXT_DIR, dist: DIST });
  const scratch = mkdtempSync(path.join(tmpdir(), 'kerameus-test-'));
  try {
    check('types', ['node_modules/typescript/bin/tsc', '--noEmit']);
    check('lint', ['node_modules/eslint/bin/eslint.js', '.']);
    check('folder directions', [
      'node_modules/dependency-cruiser/bin/dependency-cruise.mjs',
      '--config',
      '.dependency-cruiser.cjs',
      'src',
    ]);
    check('formatting', ['node_modules/prettier/bin/prettier.cjs', '--check', '.', '--log-level', 'warn']);
    check('list of licences', ['scripts/licences.mjs', '--check']);
    unitTests(scratch);
    await endToEndTests(scratch);
  } finally {
    await clean();
    rmSync(scratch, { recursive: true, force: true });
  }
}

let failure = null;
for (const signal of ['SIGINT', 'SIGTERM']) {
  process.once(signal, () => void clean().then(() => process.exit(130)));
}
try {
  await main();
} catch (error) {
  failure = error;
  totals.failed++;
  process.stderr.write(`${error instanceof Advice ? error.message : error.stack}\n`);
}
say(`${totals.passed} passed, ${totals.failed} failed`);
process.exitCode = failure || totals.failed > 0 ? 1 : 0;
