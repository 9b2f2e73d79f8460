import type { TextureKind } from '../sheet';
import { type Field, addCloud, addNoise, chance, field, forEachNearest } from './noise';

/** Pixels along a side of a texture: a power of two. */
export const TILE_SIDE = 1024;
/** Width of one of them at a scale of 1, in mm: holes that are much narrower than two would fill on the press. */
export const TILE_MM = 0.2;

/** How a texture wears: what is lowest goes first. Values of any range; only their order counts. */
type Make = (side: number, seed: number) => Field;

/** Counts are for a whole tile; of a smaller one there are as many fewer. */
const of = (side: number, count: number) => Math.max(1, Math.round((count * side) / TILE_SIDE));

/** Ink that broke along a net of cracks, finer ones between wider ones. */
const cracked: Make = (side, seed) => {
  const bend = field(side);
  addCloud(bend, of(side, 24), of(side, 192), 0.5, seed + 7);
  const out = field(side);
  const { values } = out;
  const shift = (index: number) => bend.values[index]!;
  forEachNearest(side, of(side, 20), seed, shift, (index, { first, second }) => {
    values[index] = second - first;
  });
  forEachNearest(side, of(side, 64), seed + 3, shift, (index, { first, second }) => {
    values[index] = Math.min(values[index]!, 0.25 + 1.1 * (second - first));
  });
  // Cracks are wider here and there.
  addCloud(out, of(side, 8), of(side, 16), 0.16, seed + 11);
  return out;
};

/** Ink that many washes took away in patches. */
const washed: Make = (side, seed) => {
  const out = field(side);
  addCloud(out, of(side, 12), of(side, 384), 1, seed);
  addNoise(out, of(side, 512), of(side, 512), 0.2, seed + 5);
  return out;
};

/** Round specks of all sizes, up to about 2 mm. */
const speckle: Make = (side, seed) => {
  const out = field(side);
  const { values } = out;
  values.fill(4);
  for (const [k, cells] of [48, 110, 220].entries()) {
    forEachNearest(side, of(side, cells), seed + 10 * k, null, (index, { first, cellX, cellY }) => {
      // Few points have a large speck, and it is worn through last at its rim.
      const size = chance(cellX, cellY, seed + 77 + k) ** 3 + 0.02;
      values[index] = Math.min(values[index]!, first / size);
    });
  }
  return out;
};

/** Streaks of a dry brush. */
const brushed: Make = (side, seed) => {
  const out = field(side);
  addNoise(out, of(side, 4), of(side, 96), 0.8, seed);
  addNoise(out, of(side, 8), of(side, 256), 1, seed + 1);
  addNoise(out, of(side, 24), of(side, 640), 0.7, seed + 2);
  addCloud(out, of(side, 6), of(side, 24), 0.4, seed + 3);
  return out;
};

/** The garment's threads showing through, over and under each other. */
const weave: Make = (side, seed) => {
  const out = field(side);
  addCloud(out, of(side, 10), of(side, 160), 0.9, seed);
  const threads = of(side, 160);
  const { values } = out;
  for (let y = 0; y < side; y++) {
    const v = (y * threads) / side;
    const along = Math.sin(Math.PI * v) ** 2;
    for (let x = 0; x < side; x++) {
      const u = (x * threads) / side;
      const isOver = ((Math.floor(u) + Math.floor(v)) & 1) === 0;
      values[y * side + x]! += 0.9 * (isOver ? Math.sin(Math.PI * u) ** 2 : along);
    }
  }
  return out;
};

/** Thin lines scratched this way and that. */
const scratches: Make = (side, seed) => {
  const out = field(side);
  const { values } = out;
  values.fill(1);
  addCloud(out, of(side, 16), of(side, 128), 0.12, seed + 9);
  const perMm = 1 / TILE_MM;
  const count = 900 * (side / TILE_SIDE) ** 2;
  for (let k = 0; k < count; k++) {
    const draw = (what: number) => chance(k, what, seed);
    // Most go one way, a few across.
    const angle = draw(3) < 0.75 ? 0.6 + (draw(0) - 0.5) * 0.7 : draw(0) * Math.PI;
    const length = (6 + 50 * draw(1) ** 2) * perMm;
    const half = (0.14 + 0.22 * draw(2) ** 2) * perMm;
    const depth = draw(4);
    const [dx, dy] = [Math.cos(angle), Math.sin(angle)];
    const [x0, y0] = [draw(5) * side, draw(6) * side];
    for (let at = 0; at <= length; at += 0.5) {
      // They begin and end thin.
      const wide = half * Math.sqrt(Math.sin((Math.PI * at) / length));
      const reach = Math.ceil(wide);
      const [cx, cy] = [x0 + dx * at, y0 + dy * at];
      for (let j = -reach; j <= reach; j++) {
        for (let i = -reach; i <= reach; i++) {
          const [x, y] = [Math.round(cx) + i, Math.round(cy) + j];
          const away = Math.hypot(x - cx, y - cy);
          if (away > wide) continue;
          const index = mod(y, side) * side + mod(x, side);
          values[index] = Math.min(values[index]!, depth * 0.6 - 0.9 + (0.3 * away) / (wide + 1e-3));
        }
      }
    }
  }
  return out;
};

function mod(value: number, by: number): number {
  return ((value % by) + by) % by;
}

/** Round dots on a grid, larger where the print is worn more. */
const dots: Make = (side, seed) => {
  const out = field(side);
  addCloud(out, of(side, 6), of(side, 48), 1.1, seed);
  const { values } = out;
  // A grid that is turned and still meets itself at the border: whole numbers of rows both ways.
  const [across, down] = [of(side, 132), of(side, 56)];
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      const u = (x * across + y * down) / side;
      const v = (y * across - x * down) / side;
      values[y * side + x]! -= 0.35 * (Math.cos(2 * Math.PI * u) + Math.cos(2 * Math.PI * v));
    }
  }
  return out;
};

/** Patches as of washing; where they wear, `wearMask` has it follow the print's edges. */
const edges: Make = (side, seed) => {
  const out = field(side);
  addCloud(out, of(side, 16), of(side, 512), 1, seed);
  addNoise(out, of(side, 384), of(side, 384), 0.3, seed + 5);
  return out;
};

export const OWN_TEXTURES: Readonly<Record<TextureKind, Make>> = {
  cracked,
  washed,
  speckle,
  brushed,
  weave,
  scratches,
  dots,
  edges,
};

/** Fine grain that a texture of less contrast breaks up into. */
export function grainOf(side: number, seed: number): Field {
  const out = field(side);
  addNoise(out, side / 4, side / 4, 1, seed + 31);
  addNoise(out, side / 2, side / 2, 0.5, seed + 32);
  return out;
}
