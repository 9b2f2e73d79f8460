import { Resvg } from '@resvg/resvg-js';
import { flatAreas } from '@/core/artwork';
import { checkSheet, NO_NOTES } from '@/core/checks';
import { PLAIN_KERNELS } from '@/core/kernels';
import { deltaE76, labFromRgb8, parseHexColour } from '@/core/colour';
import {
  ColourSurveyor,
  artworkNeed,
  artworkPixel,
  evaluatePlates,
  inkOffers,
  plateArtworkNeed,
  platesOfLabels,
  labelsForPlates,
  preparePlateJob,
  printGrid,
} from '@/core/pipeline';
import {
  changeKept,
  chooseInkSet,
  createJobSheet,
  keepColour,
  keepFlat,
  keepOnOwnInk,
  keptOffers,
  leaveOut,
  leaveToTones,
} from '@/core/separation';
import {
  type JobSheet,
  START_STOCK,
  describeChange,
  fullToneLayer,
  keptOf,
  parseJobSheet,
} from '@/core/sheet';
import { randomOf } from '../testSheet';
import { painting } from '../painting';
import { readerOf } from '../renderedArtwork';

// Lettering and flat areas of artwork that prints by its tones: solid, where an independent renderer (resvg) has them, and free of other inks.

const RED = '#c8202c';
const GOLD = '#f2c14e';
const SIDE = 300;
const DPI = 720;

/** A gradient with lettering and a bar over it, smooth as people send it. */
const svg = (
  inside: string,
) => `<svg xmlns="http://www.w3.org/2000/svg" width="${SIDE}" height="${SIDE}" viewBox="0 0 300 300">
  <linearGradient id="a" y2="1"><stop stop-color="#204060"/><stop offset="1" stop-color="#e0d0b0"/></linearGradient>
  <rect width="300" height="300" fill="url(#a)"/>${inside}</svg>`;
/** An R without a font: a stem, a bowl with a counter, a leg, none on a whole pixel. */
const LETTER = `<path fill-rule="evenodd" d="M40.3 40.7h70.2a45 45 0 0 1 20 85l40.6 80h-38.2l-34-72h-26.3v72h-32.3z M72.6 66.4v41h34a20.5 20.5 0 0 0 0 -41z"`;
const BAR = '<rect x="20.5" y="240.4" width="259.3" height="31.7"';

const DRAWN = svg(`${LETTER} fill="${RED}"/>${BAR} fill="${GOLD}"/>`);

function sheetOf(widthMm = 25.4): JobSheet {
  const sheet = createJobSheet({
    name: 'Kept',
    artwork: { sha256: '0'.repeat(64), fileName: 'kept.png', kind: 'raster', widthPx: SIDE, heightPx: SIDE },
    colours: [],
    purity: 2.5,
    transitions: [],
    background: null,
    backgroundWish: 'auto',
    print: { widthMm, chosen: false },
    garment: { name: 'Black', colour: '#18181a' },
    inks: 'auto',
    simulated: {
      inks: [
        { name: 'Gold', colour: GOLD },
        { name: 'Red', colour: RED },
        { name: 'Blue', colour: '#2c5c94' },
      ],
      base: { colour: '#f6f6f3', opacity: 0.85 },
      highlight: true,
    },
    date: '2026-03-14',
  });
  return { ...sheet, film: { ...sheet.film, dpi: DPI } };
}

const kept = () =>
  [RED, GOLD].reduce((sheet, colour) => keepColour(sheet, colour, { as: 'ink', plateId: null }), sheetOf());

function planesOf(
  sheet: JobSheet,
  drawn = DRAWN,
  region?: { x: number; y: number; width: number; height: number },
) {
  const grid = printGrid(sheet, DPI);
  const job = preparePlateJob(sheet, null, PLAIN_KERNELS);
  const rect = region ?? { x: 0, y: 0, width: grid.widthPx, height: grid.heightPx };
  const art = readerOf(drawn, SIDE)(plateArtworkNeed(job, grid, rect));
  const planes = evaluatePlates(job, grid, rect, art);
  const plane = (name: string) => planes.planes.find(({ plate }) => plate.ink.name === name)!;
  return { grid, plane };
}

