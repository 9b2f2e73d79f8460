import { KerameusError } from './error';
import { formatLength, mmToPx, parseLengthMm, parseSheetSizeMm } from './length';

const rule = { parameter: 'print width', minMm: 0.01, maxMm: 1524 };

describe('parseLengthMm', () => {
  // 1 in = 25.4 mm = 72 pt by definition; px is 1/300 in.
  it.each([
    ['12in', 304.8],
    ['12 "', 304.8],
    ['0.25pt', (0.25 * 25.4) / 72],
    ['1px', 25.4 / 300],
    [' 6 mm ', 6],
    ['1,5cm', 15],
    ['.5in', 12.7],
  ])('reads %s', (text, mm) => {
    expect(parseLengthMm(text, rule)).toBeCloseTo(mm, 12);
  });

  it.each([
    ['12 furlongs', 'length-unit'],
    ['12', 'length-unit'],
    ['wide', 'length-syntax'],
    ['', 'length-syntax'],
    ['0in', 'length-range'],
    ['-3in', 'length-range'],
    ['61in', 'length-range'],
    ['1e9in', 'length-syntax'],
  ])('refuses %s', (text, code) => {
    expect(() => parseLengthMm(text, rule)).toThrow(
      expect.objectContaining({ code, parameter: 'print width' }) as KerameusError,
    );
  });

  it('takes a bare number in the default unit', () => {
    expect(parseLengthMm('2', { parameter: 'choke', defaultUnit: 'px' })).toBeCloseTo(50.8 / 300, 12);
  });
});

test('one pixel at 300 dpi is 0.24 pt', () => {
  expect(formatLength(25.4 / 300, 'pt')).toBe('0.24 pt');
  expect(mmToPx(25.4, 720)).toBe(720);
});

test('sheet sizes take one unit or two', () => {
  expect(parseSheetSizeMm('13x19in')).toEqual({ widthMm: 13 * 25.4, heightMm: 19 * 25.4 });
  const mixed = parseSheetSizeMm('330 mm x 19 in');
  expect(mixed.widthMm).toBe(330);
  expect(mixed.heightMm).toBeCloseTo(482.6, 9);
  expect(() => parseSheetSizeMm('13in')).toThrow(KerameusError);
});
