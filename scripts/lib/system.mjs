// What the scripts need of the machine: system packages, npm packages, free ports, child processes.
import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import net from 'node:net';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../..');

/** A failure that the user can mend; printed without a stack. */
export class Advice extends Error {}

export function say(text) {
  process.stdout.write(`${text}\n`);
}

function commandExists(command) {
  return spawnSync('sh', ['-c', `command -v ${command}`]).status === 0;
}

/**
 * Installs Debian packages whose probe fails. Where it may not, it says which command to run.
 * @param {{ package: string, found: () => boolean }[]} wanted
 */
export function ensureSystemPackages(wanted) {
  const missing = wanted.filter((each) => !each.found()).map((each) => each.package);
  if (missing.length === 0) return;
  const command = `apt-get install -y --no-install-recommends ${missing.join(' ')}`;
  if (!commandExists('apt-get')) throw new Advice(`Install ${missing.join(', ')} and start again.`);
  if (process.getuid?.() !== 0) throw new Advice(`Run this once and start again:\n  sudo ${command}`);
  say(`Installing ${missing.join(', ')} ...`);
  const environment = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const lock = ['-o', 'DPkg::Lock::Timeout=300'];
  const install = () =>
    spawnSync('apt-get', [...lock, 'install', '-y', '--no-install-recommends', ...missing], {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: environment,
    }).status;
  if (install() === 0) return;
  spawnSync('apt-get', [...lock, 'update'], { stdio: ['ignore', 'ignore', 'inherit'], env: environment });
  if (install() !== 0) throw new Advice(`This did not work; run it by hand and start again:\n  ${command}`);
}

export const PACKAGES = {
  postgres: { package: 'postgresql', found: () => postgresBin() !== null },
  chromium: { package: 'chromium', found: () => existsSync('/usr/bin/chromium') },
  poppler: {
    package: 'poppler-utils',
    found: () => commandExists('pdfinfo') && commandExists('pdfimages') && commandExists('pdftocairo'),
  },
  ghostscript: { package: 'ghostscript', found: () => commandExists('gs') },
  ipptool: { package: 'cups-ipp-utils', found: () => commandExists('ipptool') },
  librsvg: { package: 'librsvg2-bin', found: () => commandExists('rsvg-convert') },
  clipart: { package: 'openclipart-svg', found: () => existsSync('/usr/share/openclipart/svg') },
  scipy: {
    package: 'python3-scipy',
    found: () => spawnSync('/usr/bin/python3', ['-c', 'import scipy.ndimage']).status === 0,
  },
  tiff: { package: 'libtiff-tools', found: () => commandExists('tiffinfo') && commandExists('tiffcp') },
};

/** Folder of PostgreSQL's server programs, the newest, or null. */
export function postgresBin() {
  const base = '/usr/lib/postgresql';
  if (!existsSync(base)) return null;
  const versions = readdirSync(base)
    .filter((name) => existsSync(path.join(base, name, 'bin/initdb')))
    .sort((a, b) => Number(a) - Number(b));
  return versions.length > 0 ? path.join(base, versions[versions.length - 1], 'bin') : null;
}

