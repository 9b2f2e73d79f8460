import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { openArtwork, takeInArtwork } from '@/server/artwork';
import { readSvg } from '@/server/artwork/readSvg';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'kerameus-art-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

async function write(name: string, bytes: Uint8Array | string): Promise<string> {
  const file = path.join(folder, name);
  writeFileSync(file, bytes);
  return file;
}

const svg = (inside: string, attributes = 'width="10" height="10"') =>
  `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" ${attributes}>${inside}</svg>`;

const refusal = (code: string, message: RegExp) =>
  expect.objectContaining({ code, message: expect.stringMatching(message) });

describe('files that are refused', () => {
  const deep = '<g>'.repeat(400) + '</g>'.repeat(400);
  const cases: readonly [string, string | Uint8Array, string, RegExp][] = [
    ['empty', '', 'artwork-empty', /empty/],
    ['a PDF of its first bytes, named .png', '%PDF-1.4\n%', 'pdf-refused', /PDF is damaged/],
    ['text', 'hello', 'artwork-format', /does not know/],
    [
      'a truncated PNG',
      Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0]),
      'artwork-unreadable',
      /cannot be read/,
    ],
    ['a truncated SVG', svg('<rect width="3"').slice(0, 120), 'svg-refused', /broken/],
    [
      'a picture by file name',
      svg('<image href="/etc/passwd" width="9" height="9"/>'),
      'svg-refused',
      /outside itself/,
    ],
    [
      'a picture by address',
      svg('<image xlink:href="http://127.0.0.1:9/x.png"/>'),
      'svg-refused',
      /outside itself/,
    ],
    ['a style from outside', svg('<style>@import url(x.css);</style>'), 'svg-refused', /outside itself/],
    ['a fill from outside', svg('<rect fill="url(file:///etc/passwd#a)"/>'), 'svg-refused', /outside itself/],
    ['a script', svg('<script>1</script>'), 'svg-refused', /script/],
    ['endless nesting', svg(deep), 'svg-refused', /nests/],
    ['a part inside itself', svg('<g id="a"><use href="#a"/></g>'), 'svg-refused', /inside itself/],
    [
      'parts that multiply',
      svg(
        `<defs><g id="a0"><rect width="1" height="1"/></g>${Array.from({ length: 30 }, (_, k) => `<g id="a${k + 1}"><use href="#a${k}"/><use href="#a${k}"/></g>`).join('')}</defs><use href="#a30"/>`,
      ),
      'svg-refused',
      /without end/,
    ],
    [
      'nested entities',
      `<!DOCTYPE svg [<!ENTITY a "x"><!ENTITY b "&a;&a;">]>${svg('&b;')}`,
      'svg-refused',
      /entities/,
    ],
    [
      'an outside entity',
      `<!DOCTYPE svg [<!ENTITY a SYSTEM "file:///etc/passwd">]>${svg('&a;')}`,
      'svg-refused',
      /entities/,
    ],
    [
      'an SVG inside an SVG',
      svg('<image href="data:image/svg+xml;base64,PHN2Zy8+"/>'),
      'svg-refused',
      /neither PNG nor JPEG/,
    ],
    ['no size', svg('', ''), 'svg-refused', /no size/],
  ];
  it.each(cases)('%s', async (name, bytes, code, message) => {
    const file = await write(`${name.replace(/\W/g, '-')}.png`, bytes);
    await expect(takeInArtwork(file, 'x.png', folder)).rejects.toEqual(refusal(code, message));
  });

  it('more than 20,000 pixels a side, from the head alone', async () => {
    const small = await sharp({ create: { width: 8, height: 8, channels: 3, background: '#fff' } })
      .png()
      .toBuffer();
    small.writeUInt32BE(20_001, 16);
    const { crc32 } = (await import('node:zlib')) as unknown as { crc32?: (data: Buffer) => number };
    if (crc32) small.writeUInt32BE(crc32(small.subarray(12, 29)), 29);
    else small.writeUInt32BE(pngCrc(small.subarray(12, 29)), 29);
    const file = await write('huge.png', small);
    await expect(takeInArtwork(file, 'huge.png', folder)).rejects.toEqual(
      refusal('artwork-too-large', /20001/),
    );
  });

  it('a JPEG that ends early', async () => {
    const noise = Buffer.from(Array.from({ length: 300 * 300 * 3 }, (_, i) => (i * 7919) % 251));
    const whole = await sharp(noise, { raw: { width: 300, height: 300, channels: 3 } })
      .jpeg()
      .toBuffer();
    const file = await write('cut.jpg', whole.subarray(0, whole.length / 3));
    await expect(takeInArtwork(file, 'cut.jpg', folder)).rejects.toEqual(
      refusal('artwork-unreadable', /cannot be read: it ends early/),
    );
  });
});

/** The checksum of PNG chunks (ISO 15948, annex D). */
function pngCrc(bytes: Uint8Array): number {
  let crc = 0xffffffff;
  for (const byte of bytes) {
    crc ^= byte;
    for (let k = 0; k < 8; k++) crc = crc & 1 ? (crc >>> 1) ^ 0xedb88320 : crc >>> 1;
  }
  return (crc ^ 0xffffffff) >>> 0;
}

