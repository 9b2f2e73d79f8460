import type { OuterMap, RgbaPlane } from '../artwork';
import { PLAIN_KERNELS } from '../kernels';
import { FRESH_MEMORY } from '../raster';
import { GROUND_PURITY, cutGround } from './cutGround';
import { PaletteLookup } from './palette';

const SIDE = 60;
const RED = [198, 40, 34] as const;
const BLUE = [30, 60, 160] as const;
const WHITE = [255, 255, 255] as const;

/** A disc, red on the left and blue on the right, with a smooth edge, as it would come transparent. */
function disc(): { alpha: Float64Array; colours: Uint8Array } {
  const alpha = new Float64Array(SIDE * SIDE);
  const colours = new Uint8Array(SIDE * SIDE * 3);
  for (let i = 0; i < SIDE * SIDE; i++) {
    const [x, y] = [(i % SIDE) + 0.5, Math.floor(i / SIDE) + 0.5];
    const inside = 20 - Math.hypot(x - SIDE / 2, y - SIDE / 2) + 0.5;
    alpha[i] = Math.min(1, Math.max(0, inside));
    colours.set(x < SIDE / 2 ? RED : BLUE, i * 3);
  }
  return { alpha, colours };
}

/** The same as programs save it on a ground: codes of sRGB are mixed. */
function flattened({ alpha, colours }: ReturnType<typeof disc>, ground: readonly number[]): RgbaPlane {
  const data = new Uint8Array(SIDE * SIDE * 4).fill(255);
  for (let i = 0; i < SIDE * SIDE; i++) {
    for (let c = 0; c < 3; c++) {
      data[i * 4 + c] = Math.round(colours[i * 3 + c]! * alpha[i]! + ground[c]! * (1 - alpha[i]!));
    }
  }
  return { rect: { x: 0, y: 0, width: SIDE, height: SIDE }, data };
}

function cut(art: RgbaPlane, map: OuterMap | null) {
  const ground = new PaletteLookup({
    colours: [{ colour: '#ffffff', purity: GROUND_PURITY }],
    transitions: [],
    ways: [],
    fades: new Map(),
    edges: true,
  });
  const whole = { levelWidth: SIDE, levelHeight: SIDE };
  return cutGround(art, {
    ground,
    rgb: [255, 255, 255],
    map,
    ...whole,
    kernels: PLAIN_KERNELS,
    memory: FRESH_MEMORY,
  });
}

describe('artwork that was saved on white', () => {
  const design = disc();
  const art = flattened(design, WHITE);

  it('gets back the opacity and the colours that it had before', () => {
    const before = art.data.slice();
    const { data } = cut(art, null);
    expect(art.data).toEqual(before);
    let edges = 0;
    for (let i = 0; i < SIDE * SIDE; i++) {
      // Where red and blue meet at the edge, the stronger one stands for both.
      if (Math.abs((i % SIDE) - SIDE / 2) < 4) continue;
      const opacity = data[i * 4 + 3]! / 255;
      // What is nearly the artwork's own colour stays so.
      expect(Math.abs(opacity - design.alpha[i]!)).toBeLessThan(0.11);
      if (opacity < 0.1) continue;
      if (opacity < 1) edges++;
      const error = opacity < 1 ? 1 : 26;
      for (let c = 0; c < 3; c++) {
        expect(Math.abs(data[i * 4 + c]! - design.colours[i * 3 + c]!)).toBeLessThanOrEqual(error);
      }
    }
    expect(edges).toBeGreaterThan(60);
  });

  it('keeps the white that its own edges enclose', () => {
    const holed = flattened(design, WHITE);
    const isHole = (i: number) => Math.abs((i % SIDE) - 20) < 4 && Math.abs(Math.floor(i / SIDE) - 30) < 4;
    const cells = new Uint8Array(SIDE * SIDE);
    for (let i = 0; i < SIDE * SIDE; i++) {
      if (isHole(i)) holed.data.fill(255, i * 4, i * 4 + 4);
      // 2: enclosed, 1: outside, 3: another colour.
      cells[i] = isHole(i) ? 2 : design.alpha[i] === 0 ? 1 : 3;
    }
    const { data } = cut(holed, { width: SIDE, height: SIDE, cells });
    for (let i = 0; i < SIDE * SIDE; i++) {
      if (isHole(i)) expect([...data.subarray(i * 4, i * 4 + 4)]).toEqual([255, 255, 255, 255]);
    }
    expect(data[3]).toBe(0);
  });

  it('loses specks of a few pixels that compression leaves in the paper', () => {
    const specked = flattened(design, WHITE);
    for (const i of [5 * SIDE + 5, 5 * SIDE + 6, 50 * SIDE + 52])
      specked.data.set([200, 215, 190, 255], i * 4);
    expect(cut(specked, null).data.filter((_, k) => k % 4 === 3)).toEqual(
      cut(art, null).data.filter((_, k) => k % 4 === 3),
    );
  });

  it('leaves what came transparent as it was', () => {
    const clear = flattened(design, WHITE);
    for (let i = 0; i < SIDE * SIDE; i++) {
      clear.data.set(
        [...design.colours.subarray(i * 3, i * 3 + 3), Math.round(design.alpha[i]! * 255)],
        i * 4,
      );
    }
    expect(cut(clear, null).data).toEqual(clear.data);
  });
});
