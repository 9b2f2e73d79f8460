// npm run fuzz -- --minutes 10 [--seed 7]: sends an application of its own what nobody should send it, and says what it found.
import { mkdirSync, openSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
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
  startWeb,
} from './lib/system.mjs';

const NEXT_DIR = '.next-test';
const DIST = 'dist-test';
const { values } = parseArgs({ options: { minutes: { type: 'string' }, seed: { type: 'string' } } });
const minutes = Number(values.minutes ?? 10);
const seed = Number(values.seed ?? Math.floor(Math.random() * 1e9));

const logFile = path.join(root, '.local', 'fuzz.log');
const running = { web: null, worker: null };
let folder = null;
let code = 1;

async function clean() {
  await Promise.all([endChild(running.web), running.worker?.end()]);
  if (folder) dropPostgres(folder);
}

/** What the programs say of unforeseen errors, which their users are not told. */
function showErrors() {
  const lines = readFileSync(logFile, 'utf8').split('\n');
  const errors = lines.filter((line) => /"level":(50|60)/.test(line));
  for (const line of errors.slice(-20)) process.stdout.write(`LOG    ${line.slice(0, 3000)}\n`);
}

for (const signal of ['SIGINT', 'SIGTERM'])
  process.once(signal, () => void clean().then(() => process.exit(130)));
try {
  ensureSystemPackages([PACKAGES.postgres, PACKAGES.poppler]);
  ensureNodePackages();
  mkdirSync(path.join(root, '.local'), { recursive: true });
  ensureBuild({ nextDir: NEXT_DIR, dist: DIST });
  folder = databaseFolder(`fuzz-database-${process.pid}`);
  const url = startPostgres(folder, await freePort());
  const env = { ...process.env, KERAMEUS_DATABASE_URL: url, KERAMEUS_ROOT: root, KERAMEUS_DIST: DIST };
  runNode([path.join(DIST, 'migrate.mjs')], env);
  const log = openSync(logFile, 'w');
  running.worker = keepWorker({ env, dist: DIST, log });
  const port = await freePort();
  running.web = await startWeb({ port, env, nextDir: NEXT_DIR, dist: DIST, log });
  code = await runFuzz({ ...env, KERAMEUS_URL: `http://127.0.0.1:${port}` }, DIST, minutes, seed);
  if (running.web.exitCode !== null) {
    process.stdout.write('WRONG  the page server ended\n');
    code = 1;
  }
  if (code !== 0) showErrors();
} catch (error) {
  process.stderr.write(`${error instanceof Advice ? error.message : error.stack}\n`);
} finally {
  await clean();
}
process.exitCode = code;