/** Where a shape covers half of the film's pixels and more, by the other renderer. */
function drawnAt(shape: string, width: number): Uint8Array {
  const one = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 300 300">${shape} fill="#000"/></svg>`;
  const { pixels } = new Resvg(one, { fitTo: { mode: 'width', value: width } }).render();
  return Uint8Array.from({ length: pixels.length / 4 }, (_, i) => (pixels[i * 4 + 3]! > 127 ? 255 : 0));
}

/** Pixels of a mask that are farther than `reach` from what is not. */
function inner(mask: Uint8Array, width: number, reach: number): number[] {
  const found: number[] = [];
  for (let i = 0; i < mask.length; i++) {
    const x = i % width;
    const y = Math.floor(i / width);
    if (mask[i] === 0 || x < reach || y < reach || x >= width - reach || (y + reach) * width >= mask.length)
      continue;
    let all = true;
    for (let dy = -reach; dy <= reach && all; dy += reach)
      for (let dx = -reach; dx <= reach && all; dx += reach) all = mask[i + dy * width + dx] !== 0;
    if (all) found.push(i);
  }
  return found;
}

test.each([
  ['Red', LETTER],
  ['Gold', BAR],
])('%s is solid exactly where the shape is, on a full base, with nothing else on it', (name, shape) => {
  const { grid, plane } = planesOf(kept());
  const { widthPx } = grid;
  const wanted = drawnAt(shape, widthPx);
  const { shape: found, tone } = plane(name);
  const solid = found.map((each, i) => (each !== 0 && (!tone || tone[i] === 65535) ? 255 : 0));
  // The edge lies within a third of an artwork's pixel (0.028 mm): all that differs is that near to it.
  let wrong = 0;
  for (const i of inner(wanted, widthPx, 1)) if (solid[i] === 0) wrong++;
  const outside = wanted.map((each) => (each === 0 ? 255 : 0));
  for (const i of inner(outside, widthPx, 1)) if (solid[i] !== 0) wrong++;
  expect(wrong / wanted.reduce((sum, each) => sum + (each & 1), 0)).toBeLessThan(2e-4);
  const area = (mask: Uint8Array) => mask.reduce((sum, each) => sum + (each & 1), 0);
  // A tenth of an artwork's pixel, 8 micrometres, along the letter's edge is 0.7 % of its area.
  expect(Math.abs(area(solid) / area(wanted) - 1)).toBeLessThan(0.007);
  const base = plane('Base white');
  const others = ['Gold', 'Red', 'Blue', 'Highlight white'].filter((each) => each !== name).map(plane);
  let [inked, thin] = [0, 0];
  for (const i of inner(wanted, widthPx, 2)) {
    if (others.some((other) => other.shape[i] !== 0)) inked++;
    if (base.shape[i] === 0 || (base.tone && base.tone[i] !== 65535)) thin++;
  }
  expect([inked, thin]).toEqual([0, 0]);
});

test('beside lettering tones are what they are without it: its colour does not run into them', () => {
  const sheet = kept();
  const { grid, plane } = planesOf(sheet);
  const bare = planesOf(sheetOf(), svg(''));
  const letters = drawnAt(LETTER, grid.widthPx);
  const bar = drawnAt(BAR, grid.widthPx);
  const tones = letters.map((each, i) => (each === 0 && bar[i] === 0 ? 255 : 0));
  for (const name of ['Base white', 'Gold', 'Red', 'Blue']) {
    const [found, wanted] = [plane(name), bare.plane(name)];
    const toneAt = ({ shape, tone }: typeof found, i: number) => (shape[i] === 0 ? 0 : (tone?.[i] ?? 65535));
    let most = 0;
    for (const i of inner(tones, grid.widthPx, 2)) {
      most = Math.max(most, Math.abs(toneAt(found, i) - toneAt(wanted, i)));
    }
    // Smooth edges hide a code or two of the gradient.
    expect(most / 65535).toBeLessThan(0.06);
  }
});

