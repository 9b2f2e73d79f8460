// npm run demo: everything from a fresh clone to the running application, and the same again within seconds. What ends by itself is started again, and
// the terminal says so.
import { existsSync, mkdirSync, openSync, readFileSync, statfsSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import {
  databaseFolder,
  postgresRuns,
  restartPostgres,
  startPostgres,
  stopPostgres,
} from './lib/postgres.mjs';
import {
  Advice,
  PACKAGES,
  ensureBuild,
  ensureNodePackages,
  ensureSystemPackages,
  freePort,
  keepRunning,
  root,
  runNode,
  say,
  startDevice,
  startWeb,
  startWorker,
} from './lib/system.mjs';

const local = path.join(root, '.local');
const kept = [];
let folder = null;
let stopping = false;
let watching = null;

const WATCH_EVERY_MS = 3000;
/** Less free space than this is why a database ends. */
const FULL_BYTES = 100e6;

/** The same ports each time, as long as they are free. */
async function choosePorts() {
  const file = path.join(local, 'ports.json');
  const before = existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : {};
  const web = await freePort(Number(process.env.PORT) || before.web || 4180);
  const database = await freePort(before.database || 54180);
  const printer = await freePort(before.printer || 6310);
  writeFileSync(file, JSON.stringify({ web, database, printer }));
  return { web, database, printer };
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
  clearTimeout(watching);
  await Promise.all(kept.map((each) => each.end()));
  if (folder) stopPostgres(folder);
  process.exit(code);
}

function isDiskFull() {
  const { bavail, bsize } = statfsSync(folder);
  return bavail * bsize < FULL_BYTES;
}

/** Starts the database again where it ended; while that cannot be done, it says once why, and tries on. */
function watchDatabase(port) {
  let told = '';
  const look = () => {
    if (stopping) return;
    if (!postgresRuns(folder)) {
      const why = isDiskFull()
        ? 'its disk is full: make room, and it starts again by itself'
        : 'starting it again';
      if (told !== why) say(`The database ended (${why}). ${path.join(folder, 'postgres.log')} says more.`);
      told = why;
      try {
        restartPostgres(folder, port);
        say('The database runs again.');
        told = '';
      } catch {
        // Tried again the next time.
      }
    }
    watching = setTimeout(look, WATCH_EVERY_MS);
  };
  watching = setTimeout(look, WATCH_EVERY_MS);
}

async function main() {
  process.once('SIGINT', () => stop(0));
  process.once('SIGTERM', () => stop(0));
  ensureSystemPackages([PACKAGES.postgres, PACKAGES.poppler]);
  ensureNodePackages();
  const address = await runningAlready();
  if (address) return say(`Kerameus runs already at ${address}`);
  mkdirSync(local, { recursive: true });
  ensureBuild();
  folder = databaseFolder('demo-database');
  const ports = await choosePorts();
  const url = startPostgres(folder, ports.database);
  writeFileSync(path.join(local, 'database-url'), url, { mode: 0o600 });
  const env = {
    ...process.env,
    KERAMEUS_DATABASE_URL: url,
    KERAMEUS_PRINTER_URI: `ipp://127.0.0.1:${ports.printer}/ipp/print`,
  };
  watchDatabase(ports.database);
  runNode(['dist/migrate.mjs'], env);
  const log = openSync(path.join(local, 'demo.log'), 'a');
  const keep = (name, start) => {
    const each = keepRunning(name, start);
    kept.push(each);
    return each.first;
  };
  await keep('The background worker', () => startWorker({ env, log }));
  await keep('The simulated film printer', () =>
    startDevice(['devices/filmPrinter.mjs', '--port', String(ports.printer), '--out', '.local/printed'], log),
  );
  runNode(['dist/seed.mjs'], env);
  await keep('The page server', () => startWeb({ port: ports.web, env, log }));
  say(`\nKerameus is at http://127.0.0.1:${ports.web}/   (Ctrl-C ends it)`);
}

main().catch((error) => {
  process.stderr.write(`${error instanceof Advice ? error.message : error.stack}\n`);
  void stop(1);
});
