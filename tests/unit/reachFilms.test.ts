/** Special plates and gaps of bare garment on real films, measured by scipy's distance transform: a program and a method that the project did not write. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { separate } from './commandLine';

const DPI = 720;
const PX_PER_MM = DPI / 25.4;
const SIDE_MM = 50.8;
const GAP_MM = 0.6;

/** A yellow disc in a black ring, a red star with sharp points, and a slanting red stroke of half a millimetre. */
const STAR = Array.from({ length: 10 }, (_, k) => {
  const [radius, angle] = [k % 2 === 0 ? 9 : 4, (k * Math.PI) / 5];
  return `${(38 + radius * Math.sin(angle)).toFixed(3)},${(14 - radius * Math.cos(angle)).toFixed(3)}`;
}).join(' ');
const ART = `<svg xmlns="http://www.w3.org/2000/svg" width="${SIDE_MM}mm" height="${SIDE_MM}mm" viewBox="0 0 ${SIDE_MM} ${SIDE_MM}">
  <circle cx="15" cy="15" r="12" fill="#101010"/><circle cx="15" cy="15" r="8" fill="#f4c020"/>
  <polygon points="${STAR}" fill="#c8322e"/><path d="M6 46L44 32" stroke="#c8322e" stroke-width="0.5"/>
</svg>`;

