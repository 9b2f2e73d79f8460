import { execFileSync, spawnSync } from 'node:child_process';
import path from 'node:path';

const root = path.resolve('.');
const dist = process.env.KERAMEUS_DIST ?? 'dist';

/** The project's command line, as it is built. */
export function run(args: readonly string[], env: Readonly<Record<string, string>> = {}) {
  const result = spawnSync(process.execPath, [path.join(root, dist, 'cli.mjs'), ...args], {
    encoding: 'utf8',
    env: { ...process.env, KERAMEUS_ROOT: root, KERAMEUS_DIST: dist, ...env },
  });
  return { status: result.status ?? -1, out: result.stdout, err: result.stderr };
}

/** What it says where it must succeed silently, or what is wrong. */
export function outcome(
  args: readonly string[],
  env?: Readonly<Record<string, string>>,
): { status: number; err: string } {
  const { status, err } = run(args, env);
  return { status, err };
}

/** What it says when it separates artwork, with options by their names. */
export function separate(
  artwork: string,
  out: string,
  options: Readonly<Record<string, string>>,
): { status: number; err: string } {
  return outcome([
    'separate',
    artwork,
    '--out',
    out,
    ...Object.entries(options).flatMap(([name, value]) => [`--${name}`, value]),
  ]);
}

/** What another program says. */
export function tool(command: string, ...args: string[]): string {
  return execFileSync(command, args, { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] });
}
