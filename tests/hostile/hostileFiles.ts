import { deflateSync, gzipSync } from 'node:zlib';
import { page } from '../drawings/constructs';
import { hostilePdfs } from './hostilePdfs';

export interface HostileFile {
  readonly name: string;
  readonly fileName: string;
  readonly bytes: Uint8Array;
  /** Whether it must be refused; others may be taken as well, within the same limits. */
  readonly refused: boolean;
}

const FULL = '<rect width="200" height="160" fill="#c8382e"/>';

/** Each of so many things refers twice to the next. */
function doubling(count: number, make: (id: number, inner: string) => string, last: string): string {
  let out = '';
  for (let k = 0; k < count; k++) out += make(k, k + 1 < count ? String(k + 1) : last);
  return out;
}

function svg(name: string, text: string, refused: boolean): HostileFile {
  return { name, fileName: `${name}.svg`, bytes: Buffer.from(text), refused };
}

function* drawings(): Generator<HostileFile> {
  const two = (attributes: string) =>
    `<rect width="90" height="90" ${attributes}/><rect x="90" width="90" height="90" ${attributes}/>`;
  yield svg(
    'masks in masks, 2^25 of them',
    page(
      '<rect width="200" height="160" mask="url(#m0)"/>',
      doubling(25, (k, n) => `<mask id="m${k}">${two(`fill="#fff" mask="url(#m${n})"`)}</mask>`, 'none'),
    ),
    true,
  );
  yield svg(
    'clips in clips, 2^25 of them',
    page(
      '<rect width="200" height="160" clip-path="url(#c0)"/>',
      doubling(25, (k, n) => `<clipPath id="c${k}">${two(`clip-path="url(#c${n})"`)}</clipPath>`, 'none'),
    ),
    true,
  );
  yield svg(
    'patterns in patterns, 2^25 of them',
    page(
      '<rect width="200" height="160" fill="url(#p0)"/>',
      doubling(
        25,
        (k, n) => `<pattern id="p${k}" width=".5" height=".5">${two(`fill="url(#p${n})"`)}</pattern>`,
        'none',
      ),
    ),
    true,
  );
  yield svg(
    'uses of uses, 2^25 of them',
    page(
      '<use href="#u0"/>',
      doubling(25, (k, n) => `<g id="u${k}"><use href="#u${n}"/><use href="#u${n}" x="1"/></g>`, 'x') +
        '<rect id="ux" width="9" height="9"/>',
    ),
    true,
  );
  yield svg(
    'markers with markers, 2^20 of them',
    page(
      '<path d="M0 0L50 50L90 9" marker-mid="url(#k0)" marker-start="url(#k0)" stroke="#000"/>',
      doubling(
        20,
        (k, n) =>
          `<marker id="k${k}"><path d="M0 0L5 5L9 9" marker-start="url(#k${n})" marker-mid="url(#k${n})"/></marker>`,
        'none',
      ),
    ),
    false,
  );
  yield svg('a use of itself', page('<g id="a"><use href="#a"/></g>'), true);
  yield svg('uses in a circle', page('<g id="a"><use href="#b"/></g><g id="b"><use href="#a"/></g>'), true);
  yield svg(
    'a mask on itself',
    page(
      '<rect width="90" height="90" mask="url(#m)"/>' + FULL,
      '<mask id="m"><rect width="50" height="50" fill="#fff" mask="url(#m)"/></mask>',
    ),
    false,
  );
  yield svg(
    'a pattern of itself',
    page(
      `<rect width="90" height="90" fill="url(#p)"/>${FULL}`,
      '<pattern id="p" width=".5" height=".5"><rect width="50" height="50" fill="url(#p)"/></pattern>',
    ),
    false,
  );
  yield svg(
    'a clip on itself',
    page(
      `<rect width="90" height="90" clip-path="url(#c)"/>${FULL}`,
      '<clipPath id="c" clip-path="url(#c)"><rect width="50" height="50"/></clipPath>',
    ),
    false,
  );
  yield svg(
    'a chain of a thousand references',
    page(
      '<use href="#u0"/>',
      Array.from({ length: 1000 }, (_, k) => `<g id="u${k}"><use href="#u${k + 1}"/></g>`).join(''),
    ),
    true,
  );
  yield svg(
    'a blur of 5000',
    page(
      `<g filter="url(#f)">${FULL}</g>`,
      '<filter id="f" x="-5" y="-5" width="11" height="11"><feGaussianBlur stdDeviation="5000"/></filter>',
    ),
    false,
  );
  yield svg(
    'turbulence of twenty octaves',
    page(
      `<g filter="url(#f)">${FULL}</g>`,
      '<filter id="f"><feTurbulence baseFrequency=".9" numOctaves="20"/></filter>',
    ),
    false,
  );
  yield svg(
    'a filter of a million units',
    page(
      `<g filter="url(#f)">${FULL}</g>`,
      '<filter id="f" filterUnits="userSpaceOnUse" x="-500000" y="-500000" width="1000000" height="1000000"><feFlood flood-color="#123456"/></filter>',
    ),
    false,
  );
  yield svg(
    'a hundred filters in each other',
    page(
      '<g filter="url(#f)">'.repeat(100) + FULL + '</g>'.repeat(100),
      '<filter id="f"><feGaussianBlur stdDeviation="2"/></filter>',
    ),
    false,
  );
  yield svg(
    'six hundred blurs beside each other',
    page(
      Array.from(
        { length: 600 },
        (_, k) => `<g filter="url(#f)"><rect x="${k % 20}" width="180" height="150"/></g>`,
      ).join(''),
      '<filter id="f"><feGaussianBlur stdDeviation="9"/></filter>',
    ),
    false,
  );
  yield svg(
    'a morphology of 500',
    page(
      `<g filter="url(#f)">${FULL}</g>`,
      '<filter id="f"><feMorphology radius="500" operator="dilate"/></filter>',
    ),
    false,
  );
  yield svg(
    'a convolution of 100 by 100',
    page(
      `<g filter="url(#f)">${FULL}</g>`,
      `<filter id="f"><feConvolveMatrix order="100" kernelMatrix="${'1 '.repeat(10000)}"/></filter>`,
    ),
    false,
  );
  yield svg(
    'an image of itself in a filter',
    page(`<g id="g" filter="url(#f)">${FULL}</g>`, '<filter id="f"><feImage href="#g"/></filter>'),
    false,
  );
  yield svg(
    'a text of a million letters',
    page(`<text y="50" font-size="3">${'abcdefghij'.repeat(100_000)}</text>`),
    false,
  );
  yield svg(
    'entities in entities',
    `<!DOCTYPE svg [<!ENTITY a "xxxx">${Array.from({ length: 20 }, (_, k) => `<!ENTITY a${k} "&a;&a;">`).join('')}]>${page('&a19;')}`,
    true,
  );
  yield svg(
    'an entity of 2000 letters, 100,000 times',
    `<!DOCTYPE svg [<!ENTITY a "${'x'.repeat(1999)}">]>${page(`<desc>${'&a;'.repeat(100_000)}</desc>${FULL}`)}`,
    true,
  );
  yield svg(
    'an entity from a file',
    `<!DOCTYPE svg [<!ENTITY a SYSTEM "file:///etc/passwd">]>${page('&a;')}`,
    true,
  );
  yield svg(
    'a picture from the network',
    page('<image width="9" height="9" href="http://127.0.0.1:9/x.png"/>'),
    true,
  );
  yield svg('a picture from a file', page('<image width="9" height="9" href="file:///etc/hostname"/>'), true);
  yield svg(
    'a style sheet from the network',
    page(`<style>@import url(http://127.0.0.1:9/x.css);</style>${FULL}`),
    true,
  );
  yield svg('a script', page(`<script>1</script>${FULL}`), true);
  yield svg(
    'a picture that is none',
    page(
      `<image width="90" height="90" href="data:image/png;base64,${Buffer.from([0x89, 0x50, 0x4e, 0x47, 1, 2, 3]).toString('base64')}"/>`,
    ),
    true,
  );
  yield svg(
    'a path of ten megabytes',
    page(
      `<path d="M0 0${Array.from({ length: 900_000 }, (_, k) => `L${(k * 7919) % 200} ${(k * 104729) % 160}`).join('')}Z"/>`,
    ),
    false,
  );
  yield svg(
    'dashes of a millionth',
    page('<path d="M0 0H200V160H0Z" fill="none" stroke="#000" stroke-dasharray="1e-6"/>'),
    false,
  );
  yield svg(
    'a pattern of a millionth',
    page(
      '<rect width="200" height="160" fill="url(#p)"/>',
      '<pattern id="p" width="1e-6" height="1e-6" patternUnits="userSpaceOnUse"><rect width="9" height="9"/></pattern>',
    ),
    false,
  );
  yield svg(
    'a pattern of a hundredth',
    page(
      '<rect width="200" height="160" fill="url(#p)"/>',
      '<pattern id="p" width=".01" height=".01" patternUnits="userSpaceOnUse"><rect width=".005" height=".01" fill="#c00"/></pattern>',
    ),
    false,
  );
  yield svg(
    'numbers beyond all',
    page(
      `<path d="M1e38 1e38L-1e38 -1e38L1e38 0Z"/><circle r="1e30"/><rect x="-1e20" width="2e20" height="100"/>${FULL}`,
    ),
    false,
  );
  yield svg(
    'numbers that are none',
    page(`<rect x="NaN" y="Infinity" width="1e999" height="-5"/>${FULL}`),
    false,
  );
  yield svg(
    'a scale of nothing',
    page(`<g transform="scale(0)">${FULL}</g><g transform="matrix(1 1 1 1 0 0)">${FULL}</g>${FULL}`),
    false,
  );
  yield svg('a scale of 1e18', page(`<g transform="scale(1e18)">${FULL}</g>`), false);
  yield svg(
    'a stroke of a million',
    page(
      '<path d="M0 0C9 90 90 9 90 90" fill="none" stroke="#123" stroke-width="1e6" stroke-linejoin="round"/>',
    ),
    false,
  );
  yield svg(
    'a thousand layers in each other',
    page('<g opacity=".99">'.repeat(1000) + FULL + '</g>'.repeat(1000)),
    true,
  );
  yield svg(
    '180 layers in each other',
    page('<g opacity=".99">'.repeat(180) + FULL + '</g>'.repeat(180)),
    false,
  );
  yield svg(
    '4000 layers beside each other',
    page(
      Array.from(
        { length: 4000 },
        (_, k) =>
          `<g opacity=".5"><rect x="${k % 150}" y="${k % 100}" width="190" height="150" fill="#c${k % 10}2"/><rect width="20" height="9"/></g>`,
      ).join(''),
    ),
    false,
  );
  yield svg(
    '300,000 circles',
    page(
      Array.from({ length: 300_000 }, (_, k) => `<circle cx="${k % 200}" cy="${(k * 7) % 160}" r="1"/>`).join(
        '',
      ),
    ),
    false,
  );
  yield svg('500,000 elements', page('<g/>'.repeat(500_000)), true);
  yield svg('a page of nothing', page(FULL, '', 'width="0" height="0"'), true);
  yield svg('a page of 1e9', page(FULL, '', 'width="1e9" height="1e9"'), false);
  yield svg('a page of 1 by 1e7', page(FULL, '', 'viewBox="0 0 1 10000000"'), false);
  yield svg('an empty drawing', page(''), true);
  yield svg('a drawing beyond its view box', page('<rect x="900" y="900" width="50" height="50"/>'), true);
  yield svg('cut off', page(FULL).slice(0, 90), true);
  yield svg('not closed', page('<g>'.repeat(3)), true);
  yield {
    name: 'not UTF-8',
    fileName: 'a.svg',
    bytes: Buffer.concat([
      Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><desc>'),
      Buffer.from([0xff, 0xfe, 0xc0]),
      Buffer.from('</desc></svg>'),
    ]),
    refused: true,
  };
  yield { name: 'a gzipped drawing', fileName: 'a.svg', bytes: gzipSync(page(FULL)), refused: true };
}

