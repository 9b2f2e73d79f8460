import { Resvg } from '@resvg/resvg-js';
import { FitStages, type PlatePlanes } from '@/core/fit';
import { PLAIN_KERNELS } from '@/core/kernels';
import {
  type ArtworkNeed,
  filmKey,
  labelsForPlates,
  labelsMargin,
  plateArtworkNeed,
  platesOfLabels,
  preparePlateJob,
  printGrid,
} from '@/core/pipeline';
import { Arena, StageMemory } from '@/core/raster';
import { changePlate, createJobSheet } from '@/core/separation';
import { DEFAULT_TEXTURE, type JobSheet, type Texture, curveKey, isCurveOf } from '@/core/sheet';

// The table keeps the memory of its stages and uses it again: whatever came before, what it shows must be what a fresh evaluation gives.

const [WIDTH, HEIGHT] = [360, 240];
const { pixels } = new Resvg(
  `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}"><defs><linearGradient id="g"><stop offset="0.2" stop-color="#e8b23a"/><stop offset="0.8" stop-color="#c8382e"/></linearGradient></defs><rect x="30" y="30" width="300" height="120" fill="url(#g)"/><circle cx="120" cy="180" r="50" fill="#c8382e"/><path d="M200 170H330V176H200Z" fill="#e8b23a"/></svg>`,
).render();

function read({ rect }: ArtworkNeed) {
  const data = new Uint8Array(rect.width * rect.height * 4);
  for (let row = 0; row < rect.height; row++) {
    const from = ((rect.y + row) * WIDTH + rect.x) * 4;
    data.set(pixels.subarray(from, from + rect.width * 4), row * rect.width * 4);
  }
  return { rect, data };
}

const sheet = createJobSheet({
  name: 'Stages',
  artwork: { sha256: '0'.repeat(64), fileName: 'a.png', kind: 'raster', widthPx: WIDTH, heightPx: HEIGHT },
  colours: [
    { rgb: [0xc8, 0x38, 0x2e], area: 0.6 },
    { rgb: [0xe8, 0xb2, 0x3a], area: 0.4 },
  ],
  purity: 2.5,
  background: null,
  backgroundWish: 'auto',
  transitions: null,
  print: { widthMm: 36, chosen: false },
  garment: { name: 'Navy', colour: '#16233f' },
  inks: 'auto',
  date: '2026-03-14',
});
const withFit = (change: Partial<JobSheet['fit']>): JobSheet => ({
  ...sheet,
  fit: { ...sheet.fit, ...change },
});
const worn = (change: Partial<JobSheet['fit']>, texture: Partial<Texture> = {}): JobSheet => ({
  ...withFit(change),
  texture: { ...DEFAULT_TEXTURE, scale: 0.2, ...texture },
});

test('planes that lie in used memory are those of a fresh evaluation, whatever was asked for before', () => {
  const scratch = new Arena();
  const labelMemory = new StageMemory(scratch);
  const kept = new FitStages(scratch);
  const region = (x: number, y: number, width: number, height: number) => ({ x, y, width, height });
  const asked: [JobSheet, ReturnType<typeof region>][] = [
    [sheet, region(20, 20, 200, 100)],
    [withFit({ chokeMm: 0.4 }), region(20, 20, 200, 100)],
    [withFit({ chokeMm: 0.1, spreadMm: 0.3 }), region(20, 20, 200, 100)],
    // Larger than what the memory held, then smaller, then elsewhere with all of it.
    [sheet, region(0, 0, 360, 240)],
    [withFit({ keepMm: 0.5, chokeMm: 0.6 }), region(0, 0, 360, 240)],
    [sheet, region(150, 140, 40, 60)],
    [changePlate(sheet, sheet.plates[1]!.id, { baseStrength: 0.4 }), region(150, 140, 40, 60)],
    [sheet, region(150, 140, 40, 60)],
    // Plates and holes of a texture that stay as they were are not made anew; each of these changes others of them.
    [worn({ chokeMm: 0.21, trapMm: 0.21 }), region(0, 0, 360, 240)],
    [worn({ chokeMm: 0.29, trapMm: 0.21 }), region(0, 0, 360, 240)],
    [worn({ chokeMm: 0.29, trapMm: 0.26 }), region(0, 0, 360, 240)],
    [worn({ chokeMm: 0.29, trapMm: 0.26 }, { strength: 0.3 }), region(0, 0, 360, 240)],
    [worn({ chokeMm: 0.22, trapMm: 0.22 }, { spared: [sheet.plates[1]!.id] }), region(0, 0, 360, 240)],
    [withFit({ chokeMm: 0.22, trapMm: 0.22 }), region(0, 0, 360, 240)],
    [worn({ chokeMm: 0.21, trapMm: 0.21 }), region(0, 0, 360, 240)],
    [worn({ chokeMm: 0.2, trapMm: 0 }), region(40, 10, 160, 200)],
  ];
  const grid = printGrid(sheet, 254);
  let labels = null as { key: string; map: ReturnType<typeof labelsForPlates> } | null;
  let inked = 0;
  for (const [state, where] of asked) {
    const job = preparePlateJob(state, null, PLAIN_KERNELS);
    const art = read(plateArtworkNeed(job, grid, where));
    const fresh = platesOfLabels(job, grid, labelsForPlates(job, grid, where, art));
    // The same labels go on where the region is the same and what fit looks at is there, as on the table.
    const key = `${JSON.stringify(where)}/${labelsMargin(job, grid)}`;
    if (labels?.key !== key) {
      labels = {
        key,
        map: labelsForPlates({ ...job, memory: labelMemory.renew() }, grid, where, art),
      };
    }
    const used = platesOfLabels(job, grid, labels.map, { made: kept });
    expect(used.rect).toEqual(fresh.rect);
    expect(used.planes.map(({ plate }) => plate.id)).toEqual(fresh.planes.map(({ plate }) => plate.id));
    inked += compare(used, fresh);
  }
  expect(inked).toBeGreaterThan(50_000);
});

