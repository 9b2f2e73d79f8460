import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { type Page, expect, test } from '@playwright/test';
import sharp from 'sharp';
import { settled } from './support';

// The films of every demo job, made through the page as a user makes them, measured by libtiff, libvips and a Fourier sum.

const IN = 25.4;

interface Screen {
  readonly lpi: number;
  readonly angleDeg: number;
  readonly screening: string;
}
interface Job {
  readonly sheet: {
    readonly print: { readonly widthMm: number; readonly heightMm: number };
    readonly plates: readonly { readonly ink: { readonly name: string }; readonly screen: Screen }[];
    readonly film: { readonly dpi: number; readonly sheetWidthMm: number; readonly sheetHeightMm: number };
  };
}

/** A film as libvips reads it: 1 = ink. */
interface Film {
  readonly path: string;
  readonly width: number;
  readonly height: number;
  readonly ink: Uint8Array;
}

/** The films on the page, one after another: each has more than a hundred million pixels. */
async function* fetchFilms(page: Page): AsyncGenerator<Film> {
  const folder = mkdtempSync(path.join(tmpdir(), 'kerameus-demo-'));
  const links = await page
    .getByRole('link', { name: /\.tif/ })
    .evaluateAll((all) =>
      all.map((link) => [(link as HTMLAnchorElement).download, (link as HTMLAnchorElement).href] as const),
    );
  for (const [name, href] of links) {
    const file = path.join(folder, name);
    writeFileSync(file, await (await page.request.get(href)).body());
    const { data, info } = await sharp(file).toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
    for (let k = 0; k < data.length; k++) data[k] = data[k] === 0 ? 1 : 0;
    yield { path: file, width: info.width, height: info.height, ink: data };
  }
}

/** Ink in a rectangle of a film, as rows joined, for comparing. */
function cut({ ink, width }: Film, x0: number, y0: number, w: number, h: number): Uint8Array {
  const out = new Uint8Array(w * h);
  for (let y = 0; y < h; y++) out.set(ink.subarray((y0 + y) * width + x0, (y0 + y) * width + x0 + w), y * w);
  return out;
}

const share = (part: Uint8Array) => part.reduce((sum, value) => sum + value, 0) / part.length;

const SIDE = 512;

/** The strongest frequency near one, in cycles a pixel, by a Fourier sum through a Hann window. */
function strongest(part: Uint8Array, frequency: number, angleDeg: number) {
  const mean = share(part);
  const hann = Float64Array.from({ length: SIDE }, (_, k) => 0.5 - 0.5 * Math.cos((2 * Math.PI * k) / SIDE));
  const power = (f: number, degrees: number): number => {
    const angle = (degrees * Math.PI) / 180;
    // Counter-clockwise as seen, y down.
    const [fx, fy] = [f * Math.cos(angle), -f * Math.sin(angle)];
    const cos = Float64Array.from({ length: SIDE }, (_, x) => hann[x]! * Math.cos(2 * Math.PI * fx * x));
    const sin = Float64Array.from({ length: SIDE }, (_, x) => hann[x]! * Math.sin(2 * Math.PI * fx * x));
    let [re, im] = [0, 0];
    for (let y = 0; y < SIDE; y++) {
      let [a, b] = [0, 0];
      for (let x = 0; x < SIDE; x++) {
        const value = part[y * SIDE + x]! - mean;
        a += value * cos[x]!;
        b += value * sin[x]!;
      }
      const [c, s] = [Math.cos(2 * Math.PI * fy * y) * hann[y]!, Math.sin(2 * Math.PI * fy * y) * hann[y]!];
      re += a * c - b * s;
      im += a * s + b * c;
    }
    return re * re + im * im;
  };
  let best = { f: frequency, degrees: angleDeg, power: 0 };
  for (let step = 1; step > 0.02; step /= 3) {
    const from = best;
    for (let i = -3; i <= 3; i++) {
      for (let j = -3; j <= 3; j++) {
        const f = from.f * (1 + 0.01 * step * i);
        const degrees = from.degrees + 0.6 * step * j;
        const found = power(f, degrees);
        if (found > best.power) best = { f, degrees, power: found };
      }
    }
  }
  return best;
}

