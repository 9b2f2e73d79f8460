import { randomOf } from '../../../tests/testSheet';
import { ENCODE_TABLE, layerOver } from '../colour';
import type { PrintLayer } from './printLayer';
import { printView } from './printView';

/** Thresholds of a cell, evenly from none to all. */
const STEPS = 64;

test('layers in each other print as the dots of one grid do, counted threshold by threshold', () => {
  const random = randomOf(31);
  const count = 60;
  const layer = (nest: number | null): PrintLayer => ({
    shape: Uint8Array.from({ length: count }, () => 255),
    // On the steps; equal ones, none and all among them.
    tone: Uint16Array.from({ length: count }, () =>
      Math.min(65535, Math.round((Math.floor(random() * 9) / 8) * 65536)),
    ),
    colour: [random(), random(), random()],
    opacity: random(),
    nest,
  });
  const layers = [layer(0), layer(1), layer(null), layer(0), layer(1), layer(0)];
  const ground = [0.03, 0.2, 0.1] as const;
  const spans = (length: number) => ({
    count: length,
    from: Int32Array.from({ length }, (_, k) => k),
    taps: 1,
    weights: new Float32Array(length).fill(1),
  });
  const out = new Uint8ClampedArray(count * 4);
  printView({
    layers,
    ground,
    width: count / 2,
    height: 2,
    across: spans(count / 2),
    down: spans(2),
    codes: ENCODE_TABLE,
    out,
  });
  for (let i = 0; i < count; i++) {
    const mean = [0, 0, 0];
    for (let u = 0; u < STEPS; u++) {
      for (let v = 0; v < STEPS; v++) {
        let light: readonly [number, number, number] = ground;
        for (const { tone, nest, colour, opacity } of layers) {
          const share = tone![i]! / 65535;
          const laid = layerOver(light, { colour, opacity });
          const threshold = ((nest === 0 ? u : v) + 0.5) / STEPS;
          const part = nest === null ? share : Number(threshold < share);
          const mix = (c: 0 | 1 | 2) => light[c] + part * (laid[c] - light[c]);
          light = [mix(0), mix(1), mix(2)];
        }
        light.forEach((each, c) => (mean[c]! += each / STEPS ** 2));
      }
    }
    mean.forEach((each, c) => {
      const code = ENCODE_TABLE[Math.round(each * (ENCODE_TABLE.length - 1))]!;
      expect(Math.abs(out[i * 4 + c]! - code)).toBeLessThanOrEqual(1);
    });
  }
  expect(new Set(out).size).toBeGreaterThan(30);
});
