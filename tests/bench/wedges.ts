import { PLAIN_KERNELS } from '@/core/kernels';
import { buildThresholdTile, realScreen, planeAlone } from '@/core/screening';

// How exact screens are: frequency and angle of all of them that a shop may ask for, and wedges of 256 steps, counted pixel by pixel over a whole
// period of the screen, of as many as there is time for.

const SECONDS = Number(process.env.WEDGE_SECONDS ?? 120);
const STEPS = 256;

const screens = [720, 1200, 1440, 2400, 2880].flatMap((dpi) =>
  Array.from({ length: 31 }, (_, k) => 35 + k).flatMap((lpi) =>
    Array.from({ length: 181 }, (_, half) => ({ dpi, lpi, angleDeg: half / 2 })),
  ),
);

let frequency = 0;
let angle = 0;
for (const screen of screens) {
  const real = realScreen(screen);
  frequency = Math.max(frequency, Math.abs(real.lpi / screen.lpi - 1));
  angle = Math.max(angle, Math.abs(real.angleDeg - screen.angleDeg));
}
console.log(
  `  ${screens.length} screens: frequency off by ${(frequency * 100).toFixed(3)} % at most, angle by ${angle.toFixed(4)} degrees`,
);

/** The largest difference of a step's ink from its tone, as a share of the area. */
function wedgeError(screen: (typeof screens)[number]): number {
  const tile = buildThresholdTile(screen);
  // A period: in a tile of one row each row of the film is the same row shifted on.
  const width = tile.length + 7 - ((tile.length + 7) % 8);
  let worst = 0;
  for (let step = 0; step < STEPS; step++) {
    const tone = Math.round((step / (STEPS - 1)) * 65535);
    const tones = new Uint16Array(width).fill(tone);
    let inked = 0;
    for (let row = 0; row < tile.rows; row++) {
      const { region, bits: out } = planeAlone({
        tone: tones,
        width,
        rows: 1,
        originX: 0,
        originY: row,
        tile,
      });
      PLAIN_KERNELS.screenLayers(region);
      for (let x = 0; x < tile.length; x++) if ((out[x >> 3]! & (128 >> (x & 7))) !== 0) inked++;
    }
    worst = Math.max(worst, Math.abs(inked / (tile.length * tile.rows) - tone / 65535));
  }
  return worst;
}

// Numerical Recipes' generator, so that each run begins with the same ones.
let state = 1;
const next = (): number => {
  state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
  return state / 2 ** 32;
};
const begun = performance.now();
let counted = 0;
let worst = 0;
while (performance.now() - begun < SECONDS * 1000) {
  worst = Math.max(worst, wedgeError(screens[Math.floor(next() * screens.length)]!));
  counted++;
}
console.log(
  `  ${counted} of them counted, ${STEPS} steps each: coverage off by ${(worst * 100).toFixed(4)} % at most`,
);