/** Checksum of PNG chunks (ISO 15948, annex D). */
function crc(bytes: Uint8Array): number {
  let sum = 0xffffffff;
  for (const byte of bytes) {
    sum ^= byte;
    for (let k = 0; k < 8; k++) sum = sum & 1 ? (sum >>> 1) ^ 0xedb88320 : sum >>> 1;
  }
  return (sum ^ 0xffffffff) >>> 0;
}

function chunk(type: string, data: Uint8Array): Buffer {
  const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
  const out = Buffer.alloc(body.length + 8);
  out.writeUInt32BE(data.length, 0);
  body.copy(out, 4);
  out.writeUInt32BE(crc(body), body.length + 4);
  return out;
}

/** A PNG by its parts: whatever its head says, with whatever stands in it. */
export function png(width: number, height: number, rows: Uint8Array, bits = 8, colour = 2): Buffer {
  const head = Buffer.alloc(13);
  head.writeUInt32BE(width >>> 0, 0);
  head.writeUInt32BE(height >>> 0, 4);
  head.set([bits, colour, 0, 0, 0], 8);
  const signature = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
  return Buffer.concat([
    signature,
    chunk('IHDR', head),
    chunk('IDAT', deflateSync(rows)),
    chunk('IEND', new Uint8Array()),
  ]);
}

