/**
 * Draws the constructs and so many random drawings here and in Chromium, and prints for each how they agree, as JSON. A program of its own: inside
 * the test runner's sandbox the same loops take ten times as long.
 *   checkDrawings SEED COUNT
 */
import { DrawingLevel } from '@/core/drawing';
import { type Construct, constructs } from './constructs';
import { flatten, pixelsOf } from './flatten';
import { type Agreement, LAYERED_ROUNDING, Oracle, ROUNDING, compare } from './oracle';
import { randomDrawings } from './randomDrawings';

export interface Checked extends Agreement {
  readonly name: string;
  /** Pixels that came out otherwise when they were drawn in a tile. */
  readonly differing: number;
}

const WIDTH = 160;

async function check({ name, svg }: Construct, oracle: Oracle, rounding: number): Promise<Checked> {
  const drawing = await flatten(svg);
  const height = Math.round((WIDTH * drawing.height) / drawing.width);
  const ours = pixelsOf(drawing, WIDTH, height);
  const agreement = compare(ours, await oracle.draw(svg, WIDTH, height), WIDTH, height, rounding);
  // Tiles that cut the drawing at odd places, far from what is in it and near to it.
  const level = new DrawingLevel(drawing, WIDTH, height);
  let differing = 0;
  for (const [x, y, width, rows] of [
    [0, 0, 37, height],
    [37, 0, WIDTH - 37, 11],
    [71, 33, 64, 7],
    [0, height - 3, WIDTH, 3],
    [WIDTH - 1, 0, 1, height],
  ] as const) {
    const part = new Uint32Array(width * rows);
    level.draw({ x, y, width, height: rows }, part);
    part.forEach((word, i) => {
      if (word !== ours[(y + Math.floor(i / width)) * WIDTH + x + (i % width)]) differing++;
    });
  }
  return { name, ...agreement, differing };
}

const [seed, count] = process.argv.slice(2).map(Number) as [number, number];
const oracle = await Oracle.start();
try {
  const all: Checked[] = [];
  for (const each of constructs()) all.push(await check(each, oracle, ROUNDING));
  for (const each of randomDrawings(seed, count)) all.push(await check(each, oracle, LAYERED_ROUNDING));
  process.stdout.write(JSON.stringify(all));
} finally {
  await oracle.end();
}
