/** Cleaning by the command line, against the drawing that the coarse picture was made of; and what it says of files that are no flat picture. */
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { run } from './commandLine';

const SIDE = 800;
const DESIGN = (
  frame: string,
) => `<svg xmlns="http://www.w3.org/2000/svg" width="${SIDE}" height="${SIDE}" viewBox="0 0 400 400">
<rect width="400" height="400" fill="#ffffff"/>${frame}
<circle cx="140" cy="160" r="80" fill="#c8102e"/><path d="M200 330L280 120L350 330Z" fill="#1f4e79"/>
<path d="M60 300q60 -60 120 0t120 0v30h-240z" fill="#f0b030"/></svg>`;
const FRAME = '<rect x="14" y="14" width="372" height="372" fill="none" stroke="#101010" stroke-width="8"/>';

const folder = mkdtempSync(path.join(tmpdir(), 'kerameus-clean-'));
const file = (name: string) => path.join(folder, name);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const pixels = (svg: Buffer) =>
  sharp(svg).resize(SIDE, SIDE).flatten({ background: '#ffffff' }).raw().toBuffer();

/** Share of pixels whose colour is far from that of another picture: both are drawn by librsvg, inside of libvips. */
async function differing(one: Buffer, other: Buffer): Promise<number> {
  const [p, q] = await Promise.all([pixels(one), pixels(other)]);
  let count = 0;
  for (let i = 0; i < p.length; i += 3) {
    if (Math.hypot(p[i]! - q[i]!, p[i + 1]! - q[i + 1]!, p[i + 2]! - q[i + 2]!) > 90) count++;
  }
  return (3 * count) / p.length;
}

async function coarse(name: string, frame = ''): Promise<string> {
  const jpeg = await sharp(Buffer.from(DESIGN(frame)))
    .resize(160)
    .jpeg({ quality: 50 })
    .toBuffer();
  writeFileSync(file(name), jpeg);
  return file(name);
}

test('a JPEG of 160 pixels comes back as the drawing that it was, to 1 % of the pixels', async () => {
  const made = run(['clean', await coarse('plain.jpg'), '--colours', '4', '--out', file('plain.svg')]);
  expect(made).toMatchObject({ status: 0, err: '' });
  expect(made.out).toMatch(/4 of \d+ colours that were found/);
  const svg = readFileSync(file('plain.svg'));
  expect(svg.toString().match(/<path /g)).toHaveLength(4);
  expect(await differing(svg, Buffer.from(DESIGN('')))).toBeLessThan(0.01);
});

test('where compression makes an edge look as a colour that stands elsewhere, no sliver of that colour is left along it', async () => {
  // Brown is what lies between orange and dark blue, and near what lies between red and turquoise; it stands in two discs alone.
  const brown = [90, 58, 36] as const;
  const design = `<svg xmlns="http://www.w3.org/2000/svg" width="${SIDE}" height="${SIDE}" viewBox="0 0 400 400">
<rect width="400" height="400" fill="#16324f"/><path d="M40 40H180V300L40 260Z" fill="#e07a2d"/><path d="M190 280q60 -60 120 0t70 0v100h-190z" fill="#3d9a94"/>
<path d="M210 330H370L350 372H230Z" fill="#b8342b"/><circle cx="110" cy="150" r="26" fill="#5a3a24"/><circle cx="310" cy="90" r="30" fill="#5a3a24"/></svg>`;
  writeFileSync(
    file('edges.jpg'),
    await sharp(Buffer.from(design)).resize(300).jpeg({ quality: 75, chromaSubsampling: '4:2:0' }).toBuffer(),
  );
  expect(run(['clean', file('edges.jpg'), '--colours', '5', '--out', file('edges.svg')]).status).toBe(0);
  const drawn = await pixels(readFileSync(file('edges.svg')));
  let [stray, inside] = [0, 0];
  for (let i = 0; i < drawn.length; i += 3) {
    if (Math.hypot(drawn[i]! - brown[0], drawn[i + 1]! - brown[1], drawn[i + 2]! - brown[2]) > 24) continue;
    // In units of the drawing.
    const [x, y] = [((i / 3) % SIDE) / 2, Math.floor(i / 3 / SIDE) / 2];
    if (Math.hypot(x - 110, y - 150) < 30 || Math.hypot(x - 310, y - 90) < 34) inside++;
    else stray++;
  }
  const area = 4 * Math.PI * (26 ** 2 + 30 ** 2);
  expect(inside / area).toBeGreaterThan(0.95);
  expect(inside / area).toBeLessThan(1.05);
  // The smooth edges that librsvg draws pass through its colour here and there.
  expect(stray).toBeLessThan(40);
});

test('a frame is kept and said, or taken away and said', async () => {
  const art = await coarse('framed.jpg', FRAME);
  const kept = run(['clean', art, '--colours', '5', '--out', file('kept.svg')]);
  expect(kept.out).toContain('a frame kept');
  expect(await differing(readFileSync(file('kept.svg')), Buffer.from(DESIGN(FRAME)))).toBeLessThan(0.02);
  const taken = run(['clean', art, '--colours', '5', '--frame', 'drop', '--out', file('taken.svg')]);
  expect(taken.out).toContain('a frame taken away');
  expect(await differing(readFileSync(file('taken.svg')), Buffer.from(DESIGN('')))).toBeLessThan(0.02);
  const plain = run([
    'clean',
    await coarse('none.jpg'),
    '--colours',
    '4',
    '--frame',
    'drop',
    '--out',
    file('n.svg'),
  ]);
  expect(plain.out).toContain('no frame');
});

test.each([
  ['a drawing', 'art.svg', DESIGN(''), 'out.svg', /is a drawing/],
  ['an output that is no drawing', 'plain.jpg', null, 'out.png', /--out/],
  ['a file that is no artwork', 'note.jpg', 'no picture at all', 'out.svg', /file|artwork/i],
])('%s is refused in words, and nothing is written', async (_what, name, content, out, words) => {
  if (content === null) await coarse(name);
  else writeFileSync(file(name), content);
  const made = run(['clean', file(name), '--out', file(out)]);
  expect(made.status).toBe(2);
  expect(made.err).toMatch(words);
  expect(existsSync(file(out))).toBe(false);
});
