/** Slits between shapes that were meant to meet: found at their size, closed where that is asked for, and nothing else. */
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { BARE } from '@/core/raster';
import { closeGaps, findGaps, gapsHalo } from '@/core/separation';
import { separate } from './commandLine';

const SIDE = 64;
/** A plane by a rule for each pixel's middle. */
const plane = (name: (x: number, y: number) => number): Uint8Array =>
  Uint8Array.from({ length: SIDE * SIDE }, (_, i) => name((i % SIDE) + 0.5, Math.floor(i / SIDE) + 0.5));
const found = (label: Uint8Array, gapPx: number): Set<number> => {
  const pixels = new Set<number>();
  findGaps(label, SIDE, SIDE, gapPx, (pixel) => pixels.add(pixel));
  return pixels;
};

describe('gaps', () => {
  test.each([1, 2, 3, 4, 5, 6, 7])(
    'a straight slit of %i pixels is one below its next width only',
    (wide) => {
      const slit = plane((x, y) => (y > 20 && y < 20 + wide ? BARE : x < 30 ? 0 : 1));
      const upright = plane((x) => (x > 20 && x < 20 + wide ? BARE : 2));
      for (const label of [slit, upright]) {
        // At the plane's border there is nothing to see beyond: the middle counts.
        const middle = [...found(label, wide + 0.25)].filter((i) => {
          const [x, y] = [i % SIDE, Math.floor(i / SIDE)];
          return x > 15 && x < 49 && y > 15 && y < 49;
        });
        expect(middle).toHaveLength(wide * 33);
        expect(found(label, wide).size).toBe(0);
      }
    },
  );

  test.each([0, 17, 30, 45, 60, 73])('a slit at %i degrees is found by its width across', (degrees) => {
    const [cos, sin] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
    const slit = (wide: number) =>
      plane((x, y) => (Math.abs((x - 32) * sin - (y - 32) * cos) < wide / 2 ? BARE : 3));
    const inside = (pixels: Set<number>) =>
      [...pixels].filter((i) => Math.hypot((i % SIDE) - 32, Math.floor(i / SIDE) - 32) < 16).length;
    const bare = (label: Uint8Array) => inside(new Set([...label.keys()].filter((i) => label[i] === BARE)));
    // A pixel and a half narrower and wider than what is looked for: the width of a slanted slit on pixels is not sharper than that.
    expect(inside(found(slit(3.5), 5))).toBe(bare(slit(3.5)));
    expect(inside(found(slit(6.5), 5))).toBe(0);
  });

  test('an open field, its corners and a lone shape on it are no gap', () => {
    const box = plane((x, y) => (x > 20 && x < 40 && y > 20 && y < 40 ? 0 : BARE));
    const notch = plane((x, y) => (x > 10 && x < 50 && y > 10 && y < 50 && !(x > 30 && y > 30) ? 0 : BARE));
    expect(found(box, 6).size).toBe(0);
    expect(found(notch, 6).size).toBe(0);
  });

  test('closing gives each pixel to the nearer shape and leaves all else as it was', () => {
    const label = plane((x, y) => (y > 20 && y < 24 ? BARE : y < 40 ? (y < 21 ? 0 : 1) : BARE));
    const before = label.slice();
    closeGaps(label, SIDE, SIDE, 5);
    for (let i = 0; i < label.length; i++) {
      const [x, y] = [i % SIDE, Math.floor(i / SIDE)];
      if (y < 20 || y > 23 || x < 12 || x > 51) continue;
      expect(label[i]).toBe(y < 22 ? 0 : 1);
    }
    const outside = (plane: Uint8Array) => plane.filter((_, i) => i < 20 * SIDE || i >= 24 * SIDE);
    expect(outside(label)).toEqual(outside(before));
  });

  test('a part of a plane gives the same as the whole, so far in as the rule looks', () => {
    let seed = 7;
    const random = () => (seed = (seed * 1103515245 + 12345) % 2 ** 31) / 2 ** 31;
    const discs = Array.from({ length: 40 }, () => [
      random() * SIDE,
      random() * SIDE,
      2 + random() * 6,
      random() * 4,
    ]);
    const name = (x: number, y: number) => {
      const disc = discs.findLast(([cx, cy, radius]) => Math.hypot(x - cx!, y - cy!) < radius!);
      return disc ? Math.floor(disc[3]!) : BARE;
    };
    const gapPx = 2.6;
    const whole = plane(name);
    closeGaps(whole, SIDE, SIDE, gapPx);
    expect(whole).not.toEqual(plane(name));
    const [left, top, size] = [11, 7, 44];
    const part = Uint8Array.from({ length: size * size }, (_, i) =>
      name(left + (i % size) + 0.5, top + Math.floor(i / size) + 0.5),
    );
    closeGaps(part, size, size, gapPx);
    const halo = gapsHalo(gapPx);
    for (let y = halo; y < size - halo; y++) {
      for (let x = halo; x < size - halo; x++)
        expect(part[y * size + x]).toBe(whole[(y + top) * SIDE + x + left]);
    }
  });
});

