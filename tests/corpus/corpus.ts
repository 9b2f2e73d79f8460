import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { parseArgs } from 'node:util';
import sharp, { type Sharp } from 'sharp';
import { KerameusError } from '@/core/units';
import { analyseArtwork, openArtwork, takeInArtwork } from '@/server/artwork';
import {
  PRINT_MM,
  PX_PER_MM,
  type Recomposed,
  evaluateArtwork,
  readReference,
  recomposeArtwork,
} from './evaluate';

/**
 * Separates openly licensed drawings, and pictures made from them, for three garments, and compares the predicted prints with renderings by
 * Debian's librsvg. Prints a line for each piece of artwork that has something to be said, and a table at the end.
 *
 *   --drawings N   how many drawings, spread over the packages   --pictures N   how many of them also as pictures
 *   --only TEXT    those whose name has it                        --verbose      a line for each
 *   --icons        those of the packages only, not of Debian's openclipart-svg
 *   --flat N       first, so many icons of 2 to 12 flat colours are put together again from their plates
 */
const { values } = parseArgs({
  options: {
    drawings: { type: 'string', default: '300' },
    pictures: { type: 'string', default: '10' },
    only: { type: 'string' },
    icons: { type: 'boolean', default: false },
    flat: { type: 'string', default: '0' },
    verbose: { type: 'boolean', default: false },
  },
});

const GARMENTS = [
  { name: 'Black', colour: '#141416' },
  { name: 'White', colour: '#f7f7f5' },
  { name: 'Red', colour: '#a32730' },
];

interface Piece {
  readonly name: string;
  readonly svg: string | Buffer;
}

/** A number of things spread evenly over a list. */
function spread<T>(list: readonly T[], count: number): T[] {
  const step = Math.max(1, list.length / Math.max(1, count));
  return Array.from({ length: Math.min(count, list.length) }, (_, k) => list[Math.floor(k * step)]!);
}

