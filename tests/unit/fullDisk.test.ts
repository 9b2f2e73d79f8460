import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { distFolder, projectRoot } from '@/server/projectRoot';

// Disks of a few kilobytes, in a mount namespace of their own: Linux lets no file of them be seen elsewhere.

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'kerameus-full-'));
  const art =
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><rect width="9" height="9" fill="#c8202a"/><circle cx="4" cy="4" r="3" fill="#f0b030"/></svg>';
  writeFileSync(path.join(folder, 'art.svg'), art);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** Whether this machine lets a process mount for itself. */
const canMount = spawnSync('unshare', ['-rm', 'true']).status === 0;

/** Makes films with a small disk mounted at a folder; says how the command line ended and what is left there. */
function onSmallDisk(disk: string, kilobytes: number, out: string, temporary?: string) {
  mkdirSync(disk, { recursive: true });
  const command = [
    process.execPath,
    path.join(distFolder(), 'cli.mjs'),
    'separate',
    path.join(folder, 'art.svg'),
  ];
  const options = ['--width', '4in', '--garment', '#16233f', '--out', out, '--date', '2026-03-14'];
  const script = `mount -t tmpfs -o size=${kilobytes}k tmpfs "$0" || exit 99; "$@"; status=$?; find "$0" -type f; exit $status`;
  const env = { ...process.env, KERAMEUS_ROOT: projectRoot(), ...(temporary ? { TMPDIR: temporary } : {}) };
  const { status, stdout, stderr } = spawnSync(
    'unshare',
    ['-rm', 'sh', '-c', script, disk, ...command, ...options],
    {
      env,
      encoding: 'utf8',
    },
  );
  return { status, err: stderr, left: stdout.trim() };
}

(canMount ? describe : describe.skip)('a full disk', () => {
  test('under the films ends in a sentence, and nothing half made is kept', () => {
    const disk = path.join(folder, 'out');
    const { status, err, left } = onSmallDisk(disk, 20, path.join(disk, 'films'));
    expect(status).toBe(2);
    expect(err).toMatch(/^kerameus: There is no room left on the disk/);
    expect(left).toBe('');
  });

  test('under the scratch files is told before anything begins', () => {
    const disk = path.join(folder, 'scratch');
    const out = path.join(folder, 'films');
    const { status, err, left } = onSmallDisk(disk, 400, out, disk);
    expect(status).toBe(2);
    expect(err).toMatch(/MB of room for scratch files, and \d+ MB are free/);
    expect(left).toBe('');
    expect(existsSync(out) ? readdirSync(out).filter((name) => name !== 'plates') : []).toEqual([]);
  });
});