/** A square of the film whose coverage is nearest to a light middle tone, if there is one. */
function middleTone(film: Film): Uint8Array | null {
  let best: Uint8Array | null = null;
  let least = 0.15;
  for (let y = 0; y + SIDE <= film.height; y += SIDE / 2) {
    for (let x = 0; x + SIDE <= film.width; x += SIDE / 2) {
      const part = cut(film, x, y, SIDE, SIDE);
      const off = Math.abs(share(part) - 0.3);
      if (off < least) [best, least] = [part, off];
    }
  }
  return best;
}

/** How many plates of each job are solid, and how many have dots over a large enough area to be measured. */
const JOBS = [
  // The base under its glow ends too soon for a window of middle tone; the glow itself has one.
  ['The Net Loft', { solid: 0, screened: 1 }],
  ['Brackwater Rowers', { solid: 1, screened: 0 }],
  ['Kite & Kelp festival crew', { solid: 4, screened: 0 }],
] as const;

for (const [name, least] of JOBS) {
  test(`the films of ${name} measure right`, async ({ page, request }) => {
    test.setTimeout(240_000);
    const jobs = (await (await request.get('/api/jobs')).json()) as { id: string; name: string }[];
    const { id } = jobs.find((job) => job.name === name)!;
    const { sheet } = (await (await request.get(`/api/jobs/${id}`)).json()) as Job;
    await page.goto(`/jobs/${id}`);
    await settled(page);
    await page.getByRole('tab', { name: 'Film' }).click();
    await page.getByRole('button', { name: 'Make films' }).click();
    // An earlier set goes from the list while the new one is made.
    await expect(page.getByRole('button', { name: 'Cancel', exact: true })).toBeVisible();
    await expect(page.getByRole('link', { name: 'films.zip' }).first()).toBeVisible({ timeout: 120_000 });
    const { dpi, sheetWidthMm, sheetHeightMm } = sheet.film;
    const px = (mm: number) => (mm * dpi) / IN;
    const printWidth = Math.round(px(sheet.print.widthMm));
    const printHeight = Math.round(px(sheet.print.heightMm));
    const left = Math.round(px((sheetWidthMm - sheet.print.widthMm) / 2));
    const top = Math.round(px((sheetHeightMm - sheet.print.heightMm) / 2));
    let [solid, screened] = [0, 0];
    let above: Uint8Array | null = null;
    let count = 0;
    for await (const film of fetchFilms(page)) {
      const { ink, screen } = sheet.plates[count++]!;
      const info = execFileSync('tiffinfo', [film.path], {
        encoding: 'utf8',
        stdio: ['ignore', 'pipe', 'ignore'],
      });
      expect(info).toContain(`Resolution: ${dpi}, ${dpi} pixels/inch`);
      expect(info).toContain('CCITT Group 4');
      expect([film.width, film.height]).toEqual([
        Math.floor(px(sheetWidthMm) + 1e-6),
        Math.floor(px(sheetHeightMm) + 1e-6),
      ]);
      // Everything common is at the same device pixel: above the print the films are one, marks and all.
      const part = cut(film, 0, 0, film.width, top - Math.ceil(px(1)));
      expect(share(part)).toBeGreaterThan(0);
      above ??= part;
      expect(Buffer.compare(part, above)).toBe(0);

      // What is solid covers on film what the page says that it covers in print.
      const lift = page.getByRole('button', { name: `Lift ${ink.name} off the table` });
      const card = lift.locator('xpath=ancestor::li[@data-station]');
      await expect(card).toContainText('%', { timeout: 60_000 });
      const words = await card.innerText();
      if (/\bsolid\b/.test(words)) {
        const told = Number(/([\d.]+) %/.exec(words)![1]);
        const printed = share(cut(film, left, top, printWidth, printHeight)) * 100;
        expect(Math.abs(printed - told)).toBeLessThan(told < 10 ? 0.2 : 0.8);
        solid++;
        continue;
      }
      const tone = screen.screening === 'grid' ? middleTone(film) : null;
      const peak = tone && strongest(tone, screen.lpi / dpi, screen.angleDeg);
      // A window of solids has no such frequency; dots give a hundred times its power.
      if (!peak || peak.power < (SIDE * SIDE * 0.02) ** 2) continue;
      expect(Math.abs((peak.f * dpi) / screen.lpi - 1)).toBeLessThan(0.003);
      expect(Math.abs(peak.degrees - screen.angleDeg)).toBeLessThan(0.15);
      screened++;
    }
    expect(count).toBe(sheet.plates.length);
    expect(solid).toBeGreaterThanOrEqual(least.solid);
    expect(screened).toBeGreaterThanOrEqual(least.screened);
  });
}