const folder = mkdtempSync(path.join(tmpdir(), 'kerameus-reach-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

interface Films {
  readonly width: number;
  readonly height: number;
  /** Files of raw bytes, 255 = ink, by the plates' names. */
  readonly files: ReadonlyMap<string, string>;
}

async function filmsOf(name: string, more: Readonly<Record<string, string>>, drawing = ART): Promise<Films> {
  const art = path.join(folder, 'art.svg');
  writeFileSync(art, drawing);
  const out = path.join(folder, name);
  const options = {
    width: `${SIDE_MM}mm`,
    background: 'keep',
    dpi: String(DPI),
    marks: 'none',
    sheet: '80x100mm',
    formats: 'tiff-screen',
    date: '2026-01-01',
    ...more,
  };
  expect(separate(art, out, options).status).toBe(0);
  const { plates } = JSON.parse(readFileSync(path.join(out, 'report.json'), 'utf8')) as {
    plates: { name: string; file: string }[];
  };
  let [width, height] = [0, 0];
  const files = new Map<string, string>();
  for (const plate of plates) {
    const film = path.join(out, plate.file.replace(/tif$/, 'screen.tif'));
    const { data, info } = await sharp(film).toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
    [width, height] = [info.width, info.height];
    // Films are black where ink prints.
    const ink = Uint8Array.from({ length: width * height }, (_, i) =>
      data[i * info.channels]! < 128 ? 255 : 0,
    );
    files.set(plate.name, path.join(folder, `${name} ${plate.name}`));
    writeFileSync(files.get(plate.name)!, ink);
  }
  return { width, height, files };
}

interface Reach {
  readonly ink: number;
  readonly tooFar: number;
  readonly missing: number;
  readonly apart: number;
}

/** How a film lies at those that it is made of. */
function reach({ width, height, files }: Films, film: string, of: readonly string[], mm: number): Reach {
  const sizes = [width, height, mm * PX_PER_MM].map(String);
  const names = [film, ...of].map((each) => files.get(each)!);
  const told = execFileSync('python3', ['tests/reference/reachOf.py', ...sizes, ...names], {
    encoding: 'utf8',
  });
  return JSON.parse(told) as Reach;
}

const INKS = ['Yellow', 'Red', 'Black'];

test('special plates reach as far beyond or inside of what they lie at as they are told, to a pixel of film', async () => {
  const films = await filmsOf('special', {
    garment: '#16233f',
    choke: '0.2mm',
    special: 'discharge:-0.2mm, clear:0.3mm, adhesive:0mm@Red',
  });
  expect([...films.files.keys()]).toEqual([
    'Discharge base',
    'Base white',
    ...INKS,
    'Clear',
    'Foil adhesive',
  ]);
  const all = ['Base white', ...INKS];
  const clear = reach(films, 'Clear', all, 0.3);
  expect(clear.ink).toBeGreaterThan(10_000);
  expect(clear).toMatchObject({ tooFar: 0, missing: 0 });
  expect(reach(films, 'Discharge base', all, -0.2)).toMatchObject({ tooFar: 0, missing: 0 });
  expect(reach(films, 'Foil adhesive', ['Red'], 0)).toMatchObject({ tooFar: 0, missing: 0 });
});

test('a gap of bare garment is as wide as it is asked for, on the films of both colours and under them', async () => {
  const pairs = path.join(folder, 'pairs.json');
  writeFileSync(
    pairs,
    JSON.stringify([{ between: ['Yellow', 'Black'], grows: 'gap', width: `${GAP_MM}mm` }]),
  );
  const films = await filmsOf('gap', { garment: '#16233f', choke: '0mm', pairs });
  const { apart } = reach(films, 'Yellow', ['Black'], 0);
  expect(Math.abs(apart - GAP_MM * PX_PER_MM)).toBeLessThanOrEqual(1.5);
  // Nothing of the base stands in the gap: it ends with the yellow ink.
  expect(reach(films, 'Base white', ['Yellow', 'Red'], 0).tooFar).toBe(0);
});

test('a colour that goes on under another stays inside of its edges, on films', async () => {
  const pairs = path.join(folder, 'over.json');
  writeFileSync(pairs, JSON.stringify([{ between: ['Yellow', 'Black'], grows: 'over', width: '0.4mm' }]));
  const films = await filmsOf('over', { garment: '#16233f', choke: '0mm', pairs });
  // Below all of the black ring and the yellow disc in it, 0.4 mm inside of where both end.
  const under = reach(films, 'Yellow', ['Yellow', 'Black'], -0.4);
  expect(under.missing).toBe(0);
  const { tooFar } = reach(films, 'Yellow', ['Black'], 0);
  expect(tooFar).toBeGreaterThan(0);
  const alone = await filmsOf('apart', { garment: '#16233f', choke: '0mm' });
  const grown = under.ink - reach(alone, 'Yellow', ['Yellow'], 0).ink;
  // The ring reaches from 8 mm to 12 mm, and yellow to 11.6 mm.
  expect(grown / PX_PER_MM ** 2).toBeCloseTo(Math.PI * (11.6 ** 2 - 8 ** 2), -1);
  expect(reach(films, 'Black', ['Black'], 0).ink).toBe(reach(alone, 'Black', ['Black'], 0).ink);
});

test('lines are thickened to the width that is asked for, to a pixel of film, and wider shapes stay', async () => {
  const drawing = `<svg xmlns="http://www.w3.org/2000/svg" width="${SIDE_MM}mm" height="${SIDE_MM}mm" viewBox="0 0 ${SIDE_MM} ${SIDE_MM}">
    <circle cx="15" cy="15" r="8" fill="#f4c020"/><path d="M6 46L44 32" stroke="#c8322e" stroke-width="0.5" stroke-linecap="round"/></svg>`;
  const films = await filmsOf('thick', { garment: '#16233f', thicken: '0.8mm' }, drawing);
  const plain = await filmsOf('thin', { garment: '#16233f' }, drawing);
  const joined = { ...films, files: new Map([...films.files, ['Thin', plain.files.get('Red')!]]) };
  const { tooFar, missing, ink } = reach(joined, 'Red', ['Thin'], 0.15);
  expect(ink).toBeGreaterThan(10_000);
  expect(tooFar).toBe(0);
  // But for single pixels where the drawn line's own edge steps.
  expect(missing).toBeLessThan(ink / 1000);
  expect(reach(films, 'Yellow', ['Yellow'], 0).ink).toBe(reach(plain, 'Yellow', ['Yellow'], 0).ink);
});