/** Installs npm packages when the lock file changed since the last time. */
export function ensureNodePackages() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 9)) {
    throw new Advice(`Node.js ${process.versions.node} is too old; version 20.9 or newer is needed.`);
  }
  const lock = path.join(root, 'package-lock.json');
  const stamp = path.join(root, 'node_modules/.kerameus-lock');
  const hash = createHash('sha256').update(readFileSync(lock)).digest('hex');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === hash) return;
  say('Installing npm packages ...');
  // Not `npm ci`: it refuses a lock file without the optional packages of other systems, which not every mirror has.
  const result = spawnSync('npm', ['install', '--no-save', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  if (result.status !== 0) throw new Advice('npm install failed; see above, and start again.');
  writeFileSync(stamp, hash);
}

/** A number that changes when a source of the build does. */
export function sourceStamp(extra = []) {
  const hash = createHash('sha256');
  const visit = (entry) => {
    const full = path.join(root, entry);
    if (!existsSync(full)) return;
    if (statSync(full).isDirectory()) {
      for (const name of readdirSync(full).sort()) visit(path.join(entry, name));
    } else if (!/\.wasm$|\.test\.ts$/.test(entry)) hash.update(entry).update(readFileSync(full));
  };
  for (const entry of [
    'src',
    'public',
    'drizzle',
    'package-lock.json',
    'next.config.ts',
    'postcss.config.mjs',
    'scripts/buildKernels.mjs',
    'scripts/buildWorker.mjs',
    ...extra,
  ]) {
    visit(entry);
  }
  return hash.digest('hex');
}

/** Builds the application into the given folders unless it stands there already, made from the same sources. */
export function ensureBuild({ nextDir = '.next', dist = 'dist' } = {}) {
  const stampFile = path.join(root, nextDir, 'kerameus-sources');
  const stamp = sourceStamp();
  const env = {
    ...process.env,
    NEXT_TELEMETRY_DISABLED: '1',
    KERAMEUS_NEXT_DIR: nextDir,
    KERAMEUS_DIST: dist,
  };
  runNode(['scripts/buildKernels.mjs'], env);
  if (existsSync(stampFile) && readFileSync(stampFile, 'utf8') === stamp) return;
  say('Building the application (about a minute) ...');
  runNode(['scripts/buildWorker.mjs'], env);
  runNode(['node_modules/next/dist/bin/next', 'build'], env, 'pipe');
  mkdirSync(path.dirname(stampFile), { recursive: true });
  writeFileSync(stampFile, stamp);
}

/** Runs a Node.js program to its end; its output is shown when it fails. */
export function runNode(args, env = process.env, output = 'inherit') {
  try {
    return execFileSync(process.execPath, args, {
      cwd: root,
      env,
      stdio: ['ignore', output, output],
      maxBuffer: 1 << 28,
    });
  } catch (error) {
    if (output === 'pipe') process.stderr.write(`${error.stdout ?? ''}${error.stderr ?? ''}`);
    throw new Advice(`${args[0]} failed; see above.`);
  }
}

/** A port of loopback that is free now: the wanted one if it can be had. */
export function freePort(wanted = 0) {
  return new Promise((resolve, reject) => {
    const server = net.createServer();
    server.once('error', () => (wanted === 0 ? reject(new Error('no free port')) : resolve(freePort(0))));
    server.listen({ port: wanted, host: '127.0.0.1' }, () => {
      const { port } = server.address();
      server.close(() => resolve(port));
    });
  });
}

/** The environment that keeps the worker's memory with the system rather than in heaps full of holes. */
export const MEMORY_ENV = { MALLOC_ARENA_MAX: '2', MALLOC_MMAP_THRESHOLD_: '1000000' };

/** Starts the page server; resolves when it answers. */
export async function startWeb({ port, env, nextDir = '.next', dist = 'dist', log }) {
  const child = spawn(process.execPath, ['--enable-source-maps', path.join(dist, 'web.mjs')], {
    cwd: root,
    env: {
      ...env,
      KERAMEUS_NEXT_DIR: nextDir,
      KERAMEUS_DIST: dist,
      KERAMEUS_ROOT: root,
      PORT: String(port),
      NEXT_TELEMETRY_DISABLED: '1',
      NODE_ENV: 'production',
    },
    stdio: ['ignore', log, log],
  });
  let ended = false;
  child.once('exit', () => (ended = true));
  for (let k = 0; k < 300; k++) {
    if (ended) throw new Advice('The page server ended at once; its log says why.');
    const response = await fetch(`http://127.0.0.1:${port}/api/jobs`).catch(() => null);
    if (response?.ok) return child;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  child.kill('SIGTERM');
  throw new Advice('The page server did not answer within half a minute; its log says why.');
}

/** Starts a simulated device; one whose port is taken ends by itself. */
export function startDevice(args, log) {
  return spawn(process.execPath, args, { cwd: root, stdio: ['ignore', log, log] });
}

/** Starts a background worker. */
export function startWorker({ env, dist = 'dist', log }) {
  // Little is young for long there: room for it would only add to the memory. And each thread compiles for itself: with the engine's
  // own budget (67584) a film set spent a fifth of the processor on code that is hardly run, with this one half of that.
  const flags = ['--enable-source-maps', '--max-semi-space-size=2', '--interrupt-budget=400000'];
  return spawn(process.execPath, [...flags, path.join(dist, 'worker.mjs')], {
    cwd: root,
    env: { ...env, ...MEMORY_ENV, KERAMEUS_ROOT: root, KERAMEUS_DIST: dist },
    stdio: ['ignore', log, log],
  });
}

/** Pauses before a program that ended is started again; the last one stays. */
const PAUSES_MS = [1000, 2000, 5000, 15_000];
/** A program that ran for so long was well. */
const WELL_MS = 60_000;

/**
 * Keeps a program running: one that ends by itself is started again, and the terminal says so.
 * @param {string} name for the terminal.
 * @param {() => import('node:child_process').ChildProcess | Promise<import('node:child_process').ChildProcess>} start
 * @returns {{ first: Promise<void>, end: () => Promise<void> }} `first` fails where the first start does.
 */
export function keepRunning(name, start) {
  let child = null;
  let stopping = false;
  let failures = 0;
  const again = (why) => {
    if (stopping) return;
    const pause = PAUSES_MS[Math.min(failures++, PAUSES_MS.length - 1)];
    say(`${name} ended (${why}); it is started again in ${pause / 1000} s.`);
    setTimeout(() => void begin().catch((error) => again(error.message)), pause);
  };
  const begin = async () => {
    if (stopping) return;
    const started = Date.now();
    child = await start();
    child.once('exit', (code, signal) => {
      if (Date.now() - started > WELL_MS) failures = 0;
      again(signal ?? `code ${code}`);
    });
    // It may have ended before anybody listened.
    if (child.exitCode !== null) again(`code ${child.exitCode}`);
  };
  return {
    first: begin(),
    end() {
      stopping = true;
      return endChild(child);
    },
  };
}

/** Keeps a background worker running: the work of one that crashes goes on after its lease. */
export function keepWorker(options) {
  return keepRunning('The background worker', () => startWorker(options));
}

/** Ends a child process and waits for it. */
export function endChild(child, signal = 'SIGTERM') {
  if (!child || child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
  return new Promise((resolve) => {
    const hard = setTimeout(() => child.kill('SIGKILL'), 8000);
    child.once('exit', () => {
      clearTimeout(hard);
      resolve();
    });
    child.kill(signal);
  });
}
