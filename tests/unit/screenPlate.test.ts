import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { type Kernels, PLAIN_KERNELS, createWasmKernels } from '@/core/kernels';
import { expandRow, expansion } from '@/core/raster';
import { type ScreenedPlate, ThresholdTiles, firstCodes, screenPlate } from '@/core/screening';
import { filmToneTable } from '@/core/tone';
import { outcome } from './commandLine';

// One finished plate to a film: the compiled loop against its plain twin, and films read by libvips and made by Ghostscript, programs
// that the project did not write.

let folder: string;

beforeAll(() => (folder = mkdtempSync(path.join(tmpdir(), 'kerameus-plate-'))));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const at = (name: string) => path.join(folder, name);

const screen = (plate: string, out: string, ...options: string[]) =>
  outcome(['screen', plate, '--out', out, ...options], { KERAMEUS_CACHE: at('tiles') });

function graymap(
  name: string,
  width: number,
  height: number,
  tone: (x: number, y: number) => number,
): string {
  const bytes = Buffer.alloc(width * height);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) bytes[y * width + x] = tone(x, y);
  writeFileSync(at(name), Buffer.concat([Buffer.from(`P5\n# a comment\n${width} ${height}\n255\n`), bytes]));
  return at(name);
}

/** 1 = ink, by libvips. */
async function inked(file: string) {
  const { data, info } = await sharp(file).toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
  return { ink: data.map((value) => (value === 0 ? 1 : 0)), width: info.width, height: info.height };
}

describe('the compiled encoder of plates', () => {
  const compiled = createWasmKernels(new WebAssembly.Module(readFileSync('public/kernels.wasm')));
  const tiles = new ThresholdTiles();

  /** The G4 stream of a plate's film, in two strips. */
  function stream(kernels: Kernels, plate: ScreenedPlate): Buffer {
    const encoder = kernels.createPlateEncoder(plate);
    const rows = plate.down.from.length;
    const half = rows >> 1;
    return Buffer.concat([encoder.encode(half), encoder.encode(rows - half), encoder.finish()]);
  }

  function plateOf(
    {
      edges,
      pixels,
      count,
      angleDeg,
    }: { edges: 'nearest' | 'linear'; pixels: number; count: number; angleDeg: number },
    rows: ScreenedPlate['rows'],
  ): ScreenedPlate {
    const height = Math.max(1, Math.round(pixels / 2));
    return {
      width: count,
      pixels,
      across: expansion(count, pixels, edges, (count + 15) & ~15),
      down: expansion(Math.round((count * 3) / 4), height, edges),
      tile: tiles.get({ dpi: 720, lpi: 45, angleDeg }),
      rows,
    };
  }

  const CASES = [
    ['nearest', 37, 333, 22.5],
    ['linear', 37, 333, 22.5],
    ['linear', 130, 600, 45],
    ['nearest', 200, 96, 0],
    ['linear', 1, 64, 75],
    ['linear', 60, 65, 7.5],
    ['nearest', 9, 128, 52.5],
  ] as const;

  test.each(CASES)(
    'has the stream of its plain twin: %s, %d pixels on %d',
    (edges, pixels, count, angleDeg) => {
      // Bare, solid and all between, in turns and in stretches.
      const values = Uint16Array.from({ length: pixels * pixels }, (_, k) => {
        if (Math.floor(k / 13) % 3 === 1) return 0;
        return k % 11 === 5 ? 0 : k % 7 === 0 ? 65535 : (k * 7919) % 65536;
      });
      const plate = plateOf(
        { edges, pixels, count, angleDeg },
        { kind: 'tones', rowOf: (y, into) => into.set(values.subarray(y * pixels, (y + 1) * pixels)) },
      );
      const plain = stream(PLAIN_KERNELS, plate);
      expect(Buffer.compare(stream(compiled, plate), plain)).toBe(0);
      expect(screenPlate(plate, 0, plate.down.from.length).some((byte) => byte !== 0)).toBe(true);
    },
  );

  test.each([0, 0.25])(
    'bytes give the stream of their tones, compiled and plain, with a gain of %d',
    (gain) => {
      const curve = filmToneTable({ gain });
      const tones = Uint16Array.from({ length: 256 }, (_, code) => curve[code * 257]!);
      for (const [pixels, count, angleDeg] of [
        [61, 297, 22.5],
        [61, 297, 0],
        [300, 128, 45],
      ] as const) {
        const size = { edges: 'nearest', pixels, count, angleDeg } as const;
        const codes = Uint8Array.from({ length: pixels * pixels }, (_, k) =>
          k % 9 === 4 ? 0 : (k * 53) % 256,
        );
        const rowsOf = (y: number, count: number) => codes.subarray(y * pixels, (y + count) * pixels);
        const byCodes = plateOf(size, { kind: 'codes', rowsOf, first: firstCodes(tones) });
        const byTones = plateOf(size, {
          kind: 'tones',
          rowOf: (y, into) => rowsOf(y, 1).forEach((code, x) => (into[x] = tones[code]!)),
        });
        const wanted = stream(PLAIN_KERNELS, byTones);
        expect(Buffer.compare(stream(PLAIN_KERNELS, byCodes), wanted)).toBe(0);
        expect(Buffer.compare(stream(compiled, byCodes), wanted)).toBe(0);
      }
    },
  );
});

