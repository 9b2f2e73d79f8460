import { existsSync, mkdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, expect, test } from '@jest/globals';
import { assertScratchRoom, scratchFolder, sweepScratch } from './scratch';

/** Above the largest number that a process can have here. */
const DEAD = 4_194_304 + 17;
const left = path.join(tmpdir(), `kerameus-task-${DEAD}-abCD12`);
const other = path.join(tmpdir(), `kerameus-task-${DEAD}-is-no-scratch`);
const made: string[] = [other];

afterAll(() => made.forEach((folder) => rmSync(folder, { recursive: true, force: true })));

test('scratch of processes that ended goes; that of living ones and other folders stay', async () => {
  mkdirSync(path.join(left, 'inside'), { recursive: true });
  mkdirSync(other, { recursive: true });
  const own = await scratchFolder('task');
  made.push(own);
  expect(await sweepScratch()).toContain(path.basename(left));
  expect([left, own, other].map(existsSync)).toEqual([false, true, true]);
});

test('more scratch than there is room for is refused, with how much is needed', async () => {
  await expect(assertScratchRoom(tmpdir(), 1e3)).resolves.toBeUndefined();
  await expect(assertScratchRoom(tmpdir(), 1e18)).rejects.toMatchObject({
    code: 'disk-full',
    message: expect.stringMatching(/may need 1000000000200 MB .* are free/),
  });
});
