// npm run demo: everything from a fresh clone to the running application, and the same again within seconds.
import { existsSync, mkdirSync, openSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { databaseFolder, startPostgres, stopPostgres } from './lib/postgres.mjs';
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
  startDevice,
  startWeb,
} from './lib/system.mjs';

const local = path.join(root, '.local');
const children = { web: null, worker: null, printer: null };
let folder = null;
let stopping = false;

/** The same ports each time, as long as they are free. */
async function choosePorts() {
  const file = path.join(local, 'ports.json');
  const kept = existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : {};
  const web = await freePort(Number(process.env.PORT) || kept.web || 4180);
  const database = await freePort(kept.database || 54180);
  writeFileSync(file, JSON.stringify({ web, database }));
  return { web, database };
}

/** The address of a demo that runs already in this folder, or null. */
async function runningAlready() {
  const file = path.join(local, 'ports.json');
  if (!existsSync(file)) return null;
  const address = `http://127.0.0.1:${JSON.parse(readFileSync(file, 'utf8')).web}/`;
  const response = await fetch(`${address}api/jobs`).catch(() => null);
  return response ? address : null;
}

async function stop(code) {
  if (stopping) return;
  stopping = true;
  await Promise.all([endChild(children.web), children.worker?.end(), endChild(children.printer)]);
  if (folder) stopPostgres(folder);
  process.exit(code);
}

async function main() {
  process.once('SIGINT', () => stop(0));
  process.once('SIGTERM', () => stop(0));
  ensureSystemPackages([PACKAGES.postgres]);
  ensureNodePackages();
  const address = await runningAlready();
  if (address) return say(`Kerameus runs already at ${address}`);
  mkdirSync(local, { recursive: true });
  ensureBuild();
  folder = databaseFolder('demo-database');
  const ports = await choosePorts();
  const env = { ...process.env, KERAMEUS_DATABASE_URL: startPostgres(folder, ports.database) };
  runNode(['dist/migrate.mjs'], env);
  const log = openSync(path.join(local, 'demo.log'), 'a');
  children.worker = keepWorker({ env, log });
  children.printer = startDevice(['devices/filmPrinter.mjs', '--out', '.local/printed'], log);
  runNode(['dist/seed.mjs'], env);
  children.web = await startWeb({ port: ports.web, env, log });
  children.web.once('exit', () => {
    if (stopping) return;
    say('The page server ended; .local/demo.log says why.');
    void stop(1);
  });
  say(`\nKerameus is at http://127.0.0.1:${ports.web}/   (Ctrl-C ends it)`);
}

main().catch((error) => {
  process.stderr.write(`${error instanceof Advice ? error.message : error.stack}\n`);
  void stop(1);
});