test('each tone covers its share of the film', async () => {
  const steps = [0, 13, 51, 128, 204, 242, 255];
  const plate = graymap('steps.pgm', 700, 100, (x) => steps[Math.floor(x / 100)]!);
  // 7 in across: an inch for each step, whose cells are whole at 40 lpi and 720 dpi on the axis.
  const options = ['--width', '7in', '--dpi', '720', '--lpi', '40', '--angle', '0', '--edges', 'nearest'];
  expect(screen(plate, at('steps.tif'), ...options)).toEqual({ status: 0, err: '' });
  const { ink, width, height } = await inked(at('steps.tif'));
  expect([width, height]).toEqual([5040, 720]);
  steps.forEach((step, k) => {
    let sum = 0;
    for (let y = 0; y < height; y++) for (let x = 0; x < 720; x++) sum += ink[y * width + k * 720 + x]!;
    // One part in ten thousand, counted over whole cells.
    expect(Math.abs(sum / 720 ** 2 - step / 255)).toBeLessThan(1e-4);
  });
});

test('Ghostscript makes the same film of the same plate, but for where its dots lie', async () => {
  const [width, height] = [300, 400];
  const tone = (x: number, y: number) =>
    x > 200 && y < 100 ? 255 : Math.round(127.5 + 127.5 * Math.sin(x / 40) * Math.cos(y / 55));
  const plate = graymap('waves.pgm', width, height, tone);
  const raw = readFileSync(plate).subarray(-width * height);
  writeFileSync(at('waves.raw'), raw);
  writeFileSync(
    at('film.ps'),
    `/spot {180 mul cos exch 180 mul cos add 2 div} def 45 22.5 /spot load setscreen
72 96 scale /DeviceGray setcolorspace /F (${at('waves.raw')}) (r) file def
<< /ImageType 1 /Width ${width} /Height ${height} /BitsPerComponent 8 /Decode [1 0]
/ImageMatrix [${width} 0 0 -${height} 0 ${height}] /DataSource F >> image showpage
`,
  );
  execFileSync('gs', [
    ...['-q', '-dNOPAUSE', '-dBATCH', `--permit-file-read=${folder}/`, '-r1200', '-g1200x1600'],
    ...['-sDEVICE=tiffg4', `-sOutputFile=${at('gs.tif')}`, at('film.ps')],
  ]);
  const options = ['--width', '1in', '--dpi', '1200', '--shape', 'square-round', '--edges', 'nearest'];
  expect(screen(plate, at('ours.tif'), ...options)).toEqual({ status: 0, err: '' });
  const ours = await inked(at('ours.tif'));
  const theirs = await inked(at('gs.tif'));
  expect([ours.width, ours.height]).toEqual([theirs.width, theirs.height]);
  const block = 200;
  for (let by = 0; by < 1600; by += block) {
    for (let bx = 0; bx < 1200; bx += block) {
      let [a, b] = [0, 0];
      for (let y = by; y < by + block; y++) {
        for (let x = bx; x < bx + block; x++) {
          a += ours.ink[y * 1200 + x]!;
          b += theirs.ink[y * 1200 + x]!;
        }
      }
      // A block holds some fifty cells of either screen, not the same ones.
      expect(Math.abs(a - b) / block ** 2).toBeLessThan(0.02);
    }
  }
});

