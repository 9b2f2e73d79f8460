import { existsSync } from 'node:fs';
import { mkdtemp, readdir, rm, statfs } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { KerameusError } from '@/core/units';

/** Folders of scratch files name the process that they belong to: kerameus-KIND-PID-XXXXXX. */
const OWNED = /^kerameus-[a-z]+-(\d+)-\w{6}$/;

/** A folder for files that are needed only while this process works; whoever asks for it removes it. */
export function scratchFolder(kind: 'task' | 'artworks' | 'upload' | 'cli'): Promise<string> {
  return mkdtemp(path.join(tmpdir(), `kerameus-${kind}-${process.pid}-`));
}

function isAlive(pid: number): boolean {
  if (existsSync('/proc/self')) return existsSync(`/proc/${pid}`);
  try {
    process.kill(pid, 0);
    return true;
  } catch (thrown) {
    return (thrown as NodeJS.ErrnoException).code === 'EPERM';
  }
}

/** Removes the scratch of processes that ended without doing so. Returns the names of the folders that went. */
export async function sweepScratch(): Promise<string[]> {
  const gone: string[] = [];
  for (const name of await readdir(tmpdir())) {
    const pid = Number(OWNED.exec(name)?.[1] ?? NaN);
    if (!Number.isFinite(pid) || isAlive(pid)) continue;
    await rm(path.join(tmpdir(), name), { recursive: true, force: true }).catch(() => undefined);
    gone.push(name);
  }
  return gone;
}

/** Kept free on the scratch disk beside what is asked for: other programs need some, too. */
const RESERVE_BYTES = 200e6;

/**
 * Sees that there is room for scratch files before they are begun. Throws KerameusError `disk-full` that says how much is needed and how much there is.
 */
export async function assertScratchRoom(folder: string, bytes: number): Promise<void> {
  const { bavail, bsize } = await statfs(folder);
  const free = bavail * bsize;
  if (free >= bytes + RESERVE_BYTES) return;
  const mb = (count: number) => `${Math.ceil(count / 1e6)} MB`;
  throw new KerameusError({
    code: 'disk-full',
    message: `This may need ${mb(bytes + RESERVE_BYTES)} of room for scratch files, and ${mb(Math.max(0, free))} are free.`,
    remedy:
      'Make room on the disk of the folder for temporary files, or ask for fewer files at once. Nothing was begun.',
  });
}