test('a part of the print is what it is of the whole', () => {
  const random = randomOf(3);
  const at = () => (random() * 300).toFixed(1);
  // Specks of the colours, some too small to count, and slits between them.
  const specks = Array.from(
    { length: 160 },
    (_, k) =>
      `<circle cx="${at()}" cy="${at()}" r="${(0.6 + 2.4 * random()).toFixed(2)}" fill="${k % 2 ? RED : GOLD}"/>`,
  );
  const drawn = svg(`${LETTER} fill="${RED}"/>${BAR} fill="${GOLD}"/>${specks.join('')}`);
  const sheet = kept();
  const { grid, plane } = planesOf(sheet, drawn);
  const toneAt = ({ shape, tone }: ReturnType<typeof plane>, i: number) =>
    shape[i] === 0 ? 0 : (tone?.[i] ?? 65535);
  for (let k = 0; k < 6; k++) {
    const [width, height] = [40 + Math.floor(random() * 160), 30 + Math.floor(random() * 120)];
    const [x, y] = [grid.widthPx - width, grid.heightPx - height].map((room) => Math.floor(random() * room));
    const part = planesOf(sheet, drawn, { x: x!, y: y!, width, height });
    let differs = 0;
    for (const { ink } of sheet.plates) {
      const [own, whole] = [part.plane(ink.name), plane(ink.name)];
      for (let i = 0; i < width * height; i++) {
        const there = (y! + Math.floor(i / width)) * grid.widthPx + x! + (i % width);
        if (toneAt(own, i) !== toneAt(whole, there)) differs++;
      }
    }
    expect(differs).toBe(0);
  }
});

test('pixels of a painting that happen to have the colour stay tones', () => {
  const art = painting(SIDE, SIDE, 7, 'none');
  const random = randomOf(11);
  const GREEN = '#00e614';
  const [r, g, b] = [0, 230, 20];
  // Single pixels and lines of one pixel, none a block of two by two.
  for (let k = 0; k < 400; k++) {
    const i = Math.floor(random() * SIDE * SIDE) * 4;
    art.data.set([r, g, b, 255], i);
    if (k % 4 === 0 && i + 12 < art.data.length)
      for (const dx of [4, 8]) art.data.set([r, g, b, 255], i + dx);
  }
  const sheet = keepColour(sheetOf(), GREEN, { as: 'garment' });
  const grid = printGrid(sheet, 300);
  const job = preparePlateJob(sheet, null, PLAIN_KERNELS);
  const rect = { x: 0, y: 0, width: grid.widthPx, height: grid.heightPx };
  const need = plateArtworkNeed(job, grid, rect);
  const plain = sheetOf();
  const before = labelsForPlates(preparePlateJob(plain, null, PLAIN_KERNELS), grid, rect, art);
  expect(need.rect.width).toBe(SIDE);
  const labels = labelsForPlates(job, grid, rect, art);
  expect(Buffer.compare(labels.label, before.label)).toBe(0);
  expect(platesOfLabels(job, grid, labels).planes).toHaveLength(5);
});

