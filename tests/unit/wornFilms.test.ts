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

test('a drawing as a texture opens holes where it is dark, at its place and size, and the job made again from its sheet is the same', async () => {
  // At 100 % a picture's 1024 samples are 0.2 mm wide each: 204.8 mm in all. A disc of 9 mm, 25 mm from the left and 32 from above.
  const disc = { x: 25, y: 32, radius: 9 };
  writeFileSync(
    path.join(folder, 'disc.svg'),
    `<svg xmlns="http://www.w3.org/2000/svg" width="204.8mm" height="102.4mm" viewBox="0 0 204.8 102.4"><circle cx="${disc.x}" cy="${disc.y}" r="${disc.radius}"/></svg>`,
  );
  const films = await filmsOf('pictured', ['--texture-picture', path.join(folder, 'disc.svg')]);
  const { width, height } = films;
  const pxPerMm = DPI / 25.4;
  // The print stands in the middle of its sheet.
  const { colours: whole } = plain;
  const [left, top] = [(80 - 60) / 2, (100 - 60) / 2];
  let [open, shut, inside, worn] = [0, 0, 0, 0];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (whole[i] === 0) continue;
      const away =
        Math.hypot((x + 0.5) / pxPerMm - left - disc.x, (y + 0.5) / pxPerMm - top - disc.y) - disc.radius;
      inside += +(away < 0);
      worn += +(films.colours[i] === 0);
      // Right to a sample from corner to corner.
      if (away > 0.28 && films.colours[i] === 0) open++;
      if (away < -0.28 && films.colours[i] !== 0) shut++;
    }
  }
  expect(inside / pxPerMm ** 2).toBeCloseTo(Math.PI * disc.radius ** 2, 0);
  expect([open, shut]).toEqual([0, 0]);
  expect(Math.abs(worn / inside - 1)).toBeLessThan(0.01);

  const job = path.join(folder, 'pictured', 'job.json');
  const again = path.join(folder, 'again');
  expect(outcome(['films', job, '--out', again])).toMatchObject({ status: 0 });
  const { file } = films.report.plates[1]!;
  const screen = file.replace(/tif$/, 'screen.tif');
  expect(readFileSync(path.join(again, screen))).toEqual(readFileSync(path.join(folder, 'pictured', screen)));
  // Without the picture beside it the sheet says so.
  const { texture } = parseJobSheet(JSON.parse(readFileSync(job, 'utf8')));
  rmSync(path.join(folder, 'pictured', `texture-${texture!.picture!.sha256.slice(0, 16)}.png`));
  const refused = outcome(['films', job, '--out', path.join(folder, 'none')]);
  expect(refused.status).not.toBe(0);
  expect(refused.err).toContain('does not lie beside the job sheet');
}, 120_000);
