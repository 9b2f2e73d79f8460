import { existsSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import {
  type Lab,
  ciede2000,
  labFromLinear,
  labFromRgb8,
  linearFromRgb8,
  parseHexColour,
} from '@/core/colour';
import { inkCandidates } from '@/core/separation';
import { PROCESS_INKS, PROCESS_INK_LIMIT, START_STOCK } from '@/core/sheet';
import {
  ColourCount,
  ColourSolver,
  type InkSearch,
  type InkSet,
  type InkStack,
  TABLE_SIDE,
  type WeighedColour,
  chooseInks,
  modelOf,
  toneTableOf,
} from '@/core/solving';
import { painting } from '../painting';

// Figures of tones: how near inks of stock come to pictures on a black garment, how near the tables come to what the inks can print, how smooth the tables are, and a
// separation by closeness masks beside it. The pictures are those in colour of Debian's libjxl-testdata and python3-skimage, where they are installed: photographs, micrographs, a colour
// chart, a sign. Paintings drawn by code stand beside them with means of their own: half of them have all of a screen's colours, which no ink prints.

const GARMENT = '#17171b';
const PHOTOGRAPHS = '/usr/share/libjxl-testdata/external/wesaturate/';
const PICTURES = '/usr/lib/python3/dist-packages/skimage/data/';
const FILES = [
  `${PHOTOGRAPHS}500px/u76c0g_bliznaca_srgb8.png`,
  `${PHOTOGRAPHS}500px/tmshre_riaphotographs_srgb8.png`,
  `${PHOTOGRAPHS}500px/cvo9xd_keong_macan_srgb8.png`,
  `${PHOTOGRAPHS}64px/a2d1un_nkitzmiller_srgb8.png`,
  `${PHOTOGRAPHS}64px/vgqcws_vin_srgb8.png`,
  `${PICTURES}astronaut.png`,
  `${PICTURES}chelsea.png`,
  `${PICTURES}coffee.png`,
  `${PICTURES}rocket.jpg`,
  `${PICTURES}hubble_deep_field.jpg`,
  `${PICTURES}retina.jpg`,
  `${PICTURES}ihc.png`,
  `${PICTURES}motorcycle_left.png`,
  `${PICTURES}color.png`,
  `${PICTURES}logo.png`,
];
/** Longer side to which larger pictures are brought. */
const MOST_SIDE = 500;
const PAINTINGS = 5;

const garment = linearFromRgb8(parseHexColour(GARMENT));
const grounds = [{ garment, without: [] }];

interface Picture {
  readonly name: string;
  readonly kind: 'pictures' | 'paintings';
  readonly codes: Uint32Array;
}

async function pictures(): Promise<Picture[]> {
  const found: Picture[] = [];
  for (const file of FILES) {
    if (!existsSync(file)) continue;
    const data = await sharp(file)
      .toColourspace('srgb')
      .resize(MOST_SIDE, MOST_SIDE, { fit: 'inside', withoutEnlargement: true })
      .ensureAlpha()
      .raw()
      .toBuffer();
    const codes = new Uint32Array(data.buffer, data.byteOffset, data.length / 4);
    found.push({ name: path.basename(file), kind: 'pictures', codes });
  }
  for (let seed = 1; seed <= PAINTINGS; seed++) {
    const { data } = painting(400, 400, seed * 17, 'none');
    // Half of them calm, as illustrations on cloth are; half with all of a screen's colours.
    const calm = (code: number, i: number) => (i % 4 === 3 ? 255 : Math.round(40 + code * 0.65));
    const shown = seed % 2 === 0 ? data : data.map(calm);
    found.push({ name: `painting ${seed}`, kind: 'paintings', codes: new Uint32Array(shown.buffer) });
  }
  return found;
}

interface Judged {
  readonly mean: number;
  readonly p95: number;
}

function judge(colours: readonly WeighedColour[], differenceOf: (lab: Lab) => number): Judged {
  const found = colours.map(({ lab, share }) => ({ share, difference: differenceOf(lab) }));
  const mean = found.reduce((sum, { share, difference }) => sum + share * difference, 0);
  found.sort((p, q) => p.difference - q.difference);
  let seen = 0;
  const p95 = found.find(({ share }) => (seen += share) >= 0.95)?.difference ?? 0;
  return { mean, p95 };
}

function printer(stack: InkStack) {
  const model = modelOf(stack);
  const out = new Float64Array(3);
  return (tones: Float64Array): Lab => {
    model.print(tones, out);
    return labFromLinear([out[0]!, out[1]!, out[2]!]);
  };
}

/** Closeness of each colour to each ink's own, and a base by lightness; the widths that serve the picture best are taken. */
function closenessMasks(stack: InkStack, labs: readonly Lab[], colours: readonly WeighedColour[]): Judged {
  const print = printer(stack);
  let best: Judged = { mean: Infinity, p95: Infinity };
  for (const width of [20, 30, 45, 60, 90]) {
    for (const gamma of [0.5, 1, 1.5, 2.2]) {
      const judged = judge(colours, (lab) => {
        const tones = Float64Array.from(labs, (ink, k) =>
          k === 0 ? (lab[0] / 100) ** gamma : Math.max(0, 1 - ciede2000(ink, lab) / width),
        );
        return ciede2000(print(tones), lab);
      });
      if (judged.mean < best.mean) best = judged;
    }
  }
  return best;
}

/** Steps of each ink from one node of a table to the next along each side, largest ink first counted. */
function stepsOf(stack: InkStack): { readonly p95: number; readonly largest: number } {
  const { entries, lanes, count } = toneTableOf(stack);
  const steps: number[] = [];
  const side = TABLE_SIDE;
  for (let node = 0; node < side ** 3; node++) {
    const place = [Math.floor(node / side ** 2), Math.floor(node / side) % side, node % side];
    [side * side, side, 1].forEach((stride, axis) => {
      if (place[axis] === side - 1) return;
      let most = 0;
      for (let k = 0; k < count; k++) {
        const away = Math.abs(entries[node * lanes + k]! - entries[(node + stride) * lanes + k]!);
        most = Math.max(most, away / 65535);
      }
      steps.push(most);
    });
  }
  steps.sort((p, q) => p - q);
  return { p95: steps[Math.floor(steps.length * 0.95)]!, largest: steps.at(-1)! };
}

/** How near what a table prints comes to the best that its inks can print, and to the artwork, over every colour of a picture as it is. */
function judgeTable(stack: InkStack, codes: Uint32Array) {
  const start = performance.now();
  const table = toneTableOf(stack);
  const seconds = (performance.now() - start) / 1000;
  const print = printer(stack);
  const solver = new ColourSolver(stack);
  const tones = new Uint16Array(stack.inks.length);
  const own = new Map<number, number>();
  for (let i = 0; i < codes.length; i += 7)
    own.set(codes[i]! & 0xffffff, (own.get(codes[i]! & 0xffffff) ?? 0) + 1);
  const total = [...own.values()].reduce((sum, each) => sum + each, 0);
  const off: { readonly share: number; readonly toBest: number; readonly toArtwork: number }[] = [];
  for (const [code, pixels] of own) {
    const rgb = [code & 255, (code >> 8) & 255, code >> 16] as const;
    const lab = labFromRgb8(rgb);
    table.find(...rgb, tones);
    const printed = print(Float64Array.from(tones, (tone) => tone / 65535));
    let [best, least]: [Lab, number] = [lab, Infinity];
    for (const from of [0, 0.05, 0.15, 0.3, 0.5, 0.8]) {
      const found = new Float64Array(stack.inks.length).fill(from);
      solver.solve([lab], found, null, 10);
      const shown = print(found);
      const difference = ciede2000(shown, lab);
      if (difference < least) [best, least] = [shown, difference];
    }
    off.push({ share: pixels / total, toBest: ciede2000(printed, best), toArtwork: ciede2000(printed, lab) });
  }
  const of = (key: 'toBest' | 'toArtwork'): Judged => {
    const order = [...off].sort((p, q) => p[key] - q[key]);
    let seen = 0;
    return {
      mean: off.reduce((sum, each) => sum + each.share * each[key], 0),
      p95: order.find(({ share }) => (seen += share) >= 0.95)![key],
    };
  };
  return { seconds, toBest: of('toBest'), toArtwork: of('toArtwork') };
}

const processOnWhite: InkStack = {
  grounds: [{ garment: linearFromRgb8(parseHexColour('#f4f4f2')), without: [] }],
  inkLimit: PROCESS_INK_LIMIT,
  inks: PROCESS_INKS.map(({ ink }, k) => ({
    colour: linearFromRgb8(parseHexColour(ink.colour)),
    opacity: ink.opacity,
    cost: k === 3 ? 'dark' : 'none',
    counted: true,
    ...(k === 3 ? { isBlack: true as const } : {}),
  })),
};

const fixed = (value: number) => value.toFixed(2).padStart(6);
const mean = (values: readonly number[]) => values.reduce((sum, each) => sum + each, 0) / values.length;
const rows: Record<string, number[]> = {};
const note = (name: string, value: number) => (rows[name] ??= []).push(value);

for (const { name, kind, codes } of await pictures()) {
  const count = new ColourCount();
  const begin = performance.now();
  count.add(
    codes,
    Uint8Array.from(codes, (code) => (code >>> 24 > 127 ? 1 : 0)),
  );
  const many = count.weigh(256);
  const sheet = {
    garments: [{ id: 'garment-1', name: 'Black', colour: GARMENT, without: [] }],
    layers: [],
    plates: [],
  };
  const candidates = inkCandidates({ ...sheet, layers: [{ kind: 'flat' }] as never }, START_STOCK.inks, []);
  const search: InkSearch = { grounds, candidates, pinned: [], few: count.weigh(96), many };
  const bySize = new Map<number, InkSet>();
  for (const set of chooseInks(search, 10)) if (set) bySize.set(set.inks.length, set);
  const sets = [...bySize.values()].sort((p, q) => p.inks.length - q.inks.length);
  note('curve of 1 to 10 screens, s', (performance.now() - begin) / 1000);
  // So many colours, on a white and below one where that is nearer.
  const nearest = (k: number) => {
    const alike = sets.filter(
      ({ inks }) => inks.filter((i) => candidates[i]!.role === 'colour').length === k,
    );
    return Math.min(...(alike.length > 0 ? alike : sets.slice(-1)).map((each) => each.mean));
  };
  for (const k of [4, 6]) note(`${kind}: artwork, ${k} colours, mean`, nearest(k));
  const set = sets.find(({ inks }) => inks.length === 7)!;
  const stack: InkStack = { grounds, inks: set.inks.map((i) => candidates[i]!) };
  const own = judgeTable(stack, codes);
  note('table of 7 plates, s', own.seconds);
  note('printable, 7 screens, mean', own.toBest.mean);
  note('printable, 7 screens, p95', own.toBest.p95);
  const cells: InkStack = {
    ...stack,
    inks: stack.inks.map((ink, k) => ({
      ...ink,
      cell: { group: 1, under: candidates[set.inks[k]!]!.role === 'underbase' },
    })),
  };
  const beside = judgeTable(cells, codes);
  note('interlocked table, s', beside.seconds);
  note('interlocked, printable, mean', beside.toBest.mean);
  note('interlocked, printable, p95', beside.toBest.p95);
  note('interlocked, artwork, mean', beside.toArtwork.mean);
  const process = judgeTable(processOnWhite, codes);
  note('process on white, printable, mean', process.toBest.mean);
  note('process on white, printable, p95', process.toBest.p95);
  note('process on white, artwork, mean', process.toArtwork.mean);
  const masks = closenessMasks(
    stack,
    set.inks.map((i) => labFromRgb8(parseHexColour(candidates[i]!.ink.colour))),
    many,
  );
  note('closeness masks, times farther off', masks.mean / own.toArtwork.mean);
  const { p95, largest } = stepsOf(stack);
  note('step of nodes, p95', p95);
  note('step of nodes, largest', largest);
  // Figures of pictures stand empty in the lines of paintings, and the other way round.
  const isOther = (row: string) =>
    ['pictures', 'paintings'].some((each) => each !== kind && row.startsWith(each));
  const line = Object.entries(rows).map(([row, list]) => (isOther(row) ? '     -' : fixed(list.at(-1)!)));
  console.log(`${name}: ${line.join(' ')}`);
}
console.log('\nfigure                                  mean   worst');
for (const [name, list] of Object.entries(rows)) {
  console.log(`${name.padEnd(36)} ${fixed(mean(list))}  ${fixed(Math.max(...list))}`);
}
