// npm run fuzz -- --minutes 10 [--seed 7]: sends an application of its own what nobody should send it, and says what it found.
import { mkdirSync, openSync } from 'node:fs';
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

const running = { web: null, worker: null };
let folder = null;
let code = 1;

async function clean() {
  await Promise.all([endChild(running.web), running.worker?.end()]);
  if (folder) dropPostgres(folder);
}

for (const signal of ['SIGINT', 'SIGTERM'])
  process.once(signal, () => void clean().then(() => process.exit(130)));
try {
  ensureSystemPackages([PACKAGES.postgres]);
  ensureNodePackages();
  mkdirSync(path.join(root, '.local'), { recursive: true });
  ensureBuild({ nextDir: NEXT_DIR, dist: DIST });
  folder = databaseFolder(`fuzz-database-${process.pid}`);
  const url = startPostgres(folder, await freePort());
  const env = { ...process.env, KERAMEUS_DATABASE_URL: url, KERAMEUS_ROOT: root, KERAMEUS_DIST: DIST };
  runNode([path.join(DIST, 'migrate.mjs')], env);
  const log = openSync(path.join(root, '.local', 'fuzz.log'), 'w');
  running.worker = keepWorker({ env, dist: DIST, log });
  const port = await freePort();
  running.web = await startWeb({ port, env, nextDir: NEXT_DIR, dist: DIST, log });
  code = await runFuzz({ ...env, KERAMEUS_URL: `http://127.0.0.1:${port}` }, DIST, minutes, seed);
  if (running.web.exitCode !== null) {
    process.stdout.write('WRONG  the page server ended\n');
    code = 1;
  }
} catch (error) {
  process.stderr.write(`${error instanceof Advice ? error.message : error.stack}\n`);
} finally {
  await clean();
}
process.exitCode = code;
