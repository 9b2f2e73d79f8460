import { deflateSync } from 'node:zlib';
import sharp from 'sharp';
import { randomOf } from '../../../tests/testSheet';
import {
  PlainG4Encoder,
  bilevelPngHead,
  bilevelPngRows,
  filmPdf,
  pngChunk,
  tiffHead,
  transparentPixels,
  uniqueInkNames,
  withResolution,
} from '.';

// Read back by libvips (with libpng and libtiff), which the project did not write.

/** Rows of bits, 1 = ink, with runs of many lengths. */
function bitmap(width: number, height: number, seed: number): Uint8Array {
  const random = randomOf(seed);
  const rowBytes = (width + 7) >> 3;
  const bits = new Uint8Array(rowBytes * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width;) {
      const run = 1 + Math.floor(random() ** 4 * 400);
      const ink = random() < 0.5;
      for (let k = 0; k < run && x < width; k++, x++)
        if (ink) bits[y * rowBytes + (x >> 3)]! |= 128 >> (x & 7);
    }
  }
  return bits;
}

const isInk = (bits: Uint8Array, width: number, x: number, y: number) =>
  (bits[y * ((width + 7) >> 3) + (x >> 3)]! & (128 >> (x & 7))) !== 0;

/** What libvips reads: 0 = black. */
async function read(file: Uint8Array) {
  const { data, info } = await sharp(file).toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
  return { ...info, at: (x: number, y: number) => data[(y * info.width + x) * info.channels]! };
}

function g4(bits: Uint8Array, width: number, rows: number): Uint8Array {
  const encoder = new PlainG4Encoder(width);
  return Buffer.concat([encoder.encode(bits, rows), encoder.finish()]);
}

describe('Group 4', () => {
  // ITU-T T.6: a row like the one above is V0 ("1") for each change and at its end; the end is twice 000000000001.
  it('of two white rows is two bits and the end of the block', () => {
    expect([...g4(new Uint8Array(2), 8, 2)]).toEqual([0b11000000, 0b00000100, 0b00000000, 0b01000000]);
  });

  // T.6: horizontal mode 001, white run of 0 (00110101), black run of 8 (000101); then the end.
  it('of a black row of eight is horizontal mode with the codes of Recommendation T.4', () => {
    const bytes = g4(Uint8Array.of(255), 8, 1);
    const text = [...bytes].map((byte) => byte.toString(2).padStart(8, '0')).join('');
    expect(text.startsWith('001' + '00110101' + '000101' + '000000000001000000000001')).toBe(true);
  });
});

test.each([
  [1, 1],
  [7, 9],
  [640, 33],
  [5003, 12],
])('a TIFF of %d by %d pixels is what libtiff reads', async (width, height) => {
  const bits = bitmap(width, height, width);
  const stream = g4(bits, width, height);
  const head = tiffHead({ width, height, dpi: 720, length: stream.length, description: 'Film 2, Red' });
  const file = Buffer.concat([head, stream]);
  const metadata = await sharp(file).metadata();
  expect([metadata.width, metadata.height, metadata.density]).toEqual([width, height, 720]);
  const image = await read(file);
  let wrong = 0;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) if (image.at(x, y) < 128 !== isInk(bits, width, x, y)) wrong++;
  expect(wrong).toBe(0);
});

describe('PNG', () => {
  it('ends with the chunk that the standard prints, checksum and all', () => {
    // W3C PNG: an IEND chunk has no data, and so always the same checksum.
    expect(Buffer.from(pngChunk('IEND', new Uint8Array(0))).toString('hex')).toBe('0000000049454e44ae426082');
  });

  it.each([
    [8, 3],
    [13, 7],
    [1200, 5],
  ])('of %d by %d bits is what libpng reads, with its resolution', async (width, height) => {
    const bits = bitmap(width, height, width + height);
    const rows = deflateSync(bilevelPngRows(bits, width, height));
    const file = Buffer.concat([
      bilevelPngHead(width, height, 1440),
      pngChunk('IDAT', rows),
      pngChunk('IEND', new Uint8Array(0)),
    ]);
    const metadata = await sharp(file).metadata();
    expect([metadata.width, metadata.height, metadata.density]).toEqual([width, height, 1440]);
    const image = await read(file);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) expect(image.at(x, y) < 128).toBe(isInk(bits, width, x, y));
  });

  it('gets a resolution without its pixels being touched', async () => {
    const plain = await sharp({ create: { width: 5, height: 4, channels: 3, background: '#c8382e' } })
      .png()
      .toBuffer();
    const told = withResolution(plain, 300);
    expect((await sharp(told).metadata()).density).toBe(300);
    expect(await sharp(told).raw().toBuffer()).toEqual(await sharp(plain).raw().toBuffer());
  });
});

