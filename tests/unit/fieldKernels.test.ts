import { TABLE_SIDE, ToneTable, toneFields as plainFields } from '@/core/solving';
import { random, wasm } from './kernelPair';

test.each([3, 8, 9])('the compiled look-up of %i inks gives the tones of its plain twin', (inks) => {
  const next = random(inks);
  // None and all among them, as solved tables have.
  const tones = Float64Array.from({ length: TABLE_SIDE ** 3 * inks }, () =>
    Math.min(1, Math.max(0, next() * 1.4 - 0.2)),
  );
  const table = new ToneTable(inks, tones);
  // More than are looked up at a time, a count that is no multiple of eight, runs of one colour, and every code's limits.
  const count = 8192 * 2 + 13;
  let colour = 0;
  const colours = Uint32Array.from({ length: count }, (_, i) => {
    if (i < 512) return (i & 255) | ((i & 1 ? 255 : i & 255) << 8) | (0xab << 24);
    if (next() < 0.7) colour = Math.floor(next() * 2 ** 32);
    return colour;
  });
  const wanted = Uint8Array.from(colours, () => (next() < 0.9 ? 1 : 0));
  const fresh = () => Array.from({ length: inks }, () => new Uint16Array(count).fill(7));
  const [plain, compiled] = [fresh(), fresh()];
  plainFields({ table, colours, wanted, planes: plain });
  wasm.toneFields({ table, colours, wanted, planes: compiled });
  compiled.forEach((plane, k) =>
    expect(Buffer.compare(Buffer.from(plane.buffer), Buffer.from(plain[k]!.buffer))).toBe(0),
  );
  expect(plain[0]!.some((tone) => tone > 1000)).toBe(true);
});
