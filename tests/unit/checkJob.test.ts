/** `check JOB.json`: what it finds is what the report of the same job's films says, and its exit code tells whether anything is severe. */
import { mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import type { Finding } from '@/core/checks';
import { run, separate } from './commandLine';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'kerameus-check-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** Makes films of artwork, and gives the job's sheet and what its report found. */
function madeOf(artwork: string, name: string, options: Readonly<Record<string, string>>) {
  const out = path.join(folder, name);
  const made = separate(artwork, out, { dpi: '300', formats: 'tiff', ...options });
  expect(made.status).toBe(0);
  const { findings } = JSON.parse(readFileSync(path.join(out, 'report.json'), 'utf8')) as {
    findings: Finding[];
  };
  return { job: path.join(out, 'job.json'), findings, out };
}

test('a job that a press would print as it is has no findings and exit code 0', () => {
  const art = path.join(folder, 'clean.svg');
  writeFileSync(
    art,
    '<svg xmlns="http://www.w3.org/2000/svg" width="3in" height="3in"><circle cx="140" cy="140" r="100" fill="#c8322e"/></svg>',
  );
  const { job, findings, out } = madeOf(art, 'clean', { width: '3in', garment: '#f4f4f2' });
  expect(findings).toEqual([]);
  const before = readdirSync(out).sort();
  expect(run(['check', job])).toMatchObject({ status: 0, out: 'Nothing was found.\n' });
  // It writes nothing.
  expect(readdirSync(out).sort()).toEqual(before);
});

test('what it finds is what the report says; the severe come first, with a place where there is one', async () => {
  const picture = await sharp({ create: { width: 120, height: 90, channels: 3, background: '#2f6f4f' } })
    .composite([
      { input: { create: { width: 50, height: 40, channels: 3, background: '#d8b040' } }, left: 10, top: 10 },
      { input: { create: { width: 50, height: 40, channels: 3, background: '#d8ac44' } }, left: 62, top: 10 },
    ])
    .png()
    .toBuffer();
  const art = path.join(folder, 'coarse.png');
  writeFileSync(art, picture);
  const { job, findings } = madeOf(art, 'coarse', { width: '6in', garment: '#18181a', background: 'keep' });
  const { status, out } = run(['check', job, '--as', 'json']);
  expect(status).toBe(1);
  const told = JSON.parse(out) as { severe: number; findings: Finding[] };
  expect(told.severe).toBeGreaterThan(0);
  const inOrder = (all: readonly Finding[]) => all.map((each) => JSON.stringify(each)).sort();
  expect(inOrder(told.findings)).toEqual(inOrder(findings));
  expect(told.findings.slice(0, told.severe).every(({ severity }) => severity === 'severe')).toBe(true);
  // 120 pixels on 6 in are 20 dpi.
  expect(told.findings[0]).toMatchObject({ severity: 'severe', step: 'artwork' });
  const lines = run(['check', job]).out.trimEnd().split('\n');
  expect(lines).toHaveLength(told.findings.length);
  const placed = told.findings.findIndex(({ place }) => place);
  if (placed >= 0) expect(lines[placed]).toMatch(/ \[[\d.]+, [\d.]+ mm\]$/);
});

test('options take the place of what the sheet says, as for films', () => {
  const art = path.join(folder, 'clean.svg');
  const { job } = madeOf(art, 'dark', { width: '3in', garment: '#18181a', choke: '0mm' });
  const peeking = run(['check', job]);
  expect(peeking.out).toMatch(/White will peek out/);
  expect(run(['check', job, '--choke', '0.3mm']).out).not.toMatch(/White will peek out/);
});

test('what is no job, and an unknown form, are refused in one line', () => {
  const none = path.join(folder, 'none.json');
  writeFileSync(none, '{');
  for (const args of [
    ['check', none],
    ['check', path.join(folder, 'gone.json')],
    ['check', none, '--as', 'xml'],
  ]) {
    const { status, err } = run(args);
    expect(status).toBe(2);
    expect(err).toMatch(/^kerameus: .+\n$/);
  }
});