test('left to the garment, nothing prints there; left to the dots, everything is as it was', () => {
  const bare = keepColour(sheetOf(), RED, { as: 'garment' });
  const { grid, plane } = planesOf(bare);
  const inside = inner(drawnAt(LETTER, grid.widthPx), grid.widthPx, 3);
  for (const { ink } of bare.plates) {
    const { shape } = plane(ink.name);
    expect(inside.filter((i) => shape[i] !== 0)).toEqual([]);
  }
  const dots = planesOf(keepColour(sheetOf(), RED, { as: 'dots' }));
  const plain = planesOf(sheetOf());
  for (const { ink } of bare.plates) {
    expect(Buffer.compare(dots.plane(ink.name).shape, plain.plane(ink.name).shape)).toBe(0);
    const [one, other] = [dots, plain].map((each) => each.plane(ink.name).tone);
    expect(Buffer.compare(Buffer.from(one!.buffer), Buffer.from(other!.buffer))).toBe(0);
  }
});

test('inks that print a colour solid are in every proposal, and what loses its ink gets the next or is told', () => {
  const sheet = keepColour(sheetOf(), '#d4303a', { as: 'ink', plateId: sheetOf().plates[2]!.id });
  expect(sheet.plates[2]!.ink.name).toBe('Red');
  const without = leaveOut(sheet, sheet.plates[2]!.id);
  expect(keptOf(without)[0]).toMatchObject({ as: 'ink', plateId: null });
  expect(checkSheet(without).map(({ code }) => code)).toContain('kept-without-ink');
  const swapped = chooseInkSet(sheet, [
    { role: 'underbase', ink: sheet.plates[0]!.ink },
    { role: 'colour', ink: { name: 'Other red', colour: '#d03038', opacity: 0.8 } },
  ]);
  const [found] = keptOf(swapped);
  expect(swapped.plates.find(({ id }) => id === found!.plateId)!.ink.name).toBe('Other red');
  const offers = [...inkOffers({ sheet, stock: START_STOCK.inks, colours: { few: [], many: [] } }, 4)];
  expect(offers.some((offer) => offer !== null)).toBe(true);
  for (const offer of offers) if (offer) expect(offer.inks.map(({ ink }) => ink.name)).toContain('Red');
});

test('a colour gets an ink of its own, goes back to the dots, and each change is told', () => {
  const plain = sheetOf();
  const own = keepOnOwnInk(plain, '#6fb58a');
  expect(own.plates).toHaveLength(plain.plates.length + 1);
  const [entry] = keptOf(own);
  expect(own.plates.find(({ id }) => id === entry!.plateId)!.ink.colour).toBe('#6fb58a');
  expect(describeChange(plain, keepColour(plain, RED, { as: 'ink', plateId: null }))).toBe(
    `${RED} kept solid on Red`,
  );
  // The ink that is pinned and brought along with it is no news of its own.
  expect(describeChange(plain, own)).toBe(`#6fb58a kept solid on ${own.plates.at(-2)!.ink.name}`);
  const [, gold, red] = plain.plates;
  const onGold = keepColour(plain, RED, { as: 'ink', plateId: gold!.id });
  expect(describeChange(plain, onGold)).toBe(`${RED} kept solid on Gold`);
  expect(describeChange(onGold, keepColour(onGold, RED, { as: 'ink', plateId: red!.id }))).toBe(
    `${RED} kept solid on Red`,
  );
  expect(describeChange(own, leaveToTones(own, entry!.id))).toBe('#6fb58a as dots like the rest');
  expect(parseJobSheet(JSON.parse(JSON.stringify(own)))).toEqual(own);
});

test('a colour that is kept inside of an outline keeps it when its ink is changed', () => {
  const sheet = keepColour(sheetOf(), RED, { as: 'ink', plateId: null });
  const outline: [number, number][] = [
    [0, 0],
    [1, 0],
    [1, 0.5],
  ];
  const outlined = changeKept(sheet, keptOf(sheet)[0]!.id, { within: outline });
  expect(describeChange(sheet, outlined)).toBe(`${RED} kept inside of an outline`);
  const moved = keepColour(outlined, RED, { as: 'ink', plateId: sheet.plates[1]!.id });
  expect(keptOf(moved)).toMatchObject([{ colour: RED, within: outline, plateId: sheet.plates[1]!.id }]);
  const [layer] = moved.layers;
  const twice = {
    ...layer!,
    kept: [...fullToneLayer(moved)!.kept, { ...fullToneLayer(moved)!.kept[0]!, id: 'c9' }],
  };
  expect(() => parseJobSheet({ ...moved, layers: [twice] })).toThrow(/keeps one colour twice/);
});

