import { Resvg } from '@resvg/resvg-js';
import { findPalette } from '@/core/artwork';
import { type Rgb8, ciede2000, labFromRgb8, parseHexColour } from '@/core/colour';
import { labelLines, layoutSheet, type SheetLayout } from '@/core/film';
import { PLAIN_KERNELS } from '@/core/kernels';
import {
  type ArtworkNeed,
  evaluatePlates,
  plateArtworkNeed,
  preparePlateJob,
  printGrid,
} from '@/core/pipeline';
import { createJobSheet, findTransitions } from '@/core/separation';
import { type JobSheet, flatLayer, withLayer } from '@/core/sheet';

// From antialiased artwork to plates and sheets, against the geometry that was drawn.

interface Art {
  readonly width: number;
  readonly height: number;
  readonly pixels: Uint8Array;
}

/** A drawing as a decoder gives it: straight alpha. The renderer's colours are multiplied by alpha. */
function draw(svg: string, width: number, height: number): Art {
  const { pixels } = new Resvg(
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${svg}</svg>`,
  ).render();
  for (let i = 0; i < pixels.length; i += 4) {
    const alpha = pixels[i + 3]!;
    if (alpha === 0 || alpha === 255) continue;
    for (let c = i; c < i + 3; c++) pixels[c] = Math.min(255, Math.round((pixels[c]! * 255) / alpha));
  }
  return { width, height, pixels };
}

function sheetOf(art: Art, colours: readonly Rgb8[], change: Partial<JobSheet['fit']> = {}): JobSheet {
  const sheet = createJobSheet({
    name: 'Geometry',
    artwork: {
      sha256: '0'.repeat(64),
      fileName: 'a.png',
      kind: 'raster',
      widthPx: art.width,
      heightPx: art.height,
    },
    colours: colours.map((rgb, k) => ({ rgb, area: 1 / (k + 2) })),
    purity: 2.5,
    background: null,
    backgroundWish: 'auto',
    transitions: null,
    print: { widthMm: (art.width / 300) * 25.4, chosen: false },
    garment: { name: 'Navy', colour: '#16233f' },
    inks: 'auto',
    date: '2026-03-14',
  });
  return { ...sheet, fit: { ...sheet.fit, ...change } };
}

/** Shapes of the plates of a whole print at a resolution, by the colour of their ink and by `base`. */
function shapesOf(art: Art, sheet: JobSheet, dpi: number) {
  const grid = printGrid(sheet, dpi);
  const whole = { x: 0, y: 0, width: grid.widthPx, height: grid.heightPx };
  const job = preparePlateJob(sheet, null, PLAIN_KERNELS);
  const read = ({ rect }: ArtworkNeed) => {
    const data = new Uint8Array(rect.width * rect.height * 4);
    for (let row = 0; row < rect.height; row++) {
      const from = ((rect.y + row) * art.width + rect.x) * 4;
      data.set(art.pixels.subarray(from, from + rect.width * 4), row * rect.width * 4);
    }
    return { rect, data };
  };
  const planes = evaluatePlates(job, grid, whole, read(plateArtworkNeed(job, grid, whole)));
  const shapes = new Map(
    planes.planes.map(({ plate, shape }) => [plate.role === 'underbase' ? 'base' : plate.ink.colour, shape]),
  );
  return {
    grid,
    shapes,
    toned: planes.planes.some(({ plate, tone }) => plate.role === 'colour' && tone !== null),
  };
}

const area = (shape: Uint8Array) => shape.reduce((sum, value) => sum + (value ? 1 : 0), 0);

const RED: Rgb8 = [0xc8, 0x38, 0x2e];
const GOLD: Rgb8 = [0xe8, 0xb2, 0x3a];
const TEAL: Rgb8 = [0x2e, 0x7d, 0x8c];
const WHITE: Rgb8 = [255, 255, 255];
const BLACK: Rgb8 = [0x11, 0x11, 0x11];

test('three colours that meet in a point meet without gap or overlap, each within half an artwork pixel of the truth', () => {
  const angles = [10, 130, 250].map((degrees) => (degrees * Math.PI) / 180);
  const corner = (k: number) => `${60.3 + 200 * Math.cos(angles[k]!)} ${59.6 + 200 * Math.sin(angles[k]!)}`;
  const colours = ['#c8382e', '#e8b23a', '#2e7d8c'];
  const art = draw(
    `<rect width="120" height="120" fill="#2e7d8c"/>` +
      [0, 1, 2]
        .map((k) => `<path d="M60.3 59.6L${corner(k)}L${corner((k + 1) % 3)}Z" fill="${colours[k]}"/>`)
        .join(''),
    120,
    120,
  );
  const { grid, shapes, toned } = shapesOf(art, sheetOf(art, [RED, GOLD, TEAL]), 1200);
  expect(toned).toBe(false);
  const scale = grid.widthPx / 120;
  let uncovered = 0;
  let twice = 0;
  let worst = 0;
  for (let y = 40; y < grid.heightPx - 40; y++) {
    for (let x = 40; x < grid.widthPx - 40; x++) {
      const i = y * grid.widthPx + x;
      const inks = colours.filter((colour) => shapes.get(colour)![i] !== 0);
      if (inks.length === 0) uncovered++;
      if (inks.length > 1) twice++;
      const ax = (x + 0.5) / scale - 60.3;
      const ay = (y + 0.5) / scale - 59.6;
      const turn = (Math.atan2(ay, ax) - angles[0]! + 4 * Math.PI) % (2 * Math.PI);
      const truth = colours[Math.floor((turn / (2 * Math.PI)) * 3)]!;
      if (inks[0] === truth || Math.hypot(ax, ay) < 1.5) continue;
      // How far inside the wrong sector: distance to the nearest of the three edges.
      const off = Math.min(...angles.map((angle) => Math.abs(ax * Math.sin(angle) - ay * Math.cos(angle))));
      worst = Math.max(worst, off);
    }
  }
  expect([uncovered, twice]).toEqual([0, 0]);
  expect(worst).toBeLessThan(0.5);
});

test.each([1, 1.5, 2.3])('an antialiased line of %d artwork pixels keeps its width on film', (width) => {
  const art = draw(`<path d="M10 31.37L190 44.11" stroke="#c8382e" stroke-width="${width}"/>`, 200, 80);
  const { grid, shapes } = shapesOf(art, sheetOf(art, [RED]), 1200);
  const scale = grid.widthPx / 200;
  const length = Math.hypot(180, 12.74);
  const measured = area(shapes.get('#c8382e')!) / scale ** 2 / length;
  expect(Math.abs(measured - width)).toBeLessThan(0.12);
});

test('an edge is an edge and a glow is tone', () => {
  const art = draw(
    `<radialGradient id="g"><stop offset="0" stop-color="#e8b23a"/><stop offset="1" stop-color="#e8b23a" stop-opacity="0"/></radialGradient><circle cx="60" cy="60" r="55" fill="url(#g)"/><rect x="130.5" y="20.5" width="50" height="80" fill="#e8b23a"/>`,
    200,
    120,
  );
  const sheet = sheetOf(art, [GOLD]);
  const grid = printGrid(sheet, 600);
  const job = preparePlateJob(sheet, null, PLAIN_KERNELS);
  const whole = { x: 0, y: 0, width: grid.widthPx, height: grid.heightPx };
  const need = plateArtworkNeed(job, grid, whole);
  const { planes } = evaluatePlates(job, grid, whole, { rect: need.rect, data: art.pixels });
  const gold = planes.find(({ plate }) => plate.role === 'colour')!;
  let dots = 0;
  let dotsInSquare = 0;
  for (let i = 0; i < gold.shape.length; i++) {
    if (gold.shape[i] === 0 || gold.tone![i] === 65535) continue;
    if (i % grid.widthPx > 250) dotsInSquare++;
    else dots++;
  }
  expect(dots).toBeGreaterThan(10_000);
  expect(dotsInSquare).toBe(0);
});

describe('the base', () => {
  const mm = (pixels: number) => (pixels / 300) * 25.4;

  it('gives way under fine strokes before less than 0.2 mm is left, and is choked in full under wide ones', () => {
    // Strokes of 0.34, 0.42 and 1.02 mm: 4, 5 and 12 pixels of 300 dpi.
    const art = draw(
      [
        [30, 4],
        [80, 5],
        [140, 12],
      ]
        .map(([x, width]) => `<rect x="${x}" y="20" width="${width}" height="200" fill="#e8b23a"/>`)
        .join(''),
      180,
      240,
    );
    const { grid, shapes } = shapesOf(art, sheetOf(art, [GOLD]), 1440);
    const base = shapes.get('base')!;
    const scale = grid.widthPx / 180;
    const widthAt = (from: number, to: number) => {
      let count = 0;
      const row = Math.floor(120 * scale) * grid.widthPx;
      for (let x = Math.floor(from * scale); x < to * scale; x++) if (base[row + x]) count++;
      return mm(count / scale);
    };
    // A choke of 0.15 mm each side would leave 0.04 and 0.12 mm. Common practice, no source.
    expect(widthAt(25, 40)).toBeCloseTo(0.2, 1);
    expect(widthAt(75, 90)).toBeCloseTo(0.2, 1);
    expect(widthAt(135, 160)).toBeCloseTo(mm(12) - 0.3, 1);
  });

  it('ends 0.15 mm under black that has none, and highlight white is choked by its own distance', () => {
    const art = draw(
      `<rect x="20" y="20" width="60" height="100" fill="#e8b23a"/><rect x="80" y="20" width="60" height="100" fill="#111111"/><circle cx="190" cy="70" r="36" fill="#ffffff"/>`,
      240,
      140,
    );
    const choke = 0.2;
    const sheet = sheetOf(art, [GOLD, BLACK, WHITE], { highlightChokeMm: choke });
    const { grid, shapes } = shapesOf(art, sheet, 1440);
    const scale = grid.widthPx / 240;
    const row = Math.floor(70 * scale) * grid.widthPx;
    let last = 0;
    for (let x = 0; x < 140 * scale; x++) if (shapes.get('base')![row + x]) last = x;
    expect(Math.abs(mm((last + 1) / scale - 80) - 0.15)).toBeLessThan(0.03);
    // A disc of radius r choked by d has the radius r - d.
    const white = shapes.get('#ffffff')!;
    const radius = mm(Math.sqrt(area(white) / Math.PI) / scale);
    expect(Math.abs(radius - (mm(36) - choke))).toBeLessThan(0.02);
  });
});

describe('the colours of artwork', () => {
  const reader = (art: Art) => ({
    width: art.width,
    height: art.height,
    read: (rect: { x: number; y: number; width: number; height: number }) => {
      const data = new Uint8Array(rect.width * rect.height * 4);
      for (let row = 0; row < rect.height; row++) {
        const from = ((rect.y + row) * art.width + rect.x) * 4;
        data.set(art.pixels.subarray(from, from + rect.width * 4), row * rect.width * 4);
      }
      return { rect, data };
    },
  });

  const PICTURE = { drawing: false, lossy: false, thinLines: true, piece: 140 };

  it('are the ones that were drawn: no edge and no gradient between two becomes a colour; a second shade is one of its own', () => {
    const art = draw(
      `<linearGradient id="g"><stop offset="0" stop-color="#c8382e"/><stop offset="1" stop-color="#e8b23a"/></linearGradient>` +
        `<rect width="400" height="300" fill="#ffffff"/><circle cx="110" cy="110" r="80" fill="#c8382e"/>` +
        `<circle cx="280" cy="110" r="80" fill="#e8b23a"/><rect x="20" y="210" width="170" height="60" fill="#2e7d8c"/>` +
        `<rect x="190" y="210" width="170" height="60" fill="#307f8a"/><rect x="150" y="20" width="90" height="30" fill="url(#g)"/>`,
      400,
      300,
    );
    const found = findPalette(reader(art), PICTURE).colours.map(({ rgb }) => rgb);
    expect(found).toHaveLength(5);
    for (const wanted of [WHITE, RED, GOLD, TEAL, [0x30, 0x7f, 0x8a]]) {
      const nearest = Math.min(...found.map((rgb) => Math.hypot(...rgb.map((part, c) => part - wanted[c]!))));
      expect(nearest).toBe(0);
    }
  });

  it('are the ends of gradients where these fill most of a picture: slow ones have bands of one code, which are no colours', () => {
    // A code of the long one is seven pixels wide.
    const art = draw(
      `<linearGradient id="a"><stop stop-color="#e0402a"/><stop offset="1" stop-color="#1f4fb0"/></linearGradient>` +
        `<radialGradient id="b"><stop stop-color="#fff3b0"/><stop offset="1" stop-color="#e8a020"/></radialGradient>` +
        `<rect x="60" y="60" width="1380" height="460" fill="url(#a)"/><circle cx="400" cy="800" r="220" fill="url(#b)"/>` +
        `<rect x="820" y="640" width="500" height="340" fill="#1d6b3a"/>`,
      1500,
      1100,
    );
    const found = findPalette(reader(art), PICTURE).colours.map(({ rgb }) => rgb);
    expect(found).toContainEqual([0x1d, 0x6b, 0x3a]);
    const { ends } = findTransitions(reader(art), found, 2.5, 2);
    const all = [...found, ...ends.map(({ rgb }) => rgb)];
    // The five that were drawn, and two more at most.
    expect(all.length).toBeLessThanOrEqual(7);
    for (const drawn of ['#1d6b3a', '#e0402a', '#1f4fb0', '#fff3b0', '#e8a020'].map((hex) =>
      parseHexColour(hex),
    )) {
      const nearest = Math.min(...all.map((rgb) => ciede2000(labFromRgb8(rgb), labFromRgb8(drawn))));
      expect(nearest).toBeLessThan(2.5);
    }
  });

  it('are none where the artwork is empty', () => {
    expect(findPalette(reader(draw('', 40, 40)), PICTURE).colours).toEqual([]);
  });
});

describe('the film sheet', () => {
  const IN = 25.4;
  const sized = (widthIn: number, heightIn: number, film: Partial<JobSheet['film']> = {}): JobSheet => {
    const sheet = sheetOf(draw('', 120, 120), [RED, GOLD]);
    return {
      ...sheet,
      print: { widthMm: widthIn * IN, heightMm: heightIn * IN, chosen: false },
      film: { ...sheet.film, ...film },
    };
  };
  const clearance = ({ print, marks }: SheetLayout) =>
    Math.min(
      ...marks.map(({ xMm, yMm }) => {
        const dx = Math.max(print.x - xMm, xMm - print.x - print.width, 0);
        const dy = Math.max(print.y - yMm, yMm - print.y - print.height, 0);
        // From the end of the arm, 5 mm from the middle of the mark.
        return Math.max(dx, dy) - 5;
      }),
    );

  it('has marks at the centres of its sides, 1 in from the edges, where the print leaves room', () => {
    const layout = layoutSheet(sized(10, 12));
    expect(
      layout.marks.map(({ xMm, yMm }) => [xMm / IN, yMm / IN].map((inch) => Math.round(inch * 1e6) / 1e6)),
    ).toEqual([
      [6.5, 1],
      [12, 9.5],
      [6.5, 18],
      [1, 9.5],
    ]);
    expect(clearance(layout)).toBeGreaterThanOrEqual(0.25 * IN - 1e-6);
  });

  it('has two above and one below a 12 in print on a 13 in sheet', () => {
    const layout = layoutSheet(sized(12, 14));
    const { print, marks } = layout;
    expect(marks.filter((mark) => mark.yMm < print.y)).toHaveLength(2);
    expect(marks.filter((mark) => mark.yMm > print.y + print.height)).toHaveLength(1);
    expect(clearance(layout)).toBeGreaterThanOrEqual(0.25 * IN - 1e-6);
  });

  it('refuses a print that leaves no room for marks or runs off, and says what would fit', () => {
    expect(() => layoutSheet(sized(12, 18.5))).toThrow(/no room for registration marks/);
    expect(() => layoutSheet(sized(14, 10))).toThrow(/off the sheet/);
    try {
      layoutSheet(sized(12, 18.5));
    } catch (thrown) {
      const { remedy } = thrown as { remedy: string };
      const [, height] = /up to ([\d.]+) in/.exec(remedy)!;
      expect(() => layoutSheet(sized(12, Number(height) - 0.01))).not.toThrow();
      expect(() => layoutSheet(sized(12, Number(height) + 0.05))).toThrow();
    }
  });

  it('keeps the print on whole device pixels and the label off print and marks', () => {
    for (const dpi of [300, 720, 1200, 1440]) {
      const layout = layoutSheet(sized(11.37, 13.21, { dpi }));
      expect(layout.print.x * (dpi / IN)).toBeCloseTo(Math.round(layout.print.x * (dpi / IN)), 6);
      expect(layout.widthPx).toBe(Math.floor(13 * dpi + 1e-6));
      const { box } = layout.label;
      const beside =
        box.x + box.width <= layout.print.x ||
        box.x >= layout.print.x + layout.print.width ||
        box.y + box.height <= layout.print.y ||
        box.y >= layout.print.y + layout.print.height;
      expect(beside).toBe(true);
      for (const { xMm, yMm } of layout.marks) {
        const inside =
          xMm > box.x - 5 && xMm < box.x + box.width + 5 && yMm > box.y - 5 && yMm < box.y + box.height + 5;
        expect(inside).toBe(false);
      }
    }
  });

  it('says on its label what the film is', () => {
    const sheet = sized(10, 12);
    const plate = sheet.plates.find((each) => each.role === 'colour')!;
    const [title, facts] = labelLines(
      withLayer(sheet, { ...flatLayer(sheet)!, transitions: [] }),
      plate,
      sheet.plates.length,
    );
    expect(title).toBe(`02 of 03  ${plate.ink.name}`);
    const late = { ...plate, number: 7 };
    const gaps = { ...sheet, plates: sheet.plates.map((each) => (each.id === plate.id ? late : each)) };
    expect(labelLines(gaps, late, 3)[0]).toBe(`07 (3 films)  ${plate.ink.name}`);
    const down = { ...sheet, film: { ...sheet.film, emulsion: 'down' as const } };
    expect(labelLines(down, plate, 3)[1]).toContain('emulsion down');
    const toned = labelLines(sheet, plate, 3)[1];
    expect(toned).toContain('45 lpi / 22.5°');
    expect(toned).toContain('gain 20 % compensated');
    for (const part of ['Geometry', '10 x 12 in', 'solid', 'mesh 180', '2026-03-14']) {
      expect(facts).toContain(part);
    }
  });
});
