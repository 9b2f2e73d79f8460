/** One flat design of eight messy colours as a drawing, as a clean picture and as a damaged one that is cleaned: the three come to the same plates. */
import { mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { run, separate } from './commandLine';

const DESIGN = `<svg xmlns="http://www.w3.org/2000/svg" width="4in" height="3in" viewBox="0 0 800 600">
<rect width="800" height="600" fill="#ffffff"/>
<path d="M60 420C160 300 260 520 400 400S640 330 740 430V540H60Z" fill="#1f4e79"/>
<path d="M60 470C180 400 300 540 420 460S660 420 740 490V540H60Z" fill="#1d5383"/>
<circle cx="560" cy="180" r="110" fill="#f0b030"/><circle cx="560" cy="180" r="80" fill="#efb335"/>
<path d="M180 400L320 120L460 400Z" fill="#c8102e"/><path d="M320 120L460 400H320Z" fill="#c41230"/>
<path d="M90 80h180v40H90z" fill="#2e8b57"/><path d="M100 140h160v24H100z" fill="#1a1a1a"/>
</svg>`;

interface Report {
  readonly plates: readonly { readonly name: string; readonly coverage: number }[];
  readonly findings: readonly { readonly severity: string; readonly message: string }[];
  readonly shift: { readonly survivesMm: number; readonly toleranceMm: number };
}

const folder = mkdtempSync(path.join(tmpdir(), 'kerameus-three-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function filmsOf(artwork: string, out: string): Report {
  const trapped = { width: '4in', garment: '#16233f', trap: '0.15mm', dpi: '720', date: '2026-03-14' };
  expect(separate(artwork, path.join(folder, out), trapped)).toEqual({ status: 0, err: '' });
  return JSON.parse(readFileSync(path.join(folder, out, 'report.json'), 'utf8')) as Report;
}

/** Plates of a folder as pixels, 255 = ink, by their names. */
async function planesOf(out: string): Promise<Map<string, Buffer>> {
  const plates = path.join(folder, out, 'plates');
  const planes = new Map<string, Buffer>();
  for (const name of readdirSync(plates)) {
    planes.set(name, await sharp(path.join(plates, name)).extractChannel(0).raw().toBuffer());
  }
  return planes;
}

let reports: Readonly<Record<'drawing' | 'png' | 'jpeg', Report>>;

beforeAll(async () => {
  const file = (name: string) => path.join(folder, name);
  writeFileSync(file('drawing.svg'), DESIGN);
  // Rendered by librsvg, inside of libvips.
  const at = (dpi: number) =>
    sharp(Buffer.from(DESIGN), { density: 72 })
      .resize(4 * dpi)
      .withMetadata({ density: dpi });
  await at(300).png().toFile(file('picture.png'));
  await at(150).jpeg({ quality: 70 }).toFile(file('picture.jpg'));
  const cleaning = ['clean', file('picture.jpg'), '--colours', '6', '--out', file('cleaned.svg')];
  expect(run(cleaning)).toMatchObject({ status: 0, err: '' });
  reports = {
    drawing: filmsOf(file('drawing.svg'), 'a'),
    png: filmsOf(file('picture.png'), 'b'),
    jpeg: filmsOf(file('cleaned.svg'), 'c'),
  };
});

test('all three have the same plates, covering as much', () => {
  const plates = reports.drawing.plates.map(({ name }) => name);
  expect(plates).toEqual(['Base white', 'Yellow', 'Green', 'Red', 'Blue', 'Black', 'Highlight white']);
  for (const { plates: others } of [reports.png, reports.jpeg]) {
    expect(others.map(({ name }) => name)).toEqual(plates);
    others.forEach(({ coverage }, k) => {
      expect(coverage / reports.drawing.plates[k]!.coverage).toBeGreaterThan(0.97);
      expect(coverage / reports.drawing.plates[k]!.coverage).toBeLessThan(1.03);
    });
  }
});

test('they differ by no more than a pixel of the input along their edges', async () => {
  const drawn = await planesOf('a');
  for (const [out, dpi] of [
    ['b', 300],
    ['c', 150],
  ] as const) {
    for (const [name, plane] of await planesOf(out)) {
      const other = drawn.get(name)!;
      let [edges, different] = [0, 0];
      plane.forEach((value, i) => {
        if (value !== other[i]) different++;
        if (i > 0 && other[i] !== other[i - 1]) edges++;
      });
      // An edge in each row that one crosses; those that run along rows are as many again at most.
      expect(different).toBeLessThan(2 * edges * (720 / dpi));
    }
  }
});

test('none has a severe finding, and each survives what the press wanders, to a pixel of the survey', () => {
  for (const { findings, shift } of Object.values(reports)) {
    expect(findings.filter(({ severity }) => severity === 'severe')).toEqual([]);
    expect(shift.survivesMm).toBeGreaterThan(shift.toleranceMm - 25.4 / 360);
  }
});
