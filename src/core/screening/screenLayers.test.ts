import { expansion } from '../raster';
import { type ScreenLayer, buildThresholdTile, packedBits, planeAlone, screenLayers, weighPlane } from '.';

const [width, rows] = [64, 32];
const tile = buildThresholdTile({ dpi: 600, lpi: 55, angleDeg: 22.5 });
const field = (values: Uint16Array, pixels: number, lines: number) => {
  const layer: ScreenLayer = {
    shape: null,
    tone: { kind: 'field', values },
    tile,
    originX: 3,
    originY: 5,
    stack: null,
    out: packedBits(width, rows),
  };
  const mapping = {
    stride: pixels,
    left: 0,
    pixels,
    across: expansion(width, pixels, 'nearest'),
    down: expansion(rows, lines, 'nearest'),
  };
  const [laid] = screenLayers({ width, rows, field: mapping, layers: [layer] });
  return { laid: laid!, bits: layer.out!.bits };
};

test('a field has the bits of the plane that it would be', () => {
  const [pixels, lines] = [8, 4];
  const values = Uint16Array.from({ length: pixels * lines }, (_, i) => (i * 2111) % 65536);
  const plane = Uint16Array.from(
    { length: width * rows },
    (_, i) => values[Math.floor(i / width / 8) * pixels + Math.floor((i % width) / 8)]!,
  );
  const alone = planeAlone({ tone: plane, width, rows, originX: 3, originY: 5, tile });
  screenLayers(alone.region);
  const made = field(values, pixels, lines);
  expect(Buffer.compare(made.bits, alone.bits)).toBe(0);
  expect(made.laid.sum).toBeCloseTo(weighPlane(new Uint8Array(width * rows).fill(255), plane).sum, 6);
});

test('tells dots only where something is between nothing and solid, and enough of it to print', () => {
  const of = (...values: number[]) => field(Uint16Array.from(values), values.length, 1).laid.screened;
  expect(of(0, 65535)).toBe(false);
  expect(of(0, 30000)).toBe(true);
  expect(of(0, 127)).toBe(false);
  expect(of(128, 0)).toBe(true);
});

test('a plane by itself is weighed where its shape is in', () => {
  const shape = Uint8Array.of(255, 255, 0, 255);
  expect(weighPlane(shape, null)).toEqual({ sum: 3, screened: false });
  expect(weighPlane(shape, Uint16Array.of(65535, 0, 30000, 65535))).toEqual({ sum: 2, screened: true });
});
