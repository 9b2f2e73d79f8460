// A PostgreSQL of the project's own: data in a folder of its own, loopback only, no socket file.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Advice, postgresBin, root } from './system.mjs';

const asRoot = process.getuid?.() === 0;

/** Runs a program as the user that PostgreSQL runs as: it refuses to run as root. */
function run(command, args) {
  const [program, rest] = asRoot ? ['runuser', ['-u', 'postgres', '--', command, ...args]] : [command, args];
  return spawnSync(program, rest, { cwd: '/', encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] });
}

/** The folder for a database; beside the project, or where user postgres can reach it when the project's folder is closed to it. */
export function databaseFolder(name) {
  const wanted = path.join(root, '.local', name);
  if (!asRoot) return wanted;
  mkdirSync(path.dirname(wanted), { recursive: true });
  if (run('test', ['-x', path.dirname(wanted)]).status === 0) return wanted;
  const mark = createHash('sha256').update(root).digest('hex').slice(0, 12);
  const base = existsSync('/var/lib') ? '/var/lib' : tmpdir();
  return path.join(base, `kerameus-${mark}`, name);
}

/** Creates the cluster when it is not there, and starts it; returns its address. */
export function startPostgres(folder, port) {
  const bin = postgresBin();
  const data = path.join(folder, 'data');
  const log = path.join(folder, 'postgres.log');
  mkdirSync(folder, { recursive: true });
  if (asRoot) spawnSync('chown', ['-R', 'postgres', folder]);
  if (!existsSync(path.join(data, 'PG_VERSION'))) {
    const made = run(path.join(bin, 'initdb'), [
      '-D',
      data,
      '-U',
      'kerameus',
      '-A',
      'trust',
      '-E',
      'UTF8',
      '--locale=C.UTF-8',
      '--no-sync',
    ]);
    if (made.status !== 0) throw new Advice(`The database could not be made:\n${made.stderr}`);
  }
  // One that a crash left behind would hold the folder.
  stopPostgres(folder);
  const started = run(path.join(bin, 'pg_ctl'), [
    '-D',
    data,
    '-l',
    log,
    '-w',
    '-t',
    '60',
    '-o',
    `-c listen_addresses=127.0.0.1 -p ${port} -c unix_socket_directories=''`,
    'start',
  ]);
  if (started.status !== 0) {
    const said = existsSync(log) ? readFileSync(log, 'utf8').split('\n').slice(-8).join('\n') : '';
    throw new Advice(`The database did not start:\n${started.stderr}${said}`);
  }
  return `postgres://kerameus@127.0.0.1:${port}/postgres`;
}

/** Stops the cluster of a folder, if it runs. */
export function stopPostgres(folder) {
  const data = path.join(folder, 'data');
  if (!existsSync(path.join(data, 'postmaster.pid'))) return;
  run(path.join(postgresBin(), 'pg_ctl'), ['-D', data, '-m', 'fast', '-w', '-t', '30', 'stop']);
}

/** Stops a cluster and removes it. */
export function dropPostgres(folder) {
  stopPostgres(folder);
  rmSync(folder, { recursive: true, force: true });
}
