import { toneFields as plainFields, ToneTable } from '@/core/solving';
import { random, wasm } from './kernelPair';

test.each([3, 8, 9])('the compiled look-up of %i inks gives the tones of its plain twin', (inks) => {
  const table = new ToneTable({
    garment: [0.01, 0.01, 0.012],
    inks: Array.from({ length: inks }, (_, k) => ({
      colour: [(k * 0.37 + 0.1) % 1, (k * 0.61 + 0.2) % 1, (k * 0.83 + 0.05) % 1] as const,
      opacity: 0.3 + (k % 5) * 0.12,
      cost: 'none',
    })),
  });
  const next = random(inks);
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
