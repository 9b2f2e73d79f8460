import { type Kernels, PLAIN_KERNELS } from '@/core/kernels';
import { KNOWN_COUNT, MIXED, cellStride, knownPlace } from '@/core/raster';
import { random, wasm } from './kernelPair';

describe('compiled kernels that name pixels give the values of their plain twins', () => {
  describe.each([
    [1, 40],
    [16, 9],
    [203, 171],
    [700, 64],
  ])('on artwork of %d by %d pixels', (width, height) => {
    const count = width * height;
    // Flat colours with transitions of some width between them, a few clear and half clear pixels.
    const artwork = () => {
      const next = random(width);
      return Uint32Array.from({ length: count }, (_, i) => {
        const at = Math.abs(((i % width) + 3 * Math.floor(i / width)) % 120) - 40;
        const level = Math.min(40, Math.max(0, at));
        const alpha = next() < 0.02 ? [0, 5, 6, 130, 249][Math.floor(next() * 5)]! : 250 + (i % 6);
        return ((alpha << 24) | (level << 16) | (3 << 8) | (level >> 2)) >>> 0;
      });
    };
    /** 0 and 40 are pure, every other level is mixed. */
    const known = () => {
      const colours = new Int32Array(KNOWN_COUNT).fill(-1);
      const [labels, first, second] = [1, 2, 3].map(() => new Uint8Array(KNOWN_COUNT)) as [
        Uint8Array,
        Uint8Array,
        Uint8Array,
      ];
      const [shares, rests] = [new Uint16Array(KNOWN_COUNT), new Uint16Array(KNOWN_COUNT)];
      const learn = (colour: number) => {
        const place = knownPlace(colour);
        const level = (colour >> 16) & 255;
        colours[place] = colour;
        labels[place] = level === 0 ? 2 : level === 40 ? 5 : MIXED;
        first[place] = 2;
        second[place] = 5 + (level & 1);
        shares[place] = level * 1600;
        rests[place] = 65535 - level * 1500;
      };
      return { colours, labels, first, second, shares, rests, learn };
    };
    const pixels = artwork();
    const limits = { empty: 5, opaque: 250 };
    const names = (kernels: Kernels) => {
      const label = new Uint8Array(count);
      const mixed = kernels.namePixels({ pixels, ...limits, known: known(), label });
      return { label, mixed };
    };

    it('namePixels', () => {
      const plain = names(PLAIN_KERNELS);
      expect(names(wasm)).toEqual(plain);
      expect(plain.mixed).toBe(plain.label.filter((each) => each === MIXED).length);
      expect(plain.mixed).toBeGreaterThan(0);
    });

    it.each([
      [1, 3],
      [2, 4],
      [10, 12],
    ])('markTone, radius %d', (radius, growth) => {
      const { label } = names(PLAIN_KERNELS);
      const [plain, fast] = [new Uint8Array(count).fill(9), new Uint8Array(count).fill(9)];
      PLAIN_KERNELS.markTone(label, width, height, radius, growth, plain);
      wasm.markTone(label, width, height, radius, growth, fast);
      expect(Buffer.compare(plain, fast)).toBe(0);
      if (width > 20 && radius === 2) expect(plain.includes(1) && plain.includes(0)).toBe(true);
    });

    it('uniformCells', () => {
      const { label } = names(PLAIN_KERNELS);
      // Larger plain areas than the artwork has, with mixed pixels here and there.
      const plates = label.map((each, i) => (i % 37 === 5 ? each : (Math.floor((i % width) / 9) * 3) % 7));
      for (const labels of [label, plates]) {
        const stride = cellStride(width);
        const cells = (kernels: Kernels) => {
          const made = new Uint8Array(stride * height);
          kernels.uniformCells(labels, width, height, made);
          // What is beyond the width means nothing.
          return made.filter((_, i) => i % stride < width);
        };
        const plain = cells(PLAIN_KERNELS);
        expect(Buffer.compare(plain, cells(wasm))).toBe(0);
        if (labels === plates && width > 100) expect(plain.some((each) => each !== MIXED)).toBe(true);
      }
    });

    it.each([true, false])('mixPixels, edges left: %s', (leaveEdges) => {
      const { label, mixed: many } = names(PLAIN_KERNELS);
      const tone = new Uint8Array(count);
      PLAIN_KERNELS.markTone(label, width, height, 2, 4, tone);
      const mix = (kernels: Kernels) => {
        const out = {
          mixed: new Int32Array(many),
          mixAt: new Int32Array(count),
          mixLabels: new Uint8Array(many * 3).fill(254),
          mixShares: new Uint16Array(many * 3),
          left: new Int32Array(many),
        };
        const given = { pixels, label, tone, leaveEdges, opaque: limits.opaque, known: known() };
        const leftCount = kernels.mixPixels({ ...given, ...out });
        // What stands at pixels that are not mixed means nothing.
        const { mixAt, ...rest } = out;
        return { leftCount, ...rest, mixAt: mixAt.filter((_, i) => label[i] === MIXED) };
      };
      const plain = mix(PLAIN_KERNELS);
      expect(mix(wasm)).toEqual(plain);
      expect(plain.mixAt).toEqual(Int32Array.from({ length: many }, (_, k) => k));
      if (width > 20) expect(plain.leftCount > 0 && plain.leftCount < many).toBe(true);
    });
  });
});