/** Compares plate by plate where ink is, and counts it. */
function compare(used: PlatePlanes, fresh: PlatePlanes): number {
  let inked = 0;
  fresh.planes.forEach(({ shape, tone, plate }, k) => {
    const other = used.planes[k]!;
    expect([plate.id, Buffer.compare(other.shape, shape)]).toEqual([plate.id, 0]);
    for (let i = 0; i < shape.length; i++) {
      if (shape[i] === 0) continue;
      inked++;
      if ((other.tone?.[i] ?? 65535) !== (tone?.[i] ?? 65535)) throw new Error(`${plate.id} differs at ${i}`);
    }
  });
  return inked;
}

test('memory that stages share is taken back after each, and what they keep is not', () => {
  const shared = new Arena();
  const [one, other] = [new StageMemory(shared), new StageMemory(shared)];
  const kept = one.bytes(100).fill(7);
  other.scratch(() => other.bytes(5000).fill(9));
  one.scratch(() => one.words(3000).fill(9));
  const second = other.bytes(100);
  expect(kept.every((value) => value === 7)).toBe(true);
  expect(second.every((value) => value === 0)).toBe(true);
  // Made anew, everything is zero again.
  expect(
    one
      .renew()
      .bytes(100)
      .every((value) => value === 0),
  ).toBe(true);
});

test('a film is of an older state when anything on it has changed, and not when only files have', () => {
  const plate = sheet.plates[1]!;
  const key = (state: JobSheet) => filmKey(state, state.plates[1]!);
  const film = (change: Partial<JobSheet['film']>): JobSheet => ({
    ...sheet,
    film: { ...sheet.film, ...change },
  });
  const same = [
    film({ formats: ['png'], names: '{job}-{n}' }),
    film({ gang: { widthMm: 400, heightMm: null } }),
    changePlate(sheet, sheet.plates[0]!.id, { screen: { ...sheet.plates[0]!.screen, lpi: 33 } }),
  ];
  for (const state of same) expect(key(state)).toBe(key(sheet));
  const other = [
    withFit({ chokeMm: 0.4 }),
    film({ turned: true }),
    film({ density: 3.5 }),
    film({ dpi: 1440 }),
    { ...sheet, name: 'Another' },
    changePlate(sheet, plate.id, { mesh: 305 }),
    changePlate(sheet, plate.id, { screen: { ...plate.screen, angleDeg: 52.5 } }),
    changePlate(sheet, plate.id, { ink: { ...plate.ink, name: 'Oar red' } }),
  ];
  for (const state of other) expect(key(state)).not.toBe(key(sheet));
});

test('a curve in stock is that of one ink through one mesh and one kind of dots', () => {
  const plate = sheet.plates[1]!;
  const key = curveKey(plate);
  expect(isCurveOf({ ...key, lpi: key.lpi + 0.01 }, key)).toBe(true);
  for (const other of [
    { ...key, ink: 'Another' },
    { ...key, mesh: key.mesh + 1 },
    { ...key, lpi: key.lpi + 1 },
    { ...key, shape: key.shape === 'round' ? ('line' as const) : ('round' as const) },
  ]) {
    expect(isCurveOf(other, key)).toBe(false);
  }
});