function* pictures(): Generator<HostileFile> {
  const file = (name: string, bytes: Uint8Array, refused = true): HostileFile => ({
    name,
    fileName: `${name}.png`,
    bytes,
    refused,
  });
  const rows = Buffer.alloc(50 * 151);
  const good = png(50, 50, rows);
  yield file('a picture of 4 billion by 4 billion', png(0xffffffff, 0xffffffff, rows));
  yield file('a picture of 19,999 by 19,999 without pixels', png(19_999, 19_999, new Uint8Array(100)));
  yield file('a picture of no width', png(0, 50, rows));
  yield file('a picture with too few rows', png(50, 50, rows.subarray(0, 2000)));
  yield file(
    'a picture with a wrong checksum',
    Buffer.concat([good.subarray(0, 60), Buffer.from([good[60]! ^ 255]), good.subarray(61)]),
  );
  yield file('a picture of colour kind 5', png(50, 50, rows, 8, 5));
  yield file('a picture of 3 bits', png(50, 50, rows, 3, 0));
  yield file('only a signature', good.subarray(0, 8));
  yield file('half a head', good.subarray(0, 20));
  yield file('zeros', new Uint8Array(5000));
  yield file('nothing', new Uint8Array(0));
  yield file('a JPEG of two bytes', Uint8Array.from([0xff, 0xd8, 0xff]));
  yield file(
    'a JPEG of markers',
    Buffer.concat([
      Buffer.from([0xff, 0xd8]),
      ...Array.from({ length: 2000 }, () => Buffer.from([0xff, 0xe1, 0, 2])),
    ]),
  );
  yield file(
    'a TIFF whose directory is itself',
    Buffer.from([0x49, 0x49, 0x2a, 0, 8, 0, 0, 0, 1, 0, 0, 1, 3, 0, 1, 0, 0, 0, 5, 0, 0, 0, 8, 0, 0, 0]),
  );
  yield file('a TIFF whose directory is nowhere', Buffer.from([0x4d, 0x4d, 0, 0x2a, 0x7f, 0xff, 0xff, 0xff]));
  yield file('a WebP of nothing', Buffer.from('RIFF\u0004\u0000\u0000\u0000WEBP', 'latin1'));
  yield file('a PDF', Buffer.from('%PDF-1.7\n'));
  yield file('a zip that is none', Buffer.concat([Buffer.from([0x50, 0x4b, 3, 4]), Buffer.alloc(300, 7)]));
  yield file(
    'an archive of the end alone',
    Buffer.concat([Buffer.from([0x50, 0x4b, 3, 4]), Buffer.from([0x50, 0x4b, 5, 6]), Buffer.alloc(18, 255)]),
  );
  yield file('a program', Buffer.concat([Buffer.from([0x7f, 0x45, 0x4c, 0x46]), Buffer.alloc(900, 1)]));
}

/** Files that take up the whole time that a file may take; the tests try some of them, the fuzz script all. */
export const SLOW =
  /2\^20|turbulence|hundred filters|six hundred|morphology|convolution|million letters|megabytes|4000 layers|300,000|8\^10/;
const TRIED_ALWAYS = /2\^20|turbulence|300,000/;

/** Broken, hostile and strange files, made by code. */
export function hostileFiles(): HostileFile[] {
  return [...drawings(), ...pictures(), ...hostilePdfs()];
}

/** Those that a test has the time for. */
export function triedFiles(): HostileFile[] {
  return hostileFiles().filter(({ name }) => !SLOW.test(name) || TRIED_ALWAYS.test(name));
}
