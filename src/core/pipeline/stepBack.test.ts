import { eyeBlurMm, stepBack, stepBackMargin, widerView } from '.';

const view = { xMm: 0, yMm: 0, scale: 10, width: 60, height: 40 };

// One minute of arc is 0.291 mm at 1 m; a Gaussian of that full width at half maximum has a standard deviation of 0.1235 mm.
test('the eye blurs by a minute of arc', () => {
  expect(eyeBlurMm(1)).toBeCloseTo(0.1235, 4);
  expect(eyeBlurMm(4) / eyeBlurMm(1)).toBeCloseTo(4, 9);
});

test('a fine chequerboard becomes its mean in linear light, a plain picture stays', () => {
  const away = 4;
  const wide = widerView(view, stepBackMargin(view, away));
  const pixels = new Uint8ClampedArray(wide.width * wide.height * 4).fill(255);
  for (let y = 0; y < wide.height; y++) {
    for (let x = 0; x < wide.width; x++) {
      if ((x + y) % 2 === 0) pixels.fill(0, (y * wide.width + x) * 4, (y * wide.width + x) * 4 + 3);
    }
  }
  const seen = stepBack(pixels, view, away);
  expect(seen.length).toBe(view.width * view.height * 4);
  // Half of the light is code 188 of sRGB (IEC 61966-2-1).
  expect([...new Set(seen.filter((_, i) => i % 4 !== 3))].every((code) => Math.abs(code - 188) <= 1)).toBe(
    true,
  );
  const plain = new Uint8ClampedArray(wide.width * wide.height * 4).fill(77);
  expect(stepBack(plain, view, away).every((code, i) => code === (i % 4 === 3 ? 255 : 77))).toBe(true);
});

test('one part of a picture looks as it does in the whole', () => {
  const away = 1;
  const margin = stepBackMargin(view, away);
  const wide = widerView(view, margin);
  const pixels = Uint8ClampedArray.from({ length: wide.width * wide.height * 4 }, (_, i) => (i * 7919) % 256);
  const whole = stepBack(pixels, view, away);
  const half = { ...view, yMm: 2, height: 20 };
  const part = stepBack(pixels.subarray(20 * wide.width * 4) as typeof pixels, half, away);
  expect([...part]).toEqual([...whole.subarray(20 * view.width * 4)]);
});
