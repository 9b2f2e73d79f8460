import { readFileSync } from 'node:fs';
import path from 'node:path';
import { ENCODE_TABLE } from '@/core/colour';
import { type Kernels, PLAIN_KERNELS, createWasmKernels } from '@/core/kernels';
import { viewSpans } from '@/core/pipeline';
import { buildThresholdTile, planeAlone } from '@/core/screening';

// Each hot loop in its plain form and compiled, on the same data in one run; prints milliseconds and their ratio.

const SIDE = 2048;
const root = process.env.KERAMEUS_ROOT ?? '.';
const compiled = createWasmKernels(
  new WebAssembly.Module(readFileSync(path.join(root, 'public/kernels.wasm'))),
);

const shape = new Uint8Array(SIDE * SIDE);
const discs = Array.from({ length: 400 }, (_, k) => [(k * 397) % SIDE, (k * 911) % SIDE, 8 + (k % 60)]);
PLAIN_KERNELS.stampDiscs(Float64Array.from(discs.flat()), SIDE, SIDE, shape);
const tone = Uint16Array.from(shape, (_, i) => ((i % SIDE) * 65535) / SIDE);
const tile = buildThresholdTile({ dpi: 720, lpi: 45, angleDeg: 22.5 });
const screened = planeAlone({ shape, tone, width: SIDE, rows: SIDE, originX: 0, originY: 0, tile });
const level = {
  grid: { widthPx: SIDE, heightPx: SIDE, pxPerMm: 1 },
  region: { x: 0, y: 0, width: SIDE, height: SIDE },
  atFilm: true,
};
const view = { xMm: 0, yMm: 0, scale: 0.6, width: 1228, height: 1228 };
const layers = Array.from({ length: 6 }, (_, k) => ({
  shape,
  tone: k === 0 ? tone : null,
  colour: [0.1 * k, 0.2, 0.4] as const,
  opacity: 0.8,
}));

const loops: readonly (readonly [string, (kernels: Kernels) => void])[] = [
  ['choke by 4.25 px', (k) => k.markNearBoundary(shape, SIDE, SIDE, 4.25, new Uint8Array(shape.length))],
  ['nearest bare pixel', (k) => k.nearestSet(shape, SIDE, SIDE, 8, new Int32Array(shape.length))],
  [
    'print of 6 plates',
    (k) =>
      k.printView({
        layers,
        width: SIDE,
        height: SIDE,
        ground: [0.01, 0.02, 0.05],
        ...viewSpans(level, view),
        codes: ENCODE_TABLE,
        out: new Uint8ClampedArray(view.width * view.height * 4),
      }),
  ],
  ['screening', (k) => k.screenLayers(screened.region)],
  [
    'Group 4',
    (k) => {
      const encoder = k.createG4Encoder(SIDE);
      encoder.encode(screened.bits, SIDE);
      encoder.finish();
    },
  ],
];

function best(work: () => void): number {
  let shortest = Infinity;
  for (let k = 0; k < 4; k++) {
    const start = performance.now();
    work();
    shortest = Math.min(shortest, performance.now() - start);
  }
  return shortest;
}

for (const [name, loop] of loops) {
  const plain = best(() => loop(PLAIN_KERNELS));
  const fast = best(() => loop(compiled));
  console.log(
    `  ${name.padEnd(20)} plain ${plain.toFixed(1).padStart(8)} ms   compiled ${fast.toFixed(1).padStart(7)} ms   ${(plain / fast).toFixed(1)} times`,
  );
}
