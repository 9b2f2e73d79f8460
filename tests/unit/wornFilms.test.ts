/** Worn textures on real films, measured by scipy's distance transform: a program and a method that the project did not write. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { parseJobSheet } from '@/core/sheet';
import { outcome } from './commandLine';

const DPI = 720;
const CHOKE_MM = 0.2;
const ART = `<svg xmlns="http://www.w3.org/2000/svg" width="60mm" height="60mm" viewBox="0 0 60 60">
  <rect x="4" y="4" width="52" height="26" fill="#f4c020"/><rect x="4" y="30" width="52" height="26" fill="#c8322e"/>
</svg>`;

interface Report {
  readonly plates: readonly {
    readonly name: string;
    readonly role: string;
    readonly file: string;
    readonly coverage: number;
  }[];
  readonly findings: readonly { readonly code: string }[];
}

interface Films {
  readonly report: Report;
  readonly base: Uint8Array;
  readonly colours: Uint8Array;
  readonly width: number;
  readonly height: number;
}

let folder: string;
let plain: Films;
let worn: Films;

const separated = (out: string, texture: readonly string[]) =>
  outcome([
    ...['separate', path.join(folder, 'art.svg'), '--out', out, '--width', '60mm', '--garment', '#18181a'],
    ...['--choke', `${CHOKE_MM}mm`, '--dpi', String(DPI), '--marks', 'none', '--sheet', '80x100mm'],
    ...['--formats', 'tiff-screen', '--date', '2026-01-01', ...texture],
  ]);

async function filmsOf(name: string, texture: readonly string[]): Promise<Films> {
  const out = path.join(folder, name);
  expect(separated(out, texture)).toMatchObject({ status: 0 });
  const report = JSON.parse(readFileSync(path.join(out, 'report.json'), 'utf8')) as Report;
  let size = { width: 0, height: 0 };
  const inked = async (roles: readonly string[]) => {
    let all: Uint8Array | null = null;
    for (const { file } of report.plates.filter(({ role }) => roles.includes(role))) {
      const { data, info } = await sharp(path.join(out, file.replace(/tif$/, 'screen.tif')))
        .toColourspace('b-w')
        .raw()
        .toBuffer({ resolveWithObject: true });
      size = { width: info.width, height: info.height };
      all ??= new Uint8Array(info.width * info.height);
      // Films are black where ink prints.
      for (let i = 0; i < all.length; i++) if (data[i * info.channels]! < 128) all[i] = 255;
    }
    return all!;
  };
  const [base, colours] = [await inked(['underbase']), await inked(['colour', 'highlight'])];
  return { report, base, colours, ...size };
}

beforeAll(async () => {
  folder = mkdtempSync(path.join(tmpdir(), 'kerameus-worn-'));
  writeFileSync(path.join(folder, 'art.svg'), ART);
  plain = await filmsOf('plain', []);
  worn = await filmsOf('worn', ['--texture', 'cracked:25%,angle=20,double=70']);
}, 300_000);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function measured(before: Films, after: Films) {
  const names = [before.base, before.colours, after.base, after.colours].map((bytes, k) => {
    const file = path.join(folder, `${k}.raw`);
    writeFileSync(file, bytes);
    return file;
  });
  const radius = String((CHOKE_MM * DPI) / 25.4);
  const script = path.join(process.cwd(), 'tests/reference/wornHoles.py');
  const said = execFileSync('python3', [
    script,
    String(before.width),
    String(before.height),
    radius,
    ...names,
  ]);
  return JSON.parse(said.toString()) as Record<'looked' | 'lost' | 'tooNear' | 'tooFar' | 'added', number>;
}

test('holes of the base are wider than those of the colours by its choke, to a pixel, and no ink is added', () => {
  const found = measured(plain, worn);
  expect(found.looked).toBeGreaterThan(1e6);
  // One layer wears a quarter, two of them what is left of three quarters of three quarters.
  expect(found.lost).toBeGreaterThan(0.3);
  expect(found.lost).toBeLessThan(0.5);
  expect(found).toMatchObject({ tooNear: 0, tooFar: 0, added: 0 });
});

test('coverage in the report is that of the worn films', () => {
  const cover = ({ width, height, base }: Films) =>
    base.reduce((sum, ink) => sum + +(ink !== 0), 0) / (width * height);
  const share = ({ report }: Films) => report.plates.find(({ role }) => role === 'underbase')!.coverage;
  expect(share(worn) / share(plain)).toBeCloseTo(cover(worn) / cover(plain), 2);
});

test('the job sheet beside the films has the texture, and wishes that make no sense are refused in words', () => {
  const { texture } = parseJobSheet(JSON.parse(readFileSync(path.join(folder, 'worn', 'job.json'), 'utf8')));
  expect(texture).toMatchObject({ kind: 'cracked', strength: 0.25, angleDeg: 20, secondDeg: 70 });
  for (const [given, words] of [
    ['marble', /no texture.*cracked/s],
    ['cracked:95%', /strength=95%.*0 to 90/s],
    ['cracked,depth=3', /"depth=3".*Settings are strength/s],
    ['cracked,angle=north', /angle=north.*degrees/s],
    ['none,scale=50%', /no texture/],
  ] as const) {
    const refused = separated(path.join(folder, 'not'), ['--texture', given]);
    expect(refused.status).not.toBe(0);
    expect(refused.err).toMatch(words);
  }
});
