import { type Gradient, GradientColour, SPREADS, paintGradient } from '@/core/drawing';
import { ENCODE_TABLE } from '@/core/colour';
import { type Kernels, PLAIN_KERNELS } from '@/core/kernels';
import { viewSpans } from '@/core/pipeline';
import { TONED, expansion } from '@/core/raster';
import {
  SOLID_TILE,
  type ScreenRegion,
  buildDispersedTile,
  buildThresholdTile,
  foldTile,
  planeAlone,
} from '@/core/screening';
import { toneExpansion } from '@/core/separation';
import { random, wasm } from './kernelPair';

function blobs(width: number, height: number, seed: number): Uint8Array {
  const next = random(seed);
  const mask = new Uint8Array(width * height);
  const discs = Float64Array.from({ length: 36 }, (_, k) =>
    k % 3 === 0 ? next() * width : k % 3 === 1 ? next() * height : next() * 12,
  );
  PLAIN_KERNELS.stampDiscs(discs, width, height, mask);
  return mask;
}

/** Planes large and small, not whole vectors wide, and of one column. */
const SIZES = [
  [97, 61],
  [33, 40],
  [8, 3],
  [1, 5],
] as const;

describe('compiled kernels give the bytes of their plain twins', () => {
  it.each([0, 0.3, 0.5, 1, 2.53, 4.25, 12.7, 57])('markNearBoundary with radius %d', (radius) => {
    for (const [width, height] of [
      [97, 61],
      [33, 40],
      [16, 3],
      [1, 5],
    ] as const) {
      const mask = blobs(width, height, 7 + width);
      const plain = new Uint8Array(width * height).fill(9);
      const fast = new Uint8Array(width * height).fill(9);
      PLAIN_KERNELS.markNearBoundary(mask, width, height, radius, plain);
      wasm.markNearBoundary(mask, width, height, radius, fast);
      expect(Buffer.compare(plain, fast)).toBe(0);
      const lines = wasm.boundaryLines(mask, width, height);
      expect(Array.from(lines)).toEqual(Array.from(PLAIN_KERNELS.boundaryLines(mask, width, height)));
      fast.fill(9);
      wasm.markNearLines(lines, width, height, radius, fast);
      expect(Buffer.compare(plain, fast)).toBe(0);
      if (radius >= 1 && width === 97) expect(plain.some((value) => value !== 0)).toBe(true);
    }
  });

  it.each([1, 2, 7, 13])('nearestSet with a reach of %d', (reach) => {
    for (const [width, height] of SIZES) {
      const set = blobs(width, height, 11 + width).map((value) => 255 - value);
      const plain = new Int32Array(width * height).fill(9);
      const fast = new Int32Array(width * height).fill(9);
      PLAIN_KERNELS.nearestSet(set, width, height, reach, plain);
      wasm.nearestSet(set, width, height, reach, fast);
      expect(fast).toEqual(plain);
      if (width === 97) expect(plain.some((at) => at >= 0) && plain.includes(-1)).toBe(true);
    }
  });

  it.each([1, 2, 7, 13])('nearestPairs with a reach of %d', (reach) => {
    for (const [width, height] of SIZES) {
      const set = blobs(width, height, 11 + width).map((value) => 255 - value);
      const plain = PLAIN_KERNELS.nearestPairs(set, width, height, reach);
      expect(Array.from(wasm.nearestPairs(set, width, height, reach))).toEqual(Array.from(plain));
      if (width === 97) expect(plain.length).toBeGreaterThan(100);
    }
  });

  it('stampDiscs', () => {
    const discs = Float64Array.from([3.2, 4.7, 2.5, -1, 6, 3, 20.5, 9.5, 0.4, 30, 8, 40]);
    const plain = new Uint8Array(25 * 13);
    const fast = new Uint8Array(25 * 13);
    PLAIN_KERNELS.stampDiscs(discs.subarray(0, 9), 25, 13, plain);
    wasm.stampDiscs(discs.subarray(0, 9), 25, 13, fast);
    expect(Buffer.compare(plain, fast)).toBe(0);
    expect(plain.includes(255) && plain.includes(0)).toBe(true);
  });

  it('paintGradient, over empty and covered pixels, of every kind and spread', () => {
    const next = random(91);
    for (let round = 0; round < 400; round++) {
      const count = 1 + Math.floor(next() * 5);
      const offsets = Array.from({ length: count }, () => Math.round(next() * 8) / 8).sort((a, b) => a - b);
      const isRound = next() < 0.3;
      const gradient: Gradient = {
        kind: next() < 0.4 ? 'linear' : 'radial',
        byBox: next() < 0.5,
        transform: [
          1 + next(),
          next() - 0.5,
          next() - 0.5,
          next() < 0.05 ? 0 : 1 + next(),
          next() * 9,
          next() * 9,
        ],
        spread: SPREADS[Math.floor(next() * 3)]!,
        x1: next() * 40,
        y1: next() * 40,
        r1: next() < 0.5 ? 0 : next() * 20,
        x2: next() * 40,
        y2: next() * 40,
        r2: next() * 60,
        stops: offsets.map((offset) => ({
          offset,
          rgb: Math.floor(next() * 0x1000000),
          opacity: next() < 0.5 ? 1 : next(),
        })),
      };
      if (isRound) Object.assign(gradient, { x2: gradient.x1, y2: gradient.y1 });
      const colour = new GradientColour(gradient, [2, 0, 0, 2, -3, 5], [0, 0, 50, 40]);
      const under = Uint32Array.from({ length: 150 }, () =>
        next() < 0.3
          ? 0
          : Math.floor(next() * 0x1000000) + (next() < 0.5 ? 0xff : Math.floor(next() * 256)) * 0x1000000,
      );
      const opacity = next() < 0.5 ? 1 : next();
      const [plain, compiled] = [under.slice(), under.slice()];
      const y = Math.floor(next() * 90);
      paintGradient(plain, 7, 143, -12, y, colour, opacity);
      wasm.paintGradient(compiled, 7, 143, -12, y, colour, opacity);
      expect(compiled).toEqual(plain);
    }
  });

  it.each([
    ['and no others', false],
    ['and layers in each other', true],
  ])(
    'printView, with tone and without, drawn down and one to one: layers beside each other %s',
    (_, isNested) => {
      const next = random(3);
      // More rows than are printed at a time.
      const [width, height] = [101, 237];
      const count = width * height;
      const layer = (toned: boolean) => ({
        shape: Uint8Array.from({ length: count }, (_, i) => (i % width < 40 || next() < 0.3 ? 0 : 255)),
        tone: toned ? Uint16Array.from({ length: count }, () => Math.floor(next() * 65536)) : null,
        colour: [next(), next(), next()] as const,
        opacity: next(),
      });
      // Three lie beside each other, with more area than there is room for here and there, and one prints between them.
      const layers = [
        layer(false),
        layer(true),
        layer(false),
        { ...layer(true), group: 1 },
        { ...layer(true), group: 1 },
        layer(true),
        { ...layer(true), group: 1 },
        { ...layer(true), group: 2 },
        // A base, and what lies on it, beside it and between.
        { ...layer(true), group: 3, place: 'under' as const },
        layer(false),
        { ...layer(true), group: 3, place: 'on' as const },
        { ...layer(false), group: 3, place: 'off' as const },
        { ...layer(true), group: 3, place: 'on' as const },
        ...(isNested ? [{ ...layer(true), nest: 1 }, layer(true), { ...layer(true), nest: 1 }] : []),
      ];
      if (isNested) {
        Object.assign(layers[1]!, { nest: 0 });
        Object.assign(layers[2]!, { nest: 0 });
        Object.assign(layers[9]!, { nest: 1 });
      }
      const grid = { widthPx: width, heightPx: height, pxPerMm: 1 };
      const level = { grid, region: { x: 0, y: 0, width, height }, atFilm: true };
      for (const scale of [1, 0.71, 0.37]) {
        const view = {
          xMm: 0.3,
          yMm: 0,
          scale,
          width: Math.floor((width - 1) * scale),
          height: Math.floor(height * scale),
        };
        const draw = (kernels: Kernels) => {
          const out = new Uint8ClampedArray(view.width * view.height * 4);
          const spans = viewSpans(level, view);
          kernels.printView({
            layers,
            width,
            height,
            ground: [0.02, 0.3, 0.1],
            ...spans,
            codes: ENCODE_TABLE,
            out,
          });
          return out;
        };
        const plain = draw(PLAIN_KERNELS);
        expect(Buffer.compare(Buffer.from(plain), Buffer.from(draw(wasm)))).toBe(0);
        expect(new Set(plain).size).toBeGreaterThan(50);
      }
    },
  );

  it.each([
    [203, 171, 4.8],
    [64, 700, 1],
    [90, 50, 0.4],
  ])('layTones, %d by %d print pixels, %d for one of the artwork', (width, height, scale) => {
    const next = random(19);
    const [pixels, lines] = [Math.ceil(width / scale) + 2, Math.ceil(height / scale) + 2];
    const plates = 3;
    // Tones that rise and fall and are 0 for a while, then what base they want and how dark they are.
    const rows = Array.from({ length: lines }, (_, y) =>
      Array.from({ length: plates + 2 }, (_, k) =>
        Uint16Array.from({ length: pixels }, (_, x) =>
          (x + 2 * y + 20 * (k >> 2)) % 40 < 5 + 6 * (k % 4)
            ? 0
            : Math.min(65535, Math.floor(next() * 90000)),
        ),
      ),
    );
    const label = Uint8Array.from({ length: width * height }, (_, i) =>
      i % width > width / 3 && Math.floor(i / width) % 60 < 50 && next() < 0.9 ? TONED : 1,
    );
    const args = {
      label,
      width,
      height,
      pixels,
      rowOf: (y: number, into: readonly Uint16Array[]) => {
        into.forEach((row, k) => row.set(rows[y]![k]!));
        return rows[y]!.reduce((seen, row, k) => (row.some((tone) => tone > 0) ? seen | (1 << k) : seen), 0);
      },
      across: toneExpansion(3, width, 1 / scale, 0, pixels),
      down: toneExpansion(7, height, 1 / scale, 0, lines),
    };
    const planes = () => ({
      shapes: Array.from({ length: plates }, () => new Uint8Array(width * height)),
      tones: Array.from({ length: plates }, () => new Uint16Array(width * height).fill(65535)),
      bare: new Uint8Array(width * height),
      based: new Uint8Array(width * height),
      dark: new Uint8Array(width * height),
      baseStrength: new Uint16Array(width * height),
    });
    const [plain, fast] = [planes(), planes()];
    PLAIN_KERNELS.layTones({ ...args, ...plain });
    wasm.layTones({ ...args, ...fast });
    const all = (of: typeof plain) =>
      [...of.shapes, ...of.tones, of.bare, of.based, of.dark, of.baseStrength].map((plane) =>
        Buffer.from(plane.buffer),
      );
    all(plain).forEach((plane, k) => expect([k, Buffer.compare(plane, all(fast)[k]!)]).toEqual([k, 0]));
    // Rows may come from kernels themselves, of more memory than there was and with thresholds of their own.
    const nested = planes();
    const tile = buildThresholdTile({ dpi: 720, lpi: 45, angleDeg: 22.5 });
    const gradient = Uint16Array.from({ length: 1024 * 1024 }, (_, i) => (i % 1024) * 64);
    const patch = { tone: gradient, width: 1024, rows: 1024, originX: 5, originY: 7, tile };
    const wanted = planeAlone(patch);
    PLAIN_KERNELS.screenLayers(wanted.region);
    wasm.layTones({
      ...args,
      ...nested,
      rowOf: (y, into) => {
        const own = planeAlone(patch);
        if (y % 40 === 3) {
          wasm.screenLayers(own.region);
          expect(Buffer.compare(own.bits, wanted.bits)).toBe(0);
        }
        return args.rowOf(y, into);
      },
    });
    all(plain).forEach((plane, k) => expect([k, Buffer.compare(plane, all(nested)[k]!)]).toEqual([k, 0]));
    // Without the plates' own planes the others are the same.
    for (const kernels of [PLAIN_KERNELS, wasm]) {
      const { bare, based, dark, baseStrength } = planes();
      const none = Array.from({ length: plates }, () => null);
      const others = { bare, based, dark, baseStrength };
      kernels.layTones({ ...args, ...others, shapes: none, tones: none });
      expect(all({ ...others, shapes: [], tones: [] })).toEqual(all({ ...plain, shapes: [], tones: [] }));
    }
    for (const plane of [...plain.shapes, plain.bare, plain.based, plain.dark]) {
      expect(new Set(plane)).toEqual(new Set([0, 255]));
      expect(label.every((each, i) => each === TONED || plane[i] === 0)).toBe(true);
    }
  });

  it('tonePlanes, of all rows and of some', () => {
    const next = random(29);
    const [count, plates] = [30_011, 5];
    const label = Uint8Array.from({ length: count }, () => (next() < 0.6 ? 255 : Math.floor(next() * 9)));
    const mixed = label.reduce((sum, each) => sum + (each === 255 ? 1 : 0), 0);
    let index = 0;
    const shares = Uint16Array.from({ length: mixed * 3 }, (_, k) => (k % 3 === 0 ? next() * 65536 : 0));
    for (let k = 0; k < shares.length; k += 3) {
      shares[k + 1] = next() < 0.5 ? 65535 - shares[k]! : next() * (65535 - shares[k]!);
      shares[k + 2] = 65535 - shares[k]! - shares[k + 1]!;
    }
    const table = (most: number) => Uint16Array.from({ length: 256 }, () => Math.floor(next() * most));
    const args = {
      label,
      mixAt: Int32Array.from(label, (each) => (each === 255 ? index++ : 0)),
      mixLabels: Uint8Array.from({ length: mixed * 3 }, (_, k) =>
        k % 3 === 2 ? 254 : Math.floor(next() * 13),
      ),
      mixShares: shares,
      plateOf: Int8Array.from({ length: 256 }, (_, k) => (k < 13 ? (k % 6) - 1 : -1)),
      // The last few are what most colours are: in full, with all of the base or none.
      tintOf: table(65536).map((tint, k) => (k % 2 || k > 6 ? 65535 : tint)),
      strengthOf: table(65536).map((strength, k) => (k > 9 ? 0 : k > 6 ? 65535 : k % 3 ? strength : 0)),
      darkOf: Uint8Array.from({ length: 256 }, (_, k) => (k > 6 ? 0 : k & 1)),
      plates,
      highlight: 2,
    };
    for (const [first, part] of [
      [0, count],
      [777, 9001],
    ] as const) {
      const made = () => ({
        planes: Array.from({ length: plates + 2 }, () => new Uint16Array(part).fill(7)),
        about: new Uint8Array(part),
      });
      const [plain, fast] = [made(), made()];
      const seen = PLAIN_KERNELS.tonePlanes({ ...args, ...plain, first, count: part });
      expect(wasm.tonePlanes({ ...args, ...fast, first, count: part })).toBe(seen);
      expect(seen).toBe(127);
      expect(fast).toEqual(plain);
      expect(new Set(plain.about).size).toBeGreaterThan(8);
    }
  });

  it.each([
    ['linear', 4.8],
    ['linear', 0.7],
    ['nearest', 3.3],
  ] as const)(
    'screenLayers, alone and in stacks: %s, %d device pixels for one of the artwork',
    (edges, scale) => {
      const next = random(23);
      const [width, rows] = [1000, 90];
      const [pixels, lines] = [Math.ceil(width / scale), Math.ceil(rows / scale)];
      const grid = buildThresholdTile({ dpi: 600, lpi: 55, angleDeg: 22.5 });
      const stacked = buildThresholdTile({ dpi: 600, lpi: 55, angleDeg: 52.5, shape: 'sectors' });
      const dispersed = buildDispersedTile({ dpi: 600, dotUm: 90 });
      const onFilm = Uint16Array.from({ length: 65536 }, (_, tone) =>
        tone < 128 ? 0 : Math.floor(tone ** 2 / 65535),
      );
      const layers = () =>
        [
          { tile: grid, stack: null },
          { tile: foldTile(grid, onFilm), stack: null },
          { tile: dispersed, stack: null },
          { tile: foldTile(SOLID_TILE, onFilm), stack: null },
          { tile: stacked, stack: { group: 1, onFilm } },
          { tile: stacked, stack: { group: 1, onFilm } },
          { tile: grid, stack: { group: 2, onFilm } },
          { tile: stacked, stack: { group: 1, onFilm } },
        ].map((each, k) => ({
          ...each,
          originX: 37 - k,
          originY: -5,
          // The last bytes of a row and the last rows are left out.
          out: {
            bits: new Uint8Array(150 * rows),
            at: 7,
            rowBytes: 150,
            bytes: width / 8 - (k % 2),
            rows: rows - (k % 3),
          },
        }));
      // Half of the rows have none, and some so little that it does not print.
      const tones = Uint16Array.from({ length: (pixels + 9) * lines }, (_, i) => {
        const line = Math.floor(i / (pixels + 9)) % 12;
        if (line < 6) return line === 2 ? Math.floor(next() * 128) : 0;
        return Math.min(65535, Math.floor(next() * 100_000));
      });
      const field = {
        stride: pixels + 9,
        left: 4,
        pixels,
        across: expansion(width, pixels, edges),
        down: expansion(rows, lines, edges),
      };
      const [plain, fast] = [layers(), layers()];
      const shifted = (k: number) => tones.map((_, i) => tones[(i + 7 * k) % tones.length]!);
      const regionOf = (each: typeof plain): ScreenRegion => ({
        width,
        rows,
        field,
        layers: each.map((layer, k) => ({
          ...layer,
          shape: null,
          tone: { kind: 'field', values: shifted(k) },
        })),
      });
      const laid = PLAIN_KERNELS.screenLayers(regionOf(plain));
      expect(wasm.screenLayers(regionOf(fast))).toEqual(laid);
      expect(laid.every((each) => each!.sum > 0 && each!.screened)).toBe(true);
      plain.forEach(({ out }, k) => {
        expect([k, Buffer.compare(out.bits, fast[k]!.out.bits)]).toEqual([k, 0]);
        expect(new Set(out.bits).size).toBeGreaterThan(5);
        expect(out.bits.subarray(0, 7).some((byte) => byte !== 0)).toBe(false);
      });
    },
  );

  it('a plate without dots has ink where there is tone, however wide it is', () => {
    const [width, rows] = [20_000, 2];
    const tone = Uint16Array.from({ length: width * rows }, (_, i) => ((i >> 3) % 3 === 0 ? 65535 : 0));
    const wanted = Uint8Array.from({ length: (width * rows) / 8 }, (_, k) => (k % 3 === 0 ? 255 : 0));
    for (const each of [PLAIN_KERNELS, wasm]) {
      const { region, bits } = planeAlone({ tone, width, rows, originX: 3, originY: 9, tile: SOLID_TILE });
      each.screenLayers(region);
      expect(Buffer.compare(bits, wanted)).toBe(0);
    }
  });

  it.each([
    [0, 0],
    [-13, -7],
    [4000, 123456],
  ])('screenLayers of planes, alone and in a stack, from origin %d, %d', (originX, originY) => {
    const next = random(11);
    const tile = buildThresholdTile({ dpi: 600, lpi: 55, angleDeg: 22.5 });
    const width = 33000 - (33000 % 8);
    const rows = 3;
    const shape = Uint8Array.from({ length: width * rows }, () => (next() < 0.2 ? 0 : 255));
    const tone = Uint16Array.from({ length: width * rows }, () => Math.floor(next() * 65536));
    const place = { width, rows, originX, originY, tile };
    for (const tones of [tone, null]) {
      const [plain, fast] = [
        planeAlone({ shape, tone: tones, ...place }),
        planeAlone({ shape, tone: tones, ...place }),
      ];
      expect(wasm.screenLayers(fast.region)).toEqual(PLAIN_KERNELS.screenLayers(plain.region));
      expect(Buffer.compare(plain.bits, fast.bits)).toBe(0);
      expect(new Set(plain.bits).size).toBeGreaterThan(5);
    }
    // Layers that divide the cells, some of which others have taken to the last threshold; one of them is solid.
    const stacked = () => {
      const parts = [0.7, 0.9, null, 1.2].map((most) => {
        const values = most && tone.map((value) => Math.min(65535, Math.round(most * value)));
        return planeAlone({ shape: shape.slice().reverse(), tone: values || null, ...place });
      });
      const layers = parts.flatMap(({ region }) =>
        region.layers.map((layer) => ({ ...layer, stack: { group: 1, onFilm: null } })),
      );
      return { region: { ...parts[0]!.region, layers }, bits: parts.map(({ bits }) => bits) };
    };
    const [plain, fast] = [stacked(), stacked()];
    PLAIN_KERNELS.screenLayers(plain.region);
    wasm.screenLayers(fast.region);
    plain.bits.forEach((bits, k) => expect([k, Buffer.compare(bits, fast.bits[k]!)]).toEqual([k, 0]));
    expect(Buffer.compare(plain.bits[0]!, plain.bits[1]!)).not.toBe(0);
  });

  it.each([1, 7, 8, 65, 640, 5003])('G4 of an image %d pixels wide, in strips', (width) => {
    const next = random(width);
    const rowBytes = (width + 7) >> 3;
    const rows = 60;
    const bits = new Uint8Array(rowBytes * rows);
    for (let row = 0; row < rows; row++) {
      for (let x = 0; x < width;) {
        const run = Math.ceil(next() ** 6 * 3000) + (row % 3);
        const ink = next() < 0.5;
        for (let k = 0; k < run && x < width; k++, x++) {
          if (ink) bits[row * rowBytes + (x >> 3)]! |= 128 >> (x & 7);
        }
        if (run === 0) x++;
      }
    }
    const encode = (kernels: Kernels, strips: number[]): Buffer => {
      const encoder = kernels.createG4Encoder(width);
      let at = 0;
      const parts = strips.map((count) => {
        const part = encoder.encode(bits.subarray(at * rowBytes, (at + count) * rowBytes), count);
        at += count;
        return part;
      });
      return Buffer.concat([...parts, encoder.finish()]);
    };
    const whole = encode(PLAIN_KERNELS, [60]);
    expect(whole.length).toBeGreaterThan(3);
    expect(Buffer.compare(whole, encode(wasm, [60]))).toBe(0);
    expect(Buffer.compare(whole, encode(wasm, [1, 0, 39, 20]))).toBe(0);
  });
});