test('colours of solids are among those that inks are looked for by: dropping their ink costs what it costs', () => {
  const coloursOf = (sheet: JobSheet) => {
    const surveyor = new ColourSurveyor(preparePlateJob(sheet, null, PLAIN_KERNELS));
    const read = readerOf(DRAWN, SIDE);
    for (const { need, add } of surveyor.steps()) add(read(need));
    return surveyor.result().many.filter(({ share }) => share > 0);
  };
  const lab = labFromRgb8(parseHexColour(RED));
  const shareOf = (sheet: JobSheet) =>
    coloursOf(sheet).reduce((sum, each) => sum + (deltaE76(each.lab, lab) < 6 ? each.share : 0), 0);
  // The letter has 12,691 of 90,000 units, by the other renderer.
  expect(shareOf(sheetOf())).toBeGreaterThan(0.12);
  expect(shareOf(kept())).toBeGreaterThan(0.12);
});

test('the pixel that is picked is the one below the pointer, at the border too', () => {
  const sheet = kept();
  const grid = printGrid(sheet, DPI);
  for (const [x, y] of [
    [0, 0],
    [3, 700],
    [719, 719],
    [400, 211],
  ] as const) {
    const need = artworkNeed(sheet, grid, { x, y, width: 1, height: 1 }, 1);
    const at = artworkPixel(sheet, grid, need, { x, y });
    const [column, row] = [at % need.rect.width, Math.floor(at / need.rect.width)];
    // 300 pixels of the artwork below 720 of the print.
    expect(need.rect.x + column).toBe(Math.floor(((x + 0.5) * 300) / 720));
    expect(need.rect.y + row).toBe(Math.floor(((y + 0.5) * 300) / 720));
  }
});

test('a sheet whose plate prints a colour that is not kept is refused', () => {
  const sheet = keepColour(sheetOf(), RED, { as: 'ink', plateId: null });
  const layer = { ...sheet.layers[0]!, kept: [] };
  expect(() => parseJobSheet({ ...sheet, layers: [layer] })).toThrow(/none that its layer keeps solid/);
});

test('flat areas are found in full-tone artwork, and gradients are none, however long they are', () => {
  const areas = (drawn: string, lossy = false) => {
    const read = readerOf(drawn, 900);
    const reader = {
      width: 900,
      height: 900,
      read: (rect: Parameters<typeof read>[0]['rect']) => read({ rect } as Parameters<typeof read>[0]),
    };
    return flatAreas(reader, lossy);
  };
  const found = areas(DRAWN);
  expect(found.map(({ rgb }) => rgb)).toEqual([
    [200, 32, 44],
    [242, 193, 78],
  ]);
  // Shares of the drawing's own geometry: the bar is 259.3 by 31.7 of 300 by 300.
  expect(found[1]!.area).toBeGreaterThan(0.8 * ((259.3 * 31.7) / 9e4));
  expect(found[1]!.area).toBeLessThanOrEqual((259.3 * 31.7) / 9e4);
  expect(areas(svg(''))).toEqual([]);
  expect(areas(svg(''), true)).toEqual([]);
  const notes = { ...NO_NOTES, keepable: found };
  const told = checkSheet(sheetOf(), notes).find(({ code }) => code === 'flat-as-dots');
  expect(told?.message).toContain(RED);
  expect(checkSheet(keepFlat(sheetOf(), found), notes).some(({ code }) => code === 'flat-as-dots')).toBe(
    false,
  );
  expect(keptOffers(keepFlat(sheetOf(), found), found)).toEqual([]);
});