test('a PDF finds each object where its table says, and pages have the exact size of their sheet', () => {
  const streams = [Buffer.from('first stream'), Buffer.from('and a second one')];
  const pages = streams.map(({ length }, k) => ({
    widthMm: 330.2,
    heightMm: 482.6 + k,
    dpi: 720,
    widthPx: 9360,
    heightPx: 13680,
    length,
  }));
  const parts = [...filmPdf(pages, 'Søby 7 films', 'ab'.repeat(16))].map((part) =>
    part instanceof Uint8Array ? Buffer.from(part) : streams[part.page]!,
  );
  const file = Buffer.concat(parts).toString('latin1');
  // ISO 32000-1, 7.5.4: entries of twenty bytes, the first for object 0.
  const start = Number(/startxref\n(\d+)\n%%EOF/.exec(file)![1]);
  expect(file.slice(start, start + 4)).toBe('xref');
  const [, count] = /xref\n0 (\d+)\n/.exec(file.slice(start))!;
  const entries = file
    .slice(file.indexOf('\n', start + 5) + 1)
    .match(/\d{10} \d{5} [nf] \n|\d{10} \d{5} [nf]\r\n/g)!;
  expect(entries).toHaveLength(Number(count));
  entries.slice(1).forEach((entry, k) => {
    const at = Number(entry.slice(0, 10));
    expect(file.slice(at).startsWith(`${k + 1} 0 obj`)).toBe(true);
  });
  const boxes = [...file.matchAll(/\/MediaBox \[\s*0 0 ([\d.]+) ([\d.]+)\s*\]/g)].map(([, w, h]) => [
    Number(w),
    Number(h),
  ]);
  expect(boxes).toHaveLength(2);
  expect(boxes[0]![0]).toBeCloseTo((330.2 * 72) / 25.4, 3);
  expect(boxes[1]![1]).toBeCloseTo((483.6 * 72) / 25.4, 3);
  for (const stream of streams) expect(file).toContain(`stream\n${stream.toString()}`);
});

describe('a print on nothing', () => {
  it('lets through as much as black and white grounds differ by, and gives back its own colour', () => {
    // Opaque red, nothing, and half of white: over black half its light, over white all of it.
    const half = Math.round((1.055 * 0.5 ** (1 / 2.4) - 0.055) * 255);
    const onBlack = [200, 30, 40, 255, 0, 0, 0, 255, half, half, half, 255];
    const onWhite = [200, 30, 40, 255, 255, 255, 255, 255, 255, 255, 255, 255];
    const pixels = transparentPixels(onBlack, onWhite);
    expect([...pixels.subarray(0, 4)]).toEqual([200, 30, 40, 255]);
    expect(pixels[7]).toBe(0);
    expect(Math.abs(pixels[11]! - 128)).toBeLessThanOrEqual(1);
    expect([...pixels.subarray(8, 11)].every((code) => code > 252)).toBe(true);
  });
});

test('inks of one name are told apart in files that name them', () => {
  const names = uniqueInkNames(['Red', 'red', 'Red', 'Gold']);
  expect(new Set(names).size).toBe(4);
  expect(names[0]).toBe('Red');
  // ISO 32000-1, 8.6.6.4: names that stand for process inks, all of them or none.
  expect(uniqueInkNames(['All', 'Black']).some((name) => name === 'All' || name === 'Black')).toBe(false);
});
