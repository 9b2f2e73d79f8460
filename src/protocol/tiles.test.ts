import { tileForPacking, tilePixels } from './tiles';

/** Bytes of all values, and steps between them that pass 0 and 255. */
const bytes = Uint8Array.from({ length: 4 * 300 }, (_, i) => (i * i * 7 + (i % 4) * 61) & 255);

test('bytes of a packed tile are differences from the pixel before, modulo 256', () => {
  const packed = tileForPacking(bytes);
  expect(packed).toHaveLength(bytes.length + 1);
  expect(packed[bytes.length]).toBe(1);
  for (let i = 0; i < bytes.length; i++) {
    expect(packed[i]).toBe((bytes[i]! - (i < 4 ? 0 : bytes[i - 4]!) + 256) % 256);
  }
});

test('pixels come back, wherever they lie in memory', () => {
  const packed = tileForPacking(bytes);
  expect([...new Uint8Array(tilePixels(packed.slice()).slice().buffer)]).toEqual([...bytes]);
  const shifted = new Uint8Array(packed.length + 3);
  shifted.set(packed, 3);
  expect([...new Uint8Array(tilePixels(shifted.subarray(3)).slice().buffer)]).toEqual([...bytes]);
  const pooled = Buffer.from(shifted.buffer, 3);
  pooled.set(packed);
  expect([...new Uint8Array(tilePixels(pooled).slice().buffer)]).toEqual([...bytes]);
  const odd = new Uint8Array(bytes.length + 1);
  odd.set(bytes, 1);
  expect([...tileForPacking(odd.subarray(1))]).toEqual([...packed]);
});

test('tiles of earlier versions are pixels as they are', () => {
  expect([...new Uint8Array(tilePixels(bytes.slice()).buffer)]).toEqual([...bytes]);
});
