import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';

export interface Limits {
  readonly seconds: number;
  /** Memory beside what the program itself is, in bytes. */
  readonly memory: number;
  /** The largest file that it may write, in bytes. */
  readonly fileSize: number;
  /** What it may answer, in bytes; more ends it. Of what it complains of as much is kept. */
  readonly answer: number;
}

export interface Ended {
  /** Exit code; null where it was ended by a signal. */
  readonly code: number | null;
  readonly stdout: Buffer;
  readonly stderr: string;
  /** Which limit ended it; null where none did. */
  readonly over: 'time' | 'answer' | null;
}

const PRLIMIT = '/usr/bin/prlimit';

/**
 * Runs a separate program on a file that may be hostile, within limits. Throws the signal's reason, and an error with code `ENOENT` where the program is
 * not installed.
 */
export function runLimited(
  program: string,
  args: readonly string[],
  limits: Limits,
  signal?: AbortSignal,
): Promise<Ended> {
  signal?.throwIfAborted();
  const seconds = Math.ceil(limits.seconds);
  const bounds = [`--data=${limits.memory}`, `--cpu=${seconds}`, `--fsize=${limits.fileSize}`, '--core=0'];
  // Where the limits cannot be set, the time is still bounded.
  const isBounded = existsSync(PRLIMIT);
  const child = spawn(isBounded ? PRLIMIT : program, [...(isBounded ? [...bounds, program] : []), ...args], {
    stdio: ['ignore', 'pipe', 'pipe'],
    // Nothing that this program knows: what it reads may be hostile.
    env: { NODE_ENV: 'production', PATH: process.env.PATH, HOME: process.env.HOME, LC_ALL: 'C.UTF-8' },
  });
  return new Promise<Ended>((resolve, reject) => {
    const heard: Record<'out' | 'err', Buffer[]> = { out: [], err: [] };
    const bytes = { out: 0, err: 0 };
    let over: Ended['over'] = null;
    const stop = (why: Ended['over']): void => {
      over ??= why;
      child.kill('SIGKILL');
    };
    const listen = (kind: 'out' | 'err') => (piece: Buffer) => {
      bytes[kind] += piece.length;
      if (bytes[kind] <= limits.answer) heard[kind].push(piece);
      else if (kind === 'out') stop('answer');
    };
    child.stdout.on('data', listen('out'));
    child.stderr.on('data', listen('err'));
    const timer = setTimeout(() => stop('time'), limits.seconds * 1000);
    const abort = (): void => stop(null);
    signal?.addEventListener('abort', abort, { once: true });
    const end = (): void => {
      clearTimeout(timer);
      signal?.removeEventListener('abort', abort);
    };
    child.once('error', (error) => {
      end();
      reject(error);
    });
    child.once('close', (code, by) => {
      end();
      if (signal?.aborted) return reject(signal.reason as Error);
      const stderr = Buffer.concat(heard.err).toString('utf8');
      // The processor's time is a limit of the system's, which ends the program by a signal of its own.
      if (by === 'SIGXCPU') over ??= 'time';
      // The program that sets the limits says so where there is none to start.
      if (isBounded && code === 127) {
        return reject(Object.assign(new Error(`${program} is not installed`), { code: 'ENOENT' }));
      }
      resolve({ code, stdout: Buffer.concat(heard.out), stderr, over });
    });
  });
}