test("between the centres of a plate's pixels tones run straight, and beyond the outer ones they stay", () => {
  const [pixels, count] = [60, 288];
  const tones = Uint16Array.from({ length: pixels }, (_, k) => (k * 24923) % 65536);
  const out = new Uint16Array(count);
  expandRow(tones, expansion(count, pixels, 'linear'), out);
  out.forEach((tone, x) => {
    const place = Math.min(pixels - 1, Math.max(0, ((x + 0.5) * pixels) / count - 0.5));
    const left = Math.floor(place);
    const right = Math.min(pixels - 1, left + 1);
    const wanted = tones[left]! + (tones[right]! - tones[left]!) * (place - left);
    // The place between two centres is kept in 256ths.
    expect(Math.abs(tone - wanted)).toBeLessThanOrEqual(65535 / 512 + 1);
  });
});

test('words, 16 bits and dark ink are read; colours, other files and damaged tiles are not', async () => {
  const plate = graymap('small.pgm', 60, 40, (x) => x * 4);
  const film = async (file: string, ...options: string[]) => {
    const out = at('small.tif');
    expect(screen(file, out, '--width', '1in', ...options)).toEqual({ status: 0, err: '' });
    return readFileSync(out);
  };
  const expected = await film(plate);
  const codes = Uint8Array.from({ length: 60 * 40 }, (_, k) => (k % 60) * 4);
  const grey = { raw: { width: 60, height: 40, channels: 1 as const } };
  const png = (values: Uint8Array, name: string) =>
    sharp(values, grey).toColourspace('b-w').png().toFile(at(name));
  await png(codes, 'small.png');
  expect(bitsOf(await film(at('small.png')))).toEqual(bitsOf(expected));
  await png(
    codes.map((code) => 255 - code),
    'dark.png',
  );
  expect(bitsOf(await film(at('dark.png'), '--ink', 'dark'))).toEqual(bitsOf(expected));
  const words = Buffer.alloc(60 * 40 * 2);
  for (let k = 0; k < 60 * 40; k++) words.writeUInt16BE((k % 60) * 4 * 257, k * 2);
  writeFileSync(at('words.pgm'), Buffer.concat([Buffer.from('P5 60 40 65535\n'), words]));
  expect(bitsOf(await film(at('words.pgm')))).toEqual(bitsOf(expected));

  const [tile] = readdirSync(at('tiles'));
  const bytes = readFileSync(at(path.join('tiles', tile!)));
  bytes[bytes.length - 5000]! ^= 255;
  for (const name of readdirSync(at('tiles'))) writeFileSync(at(path.join('tiles', name)), bytes);
  expect(bitsOf(await film(plate))).toEqual(bitsOf(expected));

  await sharp({ create: { width: 8, height: 8, channels: 3, background: '#c03020' } })
    .png()
    .toFile(at('colour.png'));
  const refused = screen(at('colour.png'), at('no.tif'), '--width', '1in');
  expect(refused.status).toBe(2);
  expect(refused.err).toContain('has colours');
  writeFileSync(at('text.pgm'), 'P5 of another kind');
  expect(screen(at('text.pgm'), at('no.tif'), '--width', '1in').err).toContain('no picture that can be read');
});

/** The film without its description, which names the file. */
function bitsOf(tiff: Buffer): string {
  const length = tiff.length;
  return tiff.subarray(Math.max(0, length - 2000)).toString('hex');
}