describe('decoding', () => {
  async function decode(name: string, bytes: Uint8Array) {
    const file = await write(name, bytes);
    const own = mkdtempSync(path.join(folder, 'levels-'));
    const { facts, files } = await takeInArtwork(file, name, own);
    const source = openArtwork(files);
    const reader = source.reader(0);
    const plane = reader.read({ x: 0, y: 0, width: reader.width, height: reader.height });
    source.close();
    return { facts, width: reader.width, height: reader.height, data: plane.data };
  }

  it('a 16-bit PNG with transparency', async () => {
    const raw = Uint16Array.from([65535, 0, 32768, 65535, 1000, 2000, 3000, 0]);
    const png = await sharp(raw, { raw: { width: 2, height: 1, channels: 4 } })
      .toColourspace('rgb16')
      .png()
      .toBuffer();
    const { facts, data } = await decode('deep.png', png);
    expect(facts.bits).toBe(16);
    expect(data[0]).toBe(255);
    expect(data[1]).toBe(0);
    expect(Math.abs(data[2]! - 128)).toBeLessThanOrEqual(1);
    expect([data[3], data[7]]).toEqual([255, 0]);
  });

  it('grey and CMYK come as colour', async () => {
    const grey = await sharp({ create: { width: 3, height: 2, channels: 3, background: '#808080' } })
      .greyscale()
      .png()
      .toBuffer();
    const fromGrey = await decode('grey.png', grey);
    expect([...fromGrey.data.subarray(0, 4)]).toEqual([128, 128, 128, 255]);
    const cmyk = await sharp({ create: { width: 16, height: 16, channels: 3, background: '#ffffff' } })
      .toColourspace('cmyk')
      .jpeg({ quality: 100 })
      .toBuffer();
    const fromCmyk = await decode('cmyk.jpg', cmyk);
    expect(fromCmyk.facts.colourSpace).toBe('CMYK');
    expect(Math.min(...fromCmyk.data.subarray(0, 3))).toBeGreaterThan(245);
  });

  it('orientation and resolution are honoured', async () => {
    const jpeg = await sharp({ create: { width: 40, height: 20, channels: 3, background: '#d8412f' } })
      .jpeg()
      .withMetadata({ orientation: 6, density: 200 })
      .toBuffer();
    const { facts, width, height } = await decode('turned.jpg', jpeg);
    expect([width, height]).toEqual([20, 40]);
    expect(facts.ownWidthMm).toBeCloseTo((20 / 200) * 25.4, 6);
  });

  it('a wide-gamut profile is converted: pure P3 green is no sRGB 0,255,0 by its numbers', async () => {
    // Display P3 (0.5, 0.5, 0) is about sRGB (127, 128, 0): its code must not come through a P3 red of (200, 0, 0) unchanged.
    const p3 = await sharp({
      create: { width: 4, height: 4, channels: 3, background: { r: 200, g: 60, b: 60 } },
    })
      .withIccProfile('p3')
      .png()
      .toBuffer();
    const { data } = await decode('p3.png', p3);
    // sharp converted the sRGB pixels to P3 numbers when it attached the profile; reading must bring them back.
    expect(Math.abs(data[0]! - 200)).toBeLessThanOrEqual(3);
    expect(Math.abs(data[1]! - 60)).toBeLessThanOrEqual(3);
  });

  it('levels are means in linear light', async () => {
    const raw = Buffer.from(
      Array.from({ length: 600 * 600 }, (_, i) => (((i % 600) + Math.floor(i / 600)) % 2 ? 255 : 0)).flatMap(
        (v) => [v, v, v],
      ),
    );
    const png = await sharp(raw, { raw: { width: 600, height: 600, channels: 3 } })
      .png()
      .toBuffer();
    const file = await write('checker.png', png);
    const own = mkdtempSync(path.join(folder, 'levels-'));
    const source = openArtwork((await takeInArtwork(file, 'checker.png', own)).files);
    // Half the light is code 188 (IEC 61966-2-1), not 128.
    expect(source.reader(1).read({ x: 10, y: 10, width: 1, height: 1 }).data[0]).toBe(188);
    source.close();
  });
});

describe('drawings', () => {
  it('states its size in the units of the file', () => {
    const read = readSvg(Buffer.from(svg('', 'width="4in" height="76.2mm" viewBox="0 0 400 300"')));
    expect(read.widthMm).toBeCloseTo(101.6, 9);
    expect([read.width, read.height]).toEqual([400, 300]);
  });

  it('says which fonts are missing', () => {
    const read = readSvg(
      Buffer.from(
        svg(
          '<text font-family="Nowhere Grotesk, sans-serif">a</text><text style="font-family:Archivo">b</text>',
        ),
      ),
    );
    expect(read.missingFonts).toEqual(['Nowhere Grotesk']);
  });
});
