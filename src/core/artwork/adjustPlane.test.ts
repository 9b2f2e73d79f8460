import { adjustColour, adjustPlane } from '.';

const plain = Float64Array.from({ length: 257 }, (_, code) => Math.min(255, code));
const code = (r: number, g: number, b: number, a = 255) => (r | (g << 8) | (b << 16) | (a << 24)) >>> 0;

test('what changes nothing gives the same codes', () => {
  for (const [r, g, b] of [
    [0, 0, 0],
    [255, 255, 255],
    [12, 200, 99],
    [255, 0, 1],
  ] as const) {
    expect(adjustColour({ luma: plain, saturation: 1 }, code(r, g, b, 77))).toBe(code(r, g, b, 77));
  }
});

test('without saturation a colour is the grey of its luma (ITU-R BT.709: 0.2126, 0.7152, 0.0722)', () => {
  const grey = (r: number, g: number, b: number) =>
    adjustColour({ luma: plain, saturation: 0 }, code(r, g, b)) & 0xffffff;
  expect(grey(255, 0, 0)).toBe(code(54, 54, 54, 0));
  expect(grey(0, 255, 0)).toBe(code(182, 182, 182, 0));
  expect(grey(0, 0, 255)).toBe(code(18, 18, 18, 0));
});

test('lightness changes a colour by as much as its luma, and what leaves the codes is cut', () => {
  const lighter = plain.map((each) => Math.min(255, each + 40));
  expect(adjustColour({ luma: lighter, saturation: 1 }, code(100, 120, 90))).toBe(code(140, 160, 130));
  expect(adjustColour({ luma: lighter, saturation: 1 }, code(250, 120, 0))).toBe(code(255, 160, 40));
  expect(adjustColour({ luma: plain, saturation: 2 }, code(255, 0, 0))).toBe(code(255, 0, 0));
});

test('a plane keeps its opacity and its own pixels', () => {
  const data = Uint8Array.from([100, 120, 90, 255, 100, 120, 90, 3, 0, 0, 0, 0]);
  const before = data.slice();
  const rect = { x: 5, y: 6, width: 3, height: 1 };
  const lighter = plain.map((each) => Math.min(255, each + 40));
  const out = adjustPlane({ rect, data }, { luma: lighter, saturation: 1 });
  expect([...out.data]).toEqual([140, 160, 130, 255, 140, 160, 130, 3, 40, 40, 40, 0]);
  expect(out.rect).toBe(rect);
  expect(data).toEqual(before);
});
