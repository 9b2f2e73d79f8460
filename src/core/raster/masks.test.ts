import { clearFrom, forEachRun, invertInto, isEmpty, keepIn, maskWithout, orInto } from './masks';

const mask = (text: string) => Uint8Array.from(text, (c) => (c === '#' ? 255 : 0));
const text = (bytes: Uint8Array) => [...bytes].map((b) => (b ? '#' : '.')).join('');

test('masks combine over whole words and their tails', () => {
  const a = () => mask('##..##..##');
  const b = mask('#.#.#.#.#.');
  const or = a();
  orInto(or, b);
  expect(text(or)).toBe('###.###.##');
  const cleared = a();
  clearFrom(cleared, b);
  expect(text(cleared)).toBe('.#...#...#');
  const kept = a();
  keepIn(kept, b);
  expect(text(kept)).toBe('#...#...#.');
  const out = new Uint8Array(10).fill(7);
  maskWithout(a(), b, out);
  expect(text(out)).toBe('.#...#...#');
  invertInto(out, b);
  expect([...out]).toEqual([...mask('.#.#.#.#.#')]);
  expect(isEmpty(mask('.........'))).toBe(true);
  expect(isEmpty(mask('.........#'))).toBe(false);
});

test.each(['', '.', '#', '####....####', '.####.........########...#', '#########', '...........'])(
  'runs of "%s" are found exactly',
  (pattern) => {
    const found = new Uint8Array(pattern.length);
    const runs: number[] = [];
    forEachRun(mask(pattern), (from, to) => {
      runs.push(from, to);
      found.fill(255, from, to);
    });
    expect(text(found)).toBe(pattern);
    expect(runs.length / 2).toBe(pattern.match(/#+/g)?.length ?? 0);
  },
);
