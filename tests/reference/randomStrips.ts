import { readFileSync } from 'node:fs';
import { arrangeDots } from '@/core/checks';
import { parseHexColour } from '@/core/colour';
import { openLabelFont } from '@/core/film';
import { createWasmKernels } from '@/core/kernels';
import {
  type ArtworkNeed,
  FilmStripMaker,
  filmFurniture,
  planFilms,
  preparePlateJob,
  referenceJob,
} from '@/core/pipeline';
import type { RgbaPlane } from '@/core/artwork';
import { Arena } from '@/core/raster';
import { ThresholdTiles } from '@/core/screening';
import {
  type SimulatedInks,
  addOwnBase,
  changeKept,
  changePlates,
  changeRole,
  createJobSheet,
  keepColour,
  setSuppliedBase,
  solidPlates,
} from '@/core/separation';
import {
  DOT_SHAPES,
  type JobSheet,
  SCREENINGS,
  SPECIALS,
  TEXTURES,
  type Texture,
  type TrapPairSetting,
  addSpecial,
  changeSpecial,
  keptOf,
  paletteOf,
  parseJobSheet,
  withMask,
  withPalette,
} from '@/core/sheet';
import { PICTURE_SIDE, givePicture } from '@/core/texture';
import { labelFontBytes } from '@/server/projectRoot';
import { painting, planeReader } from '../painting';
import { readerOf } from '../renderedArtwork';

/**
 * Makes strips of random jobs the fast way and by reference, and prints the first that differ: a line for each job. Jobs of a seed are the same whatever
 * number of them is made.
 *
 *   node randomStrips.mjs SEED COUNT
 */
const seed = Number(process.argv[2]);
const count = Number(process.argv[3]);

const kernels = createWasmKernels(new WebAssembly.Module(readFileSync('public/kernels.wasm')));
const font = openLabelFont(labelFontBytes());
const tiles = new ThresholdTiles();
/** Crosses hard edges, fades and what is bare, and reaches beyond the artwork. */
const MASK: [number, number][] = [
  [-0.2, 0.31],
  [0.52, 0.04],
  [0.93, 0.6],
  [0.47, 0.42],
  [0.38, 1.1],
];
const COLOURS = ['#c8382e', '#f2d13a', '#1f5f9b', '#10202c', '#f4f4f0'] as const;