function iconsOf(packageName: string, count: number): Piece[] {
  const file = path.resolve('node_modules', packageName, 'icons.json');
  const set = JSON.parse(readFileSync(file, 'utf8')) as {
    readonly icons: Readonly<Record<string, { readonly body: string; readonly width?: number }>>;
    readonly width?: number;
    readonly height?: number;
  };
  return spread(Object.entries(set.icons), count).map(([name, { body, width }]) => {
    const size = width ?? set.width ?? 32;
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="${size}" height="${set.height ?? size}" viewBox="0 0 ${size} ${set.height ?? size}">${body}</svg>`;
    return { name: `${packageName.split('/')[1]}/${name}`, svg: Buffer.from(svg) };
  });
}

/** Drawings of Debian's openclipart-svg, where it is installed. */
function clipart(count: number): Piece[] {
  const root = '/usr/share/openclipart/svg';
  let names: string[] = [];
  try {
    names = readdirSync(root, { recursive: true, encoding: 'utf8' })
      .filter((name) => name.endsWith('.svg') && statSync(path.join(root, name)).size < 300_000)
      .sort();
  } catch {
    return [];
  }
  return spread(names, count).map((name) => ({ name: `clipart/${name}`, svg: path.join(root, name) }));
}

const count = Number(values.drawings);
const third = Math.ceil(count / 3);
const pieces = [
  ...iconsOf('@iconify-json/fluent-emoji-flat', third),
  ...iconsOf('@iconify-json/noto', third),
  ...(values.icons ? [] : clipart(count - 2 * third)),
].filter(({ name }) => !values.only || name.includes(values.only));

const folder = mkdtempSync(path.join(tmpdir(), 'kerameus-corpus-'));
const totals = { artworks: 0, jobs: 0, refused: 0, silent: 0, lost: 0, meanOver1: 0, told: 0 };
const means: number[] = [];

/** One file for all garments. */
async function judge(name: string, file: string, reference: Buffer): Promise<void> {
  const own = mkdtempSync(path.join(folder, 'art-'));
  try {
    const { facts, files } = await takeInArtwork(file, path.basename(file), own);
    const width = PRINT_MM * PX_PER_MM;
    const height = Math.round((width * facts.heightPx) / facts.widthPx);
    if (height > 3 * width) return;
    const picture = await readReference(reference, width, height);
    const source = openArtwork(files);
    try {
      const analysis = analyseArtwork(source, facts);
      totals.artworks++;
      for (const garment of GARMENTS) {
        const { mean, silent, lost, findings, rows, plates } = await evaluateArtwork(
          source,
          facts,
          analysis,
          garment,
          picture,
        );
        totals.jobs++;
        totals.silent += silent.length;
        totals.lost += lost;
        totals.meanOver1 += mean > 1 ? 1 : 0;
        totals.told += findings.some(({ severity }) => severity === 'severe') ? 1 : 0;
        means.push(mean);
        if (silent.length === 0 && lost === 0 && mean <= 2 && !values.verbose) continue;
        const told = silent.map(
          (each) => `${each.colour} ${(each.share * 100).toFixed(2)} % off ${each.difference.toFixed(1)}`,
        );
        console.log(
          `${name} on ${garment.name}: ${rows} rows, ${plates} plates, mean ${mean.toFixed(2)}, flat ${analysis.flatShare.toFixed(2)}` +
            `${lost > 0 ? `, LOST ${lost}` : ''}${told.length > 0 ? `, SILENT ${told.join('; ')}` : ''}` +
            (values.verbose ? ` [${findings.map(({ code }) => code).join(' ')}]` : ''),
        );
      }
    } finally {
      source.close();
    }
  } catch (thrown) {
    totals.refused++;
    console.log(`${name}: ${thrown instanceof KerameusError ? thrown.message : String(thrown)}`);
  } finally {
    rmSync(own, { recursive: true, force: true });
  }
}

/** Pictures of a drawing as people send them. */
const MADE = [
  { name: '150 dpi', px: 6 / 25.4, make: (image: Sharp) => image.png(), type: 'png' },
  { name: '300 dpi', px: 12 / 25.4, make: (image: Sharp) => image.png(), type: 'png' },
  {
    name: 'JPEG 60',
    px: 12 / 25.4,
    make: (image: Sharp) => image.flatten({ background: '#fff' }).jpeg({ quality: 60 }),
    type: 'jpg',
  },
  {
    name: 'JPEG 85',
    px: 12 / 25.4,
    make: (image: Sharp) => image.flatten({ background: '#fff' }).jpeg({ quality: 85 }),
    type: 'jpg',
  },
  { name: 'WebP', px: 12 / 25.4, make: (image: Sharp) => image.webp({ quality: 85 }), type: 'webp' },
  {
    name: 'palette',
    px: 12 / 25.4,
    make: (image: Sharp) => image.png({ palette: true, colours: 64, dither: 0 }),
    type: 'png',
  },
] as const;

function render(svg: string, widthPx: number): Buffer {
  return execFileSync('rsvg-convert', ['-w', String(Math.round(widthPx)), svg], {
    maxBuffer: 1 << 28,
    stdio: ['ignore', 'pipe', 'ignore'],
  });
}

/** Icons of 2 to 12 flat colours, spread over the packages, put together again from their plates. */
async function recomposeFlat(wanted: number): Promise<(Recomposed & { readonly name: string })[]> {
  const found: (Recomposed & { readonly name: string })[] = [];
  for (const { name, svg } of [
    ...iconsOf('@iconify-json/fluent-emoji-flat', wanted),
    ...iconsOf('@iconify-json/noto', wanted),
  ]) {
    const own = mkdtempSync(path.join(folder, 'flat-'));
    const file = path.join(own, 'a.svg');
    writeFileSync(file, svg);
    const { facts, files } = await takeInArtwork(file, 'a.svg', own);
    const source = openArtwork(files);
    try {
      const width = PRINT_MM * PX_PER_MM;
      const height = Math.round((width * facts.heightPx) / facts.widthPx);
      const picture = await readReference(render(file, width), width, height);
      const analysis = analyseArtwork(source, facts);
      // Fades are tones, and no flat artwork.
      if (analysis.flatShare < 0.99) continue;
      const recomposed = await recomposeArtwork(source, facts, analysis, picture);
      if (recomposed.colours >= 2 && recomposed.colours <= 12) found.push({ name, ...recomposed });
    } finally {
      source.close();
      rmSync(own, { recursive: true, force: true });
    }
    if (found.length === wanted) break;
  }
  return found;
}

try {
  const flat = await recomposeFlat(Number(values.flat));
  const asPictures = new Set(spread(pieces, Number(values.pictures)));
  for (const [k, piece] of pieces.entries()) {
    const file = typeof piece.svg === 'string' ? piece.svg : path.join(folder, `${k}.svg`);
    if (typeof piece.svg !== 'string') writeFileSync(file, piece.svg);
    let reference: Buffer;
    try {
      reference = render(file, PRINT_MM * PX_PER_MM);
    } catch {
      continue;
    }
    await judge(piece.name, file, reference);
    if (!asPictures.has(piece)) continue;
    for (const { name, px, make, type } of MADE) {
      const target = path.join(folder, `${k}-${name.replace(' ', '')}.${type}`);
      const smooth = render(file, PRINT_MM * px * 25);
      writeFileSync(target, await make(sharp(smooth)).toBuffer());
      const flat =
        type === 'jpg' ? await sharp(reference).flatten({ background: '#fff' }).png().toBuffer() : reference;
      await judge(`${piece.name} as ${name}`, target, flat);
    }
  }
  means.sort((p, q) => p - q);
  const at = (share: number) => (means[Math.floor(share * (means.length - 1))] ?? 0).toFixed(2);
  const mean = means.reduce((sum, each) => sum + each, 0) / Math.max(1, means.length);
  const table = {
    ...totals,
    mean: mean.toFixed(2),
    meanMedian: at(0.5),
    mean95: at(0.95),
    meanMost: at(1),
    flat,
  };
  console.log(JSON.stringify(table));
  if (totals.silent > 0 || totals.lost > 0) process.exitCode = 1;
} finally {
  rmSync(folder, { recursive: true, force: true });
}
