import { execFile } from 'node:child_process';
import path from 'node:path';
import { promisify } from 'node:util';
import { distFolder, projectRoot } from '@/server/projectRoot';
import { bundleProgram } from '../scripts/lib/bundle.mjs';
import { MEMORY_ENV } from '../scripts/lib/system.mjs';

/** Bundles a program of the tests and runs it to its end, in the environment that the worker has; returns what it printed. */
export async function runBundled(entry: string, args: readonly string[]): Promise<string> {
  const outfile = path.join(distFolder(), `test-${path.basename(entry, '.ts')}.mjs`);
  await bundleProgram(entry, outfile);
  try {
    const { stdout } = await promisify(execFile)(process.execPath, [outfile, ...args], {
      cwd: projectRoot(),
      env: { ...process.env, ...MEMORY_ENV },
      maxBuffer: 1 << 28,
    });
    return stdout;
  } catch (thrown) {
    const { message, stdout } = thrown as Error & { readonly stdout?: string };
    throw new Error(`${message}\n${stdout ?? ''}`, { cause: thrown });
  }
}