/** Random numbers of a seed: mulberry32, by Tommy Ettinger, in the public domain. */
function generator(from: number): () => number {
  let state = from >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

type Random = () => number;
const one = <T>(random: Random, list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
const between = (random: Random, low: number, high: number) => low + random() * (high - low);

/** Flat shapes, gradients and glows over each other. */
function randomArtwork(random: Random, toned: number): string {
  const definitions: string[] = [];
  const shapes = Array.from({ length: 4 + Math.floor(random() * 6) }, (_, k) => {
    const [p, q] = [one(random, COLOURS), one(random, COLOURS)];
    const kind = random();
    let fill: string = p;
    if (kind < toned) {
      const glows = random() < 0.4;
      fill = `url(#g${k})`;
      definitions.push(
        glows
          ? `<radialGradient id="g${k}"><stop stop-color="${p}"/><stop offset="1" stop-color="${p}" stop-opacity="0"/></radialGradient>`
          : `<linearGradient id="g${k}" y2="${random().toFixed(2)}"><stop offset=".1" stop-color="${p}"/><stop offset=".9" stop-color="${q}"/></linearGradient>`,
      );
    }
    const [x, y, w, h] = [
      between(random, -40, 300),
      between(random, -30, 200),
      between(random, 10, 300),
      between(random, 4, 200),
    ].map((value) => value.toFixed(1));
    return random() < 0.5
      ? `<rect x="${x}" y="${y}" width="${w}" height="${h}" fill="${fill}"/>`
      : `<ellipse cx="${x}" cy="${y}" rx="${w}" ry="${h}" fill="${fill}" transform="rotate(${(random() * 90).toFixed(1)})"/>`;
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" width="380" height="250" viewBox="0 0 380 250"><defs>${definitions.join('')}</defs>${shapes.join('')}</svg>`;
}

/** A few inks for tones: their table is made in half a second. */
function randomInks(random: Random): SimulatedInks {
  const inks = COLOURS.filter(() => random() < 0.5).map((colour) => ({ name: colour.slice(1), colour }));
  return {
    inks: inks.length > 0 ? inks : [{ name: 'Red', colour: COLOURS[0] }],
    base: random() < 0.7 ? { colour: '#f6f6f3', opacity: 0.85 } : null,
    highlight: random() < 0.5,
  };
}

/** Drawings and pictures of flat shapes and gradients, by spot colours and by tones, paintings by tones, and drawings whose plates are given. */
const KINDS = ['raster', 'vector', 'painting', 'toned raster', 'toned vector', 'supplied'] as const;
type Kind = (typeof KINDS)[number];

const isDrawing = (kind: Kind) => kind.endsWith('vector') || kind === 'supplied';
const isToned = (kind: Kind) => kind === 'painting' || kind === 'supplied' || kind.startsWith('toned');

/** Plates that a file may name. */
const NAMED = [
  { name: 'White', colour: '#f4f4f0' },
  { name: 'Brick', colour: '#c8382e' },
  { name: 'Sand', colour: '#f2d13a' },
  { name: 'Black', colour: null },
];

/** Reads artwork with what its plates cover: each drawn by itself, dark where it prints. */
function suppliedReader(random: Random, width: number) {
  const draw = () => readerOf(randomArtwork(random, one(random, [0, 0.5, 1])), width);
  const colours = draw();
  const plates = NAMED.map(({ name }) => ({ name, read: draw() }));
  return (need: ArtworkNeed): RgbaPlane => {
    const channels = plates.map(({ name, read }) => {
      const { data } = read(need);
      const coverage = new Uint8Array(data.length / 4);
      coverage.forEach((_, i) => (coverage[i] = Math.round(((255 - data[i * 4]!) * data[i * 4 + 3]!) / 255)));
      return [name, coverage] as const;
    });
    return { ...colours(need), channels: new Map(channels) };
  };
}

function randomSheet(random: Random, kind: Kind): JobSheet {
  const fresh = createJobSheet({
    name: 'Random',
    artwork: {
      sha256: '0'.repeat(64),
      fileName: 'random',
      kind: isDrawing(kind) ? 'vector' : 'raster',
      widthPx: 380,
      heightPx: 250,
    },
    colours: COLOURS.map((colour) => ({ rgb: parseHexColour(colour), area: 0.2 })),
    purity: 2.5,
    background:
      isToned(kind) && kind !== 'supplied' && random() < 0.5
        ? { colour: one(random, COLOURS), onAllSides: true, inside: 0.1 }
        : null,
    backgroundWish: 'everywhere',
    transitions:
      random() < 0.5
        ? null
        : [
            [COLOURS[0], COLOURS[1]],
            [COLOURS[1], COLOURS[2]],
            [COLOURS[2], COLOURS[2]],
          ],
    print: { widthMm: between(random, 25, 50), chosen: false },
    garment: one(random, [
      { name: 'Navy', colour: '#16233f' },
      { name: 'White', colour: '#f7f7f5' },
    ]),
    inks: 'auto',
    simulated: isToned(kind) ? randomInks(random) : null,
    supplied: kind === 'supplied' ? { plates: NAMED.filter(() => random() < 0.7), stock: [] } : null,
    date: '2026-03-14',
  });
  const ids = fresh.plates.map(({ id }) => id);
  const based = kind === 'supplied' && random() < 0.5 ? addOwnBase(setSuppliedBase(fresh, null)) : fresh;
  const highlighted =
    ids.length > 0 && random() < 0.3 ? changeRole(based, one(random, ids), 'highlight') : based;
  const screened = changePlates(highlighted, ids, ({ screen }) => ({
    baseStrength: one(random, [0, 0.6, 1, 1]),
    stages:
      random() < 0.4
        ? [
            {
              kind: 'curve' as const,
              points: [
                [0, 0],
                [between(random, 0.2, 0.7), between(random, 0.05, 0.6)],
                [1, one(random, [1, 0.85])],
              ] as [number, number][],
            },
          ]
        : [],
    screen: {
      ...screen,
      screening: one(random, [...SCREENINGS, 'grid' as const, 'grid' as const]),
      lpi: Math.round(between(random, 25, 55)),
      angleDeg: Math.round(between(random, -90, 90)),
      shape: one(random, DOT_SHAPES),
      gain: one(random, [0, 0.2]),
      holdSmallest: random() < 0.3,
    },
  }));
  const dots =
    random() < 0.3
      ? arrangeDots(
          screened,
          screened.plates.flatMap(({ id, role }) => (role === 'colour' ? [id] : [])),
          'interlocked',
          () => 1,
        )
      : screened;
  const base = dots.plates.find(({ role }) => role === 'underbase');
  const tints = paletteOf(dots).map((entry) => ({
    ...entry,
    tint: one(random, [1, 1, 0.4]),
    base: one(random, [null, null, 0, 0.5]),
    plateId: base && random() < 0.15 ? base.id : entry.plateId,
  }));
  const kept =
    isToned(kind) && kind !== 'supplied' && random() < 0.6
      ? withRandomKept(random, dots)
      : withPalette(dots, tints);
  // A base that no ink wants any more has left the job with the edits above: pairs and texture name only what is still there.
  const left = kept.plates.map(({ id }) => id).filter((id) => ids.includes(id));
  const sheet = parseJobSheet({
    ...withMask(kept, one(random, [null, null, MASK])),
    fit: {
      ...dots.fit,
      chokeMm: one(random, [0, 0.15, 0.4]),
      spreadMm: isToned(kind) && kind !== 'supplied' ? 0 : one(random, [0, 0, 0.2]),
      trapMm: isToned(kind) && kind !== 'supplied' ? 0 : one(random, [0, 0.1, 0.25]),
      pairs:
        isToned(kind) && kind !== 'supplied'
          ? []
          : randomPairs(random, left).filter(
              ({ grows }) => kind !== 'supplied' || (grows !== 'gap' && grows !== 'over'),
            ),
      guardMm: one(random, [0, 0, 0.4]),
      thickenMm: isToned(kind) ? 0 : one(random, [0, 0, 0.5]),
      lightBase:
        isToned(kind) || random() < 0.8
          ? null
          : {
              curve: [
                [0.1, 0],
                [0.9, 1],
              ] as [number, number][],
              over: one(random, ['alone', 'least']),
            },
      highlightChokeMm: one(random, [0, 0.1]),
      underDarkMm: one(random, [0, 0.2]),
      keepMm: one(random, [0, 0.3]),
    },
    texture: random() < 0.4 ? randomTexture(random, left) : null,
    film: { ...dots.film, dpi: one(random, [300, 360, 425]), sheetWidthMm: 110, sheetHeightMm: 100 },
  });
  return withRandomSpecials(random, sheet);
}

/** Plates below and above the inks, at some of them. */
function withRandomSpecials(random: Random, sheet: JobSheet): JobSheet {
  return SPECIALS.filter(() => random() < 0.2).reduce((next, kind) => {
    if (kind === 'halftone') {
      const base = next.plates.find(({ role }) => role === 'underbase');
      return base && base.screen.interlock === null ? addSpecial(next, kind) : next;
    }
    const over = sheet.plates.flatMap(({ id }) => (random() < 0.5 ? [id] : []));
    const growMm = one(random, [0, 0.2, -0.15]);
    return changeSpecial(addSpecial(next, kind), kind, { over: over.length > 0 ? over : null, growMm });
  }, sheet);
}

/** Some pairs of plates that are trapped otherwise. */
function randomPairs(random: Random, ids: readonly string[]): TrapPairSetting[] {
  return ids.flatMap((one_, k) =>
    ids.slice(k + 1).flatMap((other): TrapPairSetting[] => {
      if (random() < 0.7) return [];
      const grows = one(random, [
        'model',
        'none',
        'gap',
        'over',
        { plateId: one_ },
        { plateId: other },
      ] as const);
      return [
        {
          plateIds: [one_, other],
          grows,
          mm: one(random, [null, 0.15, 0.3]),
          clearMm: one(random, [0, 0, 0.5]),
        },
      ];
    }),
  );
}

/** Waves of several lengths, as a picture that was added. */
const WAVES = { sha256: 'a'.repeat(64), fileName: 'waves.png', aspect: 0.7, light: false };
givePicture(
  WAVES.sha256,
  Uint8Array.from({ length: PICTURE_SIDE * PICTURE_SIDE }, (_, i) => {
    const [x, y] = [i % PICTURE_SIDE, Math.floor(i / PICTURE_SIDE)];
    return 127 + 80 * Math.sin(x / 9 + Math.sin(y / 31)) + 40 * Math.sin(y / 4);
  }),
);

function randomTexture(random: Random, ids: readonly string[]): Texture {
  const kind = one(random, [...TEXTURES, 'picture' as const]);
  return {
    kind,
    picture: kind === 'picture' ? { ...WAVES, light: random() < 0.5 } : null,
    strength: between(random, 0.02, 0.8),
    contrast: one(random, [1, 0.5]),
    scale: one(random, [0.4, 1, 2.5]),
    angleDeg: one(random, [0, 40]),
    xMm: between(random, -20, 20),
    yMm: 0,
    secondDeg: one(random, [null, null, 65]),
    spared: ids.filter(() => random() < 0.15),
  };
}

/** Some colours kept solid, on any plate, or bare. */
function withRandomKept(random: Random, sheet: JobSheet): JobSheet {
  return COLOURS.filter(() => random() < 0.5).reduce((next, colour) => {
    const plates = solidPlates(next, colour);
    const kept = keepColour(
      next,
      colour,
      random() < 0.2 ? { as: 'garment' } : { as: 'ink', plateId: one(random, plates).plate.id },
    );
    return random() < 0.3 ? changeKept(kept, keptOf(kept).at(-1)!.id, { within: MASK }) : kept;
  }, sheet);
}

function shuffled(random: Random, count: number): number[] {
  const order = Array.from({ length: count }, (_, k) => k);
  for (let k = count - 1; k > 0; k--) {
    const other = Math.floor(random() * (k + 1));
    [order[k], order[other]] = [order[other]!, order[k]!];
  }
  return order;
}

for (let k = 0; k < count; k++) {
  const random = generator(seed + k * 7919);
  const kind = one(random, KINDS);
  const sheet = randomSheet(random, kind);
  const memory = new Arena();
  const plan = planFilms(sheet);
  const furniture = filmFurniture(plan, font);
  const keepPlanes = random() < 0.5;
  const job = preparePlateJob(sheet, null, kernels, memory);
  const fast = new FilmStripMaker(plan, job, furniture, keepPlanes, tiles);
  const full = new FilmStripMaker(plan, referenceJob(job), furniture, !keepPlanes, tiles);
  const width = fast.need(Math.floor(plan.stripCount / 2))!.levelWidth;
  const read =
    kind === 'supplied'
      ? suppliedReader(random, width)
      : kind === 'painting'
        ? planeReader(painting(380, 250, Math.floor(random() * 1e6), one(random, ['none', 'oval'] as const)))
        : readerOf(randomArtwork(random, one(random, [0, 0.5, 1])), width);
  const strips = shuffled(random, plan.stripCount)
    .filter((index) => fast.need(index) !== null)
    .slice(0, 2);
  const wrong: string[] = [];
  let ink = 0;
  for (const index of strips) {
    memory.reset();
    const made = fast.make(index, read);
    memory.reset();
    const wanted = full.make(index, read);
    plan.plates.forEach((plate, p) => {
      ink += wanted.covered[p]!;
      if (Buffer.compare(made.bits[p]!, wanted.bits[p]!) !== 0) wrong.push(`strip ${index}, ${plate.id}`);
      if (made.screened[p] !== wanted.screened[p]) wrong.push(`strip ${index}, ${plate.id}: dots or none`);
    });
  }
  console.log(
    JSON.stringify({
      seed: seed + k * 7919,
      kind,
      dpi: sheet.film.dpi,
      plates: plan.plates.length,
      ink: Math.round(ink),
      wrong,
    }),
  );
}
