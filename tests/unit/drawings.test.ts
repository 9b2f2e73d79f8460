/** Drawings as they are read and drawn here, against Debian's Chromium, and against themselves in tiles. */
import { beforeAll, describe, expect, it } from '@jest/globals';
import { runBundled } from '../bundled';
import type { Checked } from '../drawings/checkDrawings';
import { constructs } from '../drawings/constructs';
import { randomDrawings } from '../drawings/randomDrawings';

/** Another one with KERAMEUS_SEED: what differs then may as well be Chromium's rounding, and wants to be looked at. */
const SEED = Number(process.env.KERAMEUS_SEED ?? 4242);
const RANDOM = 60;

/** Share of pixels that may differ where Chromium draws otherwise than SVG says. */
const OTHERWISE: Readonly<Record<string, number>> = {
  // It leaves a mask on a mask out; librsvg (rsvg-convert 2.54) draws what is drawn here.
  'mask: on a mask': 0.2,
};

/** Kinds of drawings whose edges lie in all directions: how far off they are in the mean says something. Straight upright edges are all off alike. */
const ROUND =
  /^shape: (circle|ellipse|curves|arcs|mirrored|skewed)|^stroke: (.* wide curve|dashes$)|^gradient: radial|^clip: circle/;

let checked: Map<string, Checked>;

beforeAll(async () => {
  const printed = await runBundled('tests/drawings/checkDrawings.ts', [String(SEED), String(RANDOM)]);
  checked = new Map((JSON.parse(printed) as Checked[]).map((each) => [each.name, each]));
}, 600_000);

function judge(name: string, slack: number): void {
  const { flat, flatWrong, edges, wrongSide, offsetPx, differing } = checked.get(name)!;
  // What a filter made is a picture, and filters count in 8 bits of linear light, each program in its own steps.
  const filtered = name.startsWith('filter: ');
  expect(flatWrong / flat).toBeLessThanOrEqual((OTHERWISE[name] ?? (filtered ? 0.02 : 0)) + slack);
  expect(wrongSide).toBeLessThanOrEqual(Math.max(4, (OTHERWISE[name] ?? (filtered ? 0.15 : 0.1)) * edges));
  if (ROUND.test(name)) expect(offsetPx).toBeLessThan(0.1);
  expect(differing).toBe(0);
}

describe('as an independent renderer draws it, and the same in any tile', () => {
  it.each(constructs().map(({ name }) => name))('%s', (name) => judge(name, 0.0005));
});

describe(`random drawings, seed ${SEED}`, () => {
  // Thick outlines that turn within their own width have holes in Chromium: some pixels of some drawings.
  it.each(randomDrawings(SEED, RANDOM).map(({ name }) => name))('%s', (name) => judge(name, 0.004));
});
