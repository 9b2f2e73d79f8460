import { rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { scratchFolder } from '@/server/files/scratch';
import { bad } from './arguments';

/** Throws KerameusError `argument` where a file is not there. @param what it is, in words. */
export async function checkFile(file: string, what: string): Promise<void> {
  const found = await stat(file).catch(() => null);
  if (!found?.isFile()) throw bad(what, `There is no file ${path.basename(file)}.`, 'Check the name.');
}

/** A folder for what is only needed while working; removed at the end, whatever happens. */
export async function withWorkFolder<T>(work: (folder: string) => Promise<T>): Promise<T> {
  const folder = await scratchFolder('cli');
  try {
    return await work(folder);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