describe('a drawing with slits', () => {
  let folder: string;
  beforeAll(() => {
    folder = mkdtempSync(path.join(tmpdir(), 'kerameus-gaps-'));
  });
  afterAll(() => rmSync(folder, { recursive: true, force: true }));

  // 2 in for 200 units: a unit is 0.254 mm. The first slit is 0.1 mm wide, the second 0.3 mm.
  const file = () => {
    const svg =
      '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 200 100"><rect width="60" height="100" fill="#c02020"/>' +
      '<rect x="60.4" width="60" height="100" fill="#20a040"/><rect x="121.6" width="78.4" height="100" fill="#e0b020"/></svg>';
    const name = path.join(folder, 'slits.svg');
    writeFileSync(name, svg);
    return name;
  };
  const options = { width: '2in', garment: '#16233f', marks: 'none', formats: 'tiff', dpi: '720' };
  interface Report {
    readonly findings: readonly {
      readonly code: string;
      readonly measured: number;
      readonly place: { xMm: number };
    }[];
  }

  test('are told with their area and place, and closed where that is asked for', async () => {
    const [open, closed] = [path.join(folder, 'open'), path.join(folder, 'closed')];
    expect(separate(file(), open, options).status).toBe(0);
    expect(separate(file(), closed, { ...options, 'close-gaps': '0.15mm' }).status).toBe(0);
    const told = (out: string) =>
      (JSON.parse(readFileSync(path.join(out, 'report.json'), 'utf8')) as Report).findings.find(
        ({ code }) => code === 'narrow-gaps',
      );
    // 0.1016 mm of 25.4 mm: 2.6 mm², to a pixel of 360 dpi.
    expect(told(open)!.measured).toBeGreaterThan(1.7);
    expect(told(open)!.measured).toBeLessThan(3.7);
    expect(Math.abs(told(open)!.place.xMm - 60.2 * 0.254)).toBeLessThan(0.1);
    expect(told(closed)).toBeUndefined();
    // On the base's film the narrow slit is gone, and the wide one stands.
    const bareColumns = async (out: string, from: number, to: number) => {
      const film = sharp(path.join(out, '01-base-white.tif')).toColourspace('b-w');
      const { data, info } = await film.raw().toBuffer({ resolveWithObject: true });
      const row = Math.floor(info.height / 2) * info.width;
      const inset = (info.width - 1440) / 2;
      const at = (mm: number) => Math.round(inset + (mm / 25.4) * 720);
      const line = data.subarray(row + at(from), row + at(to));
      return line.filter((value) => value > 127).length;
    };
    expect(await bareColumns(open, 14.5, 16)).toBeGreaterThan(2);
    expect(await bareColumns(closed, 14.5, 16)).toBe(0);
    expect(await bareColumns(closed, 30, 31.5)).toBeGreaterThan(7);
  });
});
