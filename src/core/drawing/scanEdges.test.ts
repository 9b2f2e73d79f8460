import { describe, expect, it, test } from '@jest/globals';
import { ScanRoom, keepSpans } from './scanEdges';
import { type Spans, allOf, intersectSpans, spansOf } from './spans';

const free = () => undefined;

function edgesOf(...polygons: readonly (readonly [number, number])[][]): Float64Array {
  return Float64Array.from(
    polygons.flatMap((points) => points.flatMap((from, k) => [...from, ...points[(k + 1) % points.length]!])),
  );
}

/** Rows of # and . as they look. */
function picture({ rect, rows, ends }: Spans): string[] {
  return Array.from({ length: rect.height }, (_, y) => {
    let row = '.'.repeat(rect.width);
    for (let k = rows[y]!; k < rows[y + 1]!; k++) {
      const [from, to] = [ends[2 * k]! - rect.x, ends[2 * k + 1]! - rect.x];
      row = row.slice(0, from) + '#'.repeat(to - from) + row.slice(to);
    }
    return row;
  });
}

function scan(edges: Float64Array, width: number, height: number, evenOdd = false, x = 0, y = 0): string[] {
  const rect = { x, y, width, height };
  return picture(new ScanRoom().scan(edges, edges.length / 4, rect, evenOdd, free));
}

test('a pixel belongs to a shape when its centre does', () => {
  const triangle = edgesOf([
    [0.6, 0],
    [6, 0],
    [0.6, 5.4],
  ]);
  // On the slanted side x = 6 - y: centres at 0.5, 1.5 and so on.
  expect(scan(triangle, 7, 6)).toEqual(['.####..', '.###...', '.##....', '.#.....', '.......', '.......']);
});

test('rectangles on whole pixels are those pixels, at the border of the region too', () => {
  const rectangle = edgesOf([
    [-3, 1],
    [4, 1],
    [4, 3],
    [-3, 3],
  ]);
  expect(scan(rectangle, 5, 4)).toEqual(['.....', '####.', '####.', '.....']);
});

describe('a star that crosses itself', () => {
  const points = Array.from({ length: 5 }, (_, k) => {
    const angle = -Math.PI / 2 + (k * 4 * Math.PI) / 5;
    return [8 + 8 * Math.cos(angle), 8 + 8 * Math.sin(angle)] as [number, number];
  });
  const rows = (evenOdd: boolean) => scan(edgesOf(points), 16, 16, evenOdd);

  it('is full by the nonzero rule', () => expect(rows(false)[8]).toMatch(/^\.*#+\.*$/));
  it('has a hole by the even-odd rule', () => expect(rows(true)[8]).toMatch(/^\.*#+\.+#+\.*$/));
});

test('shapes that share an edge meet exactly: no pixel is in both, none in neither', () => {
  const [a, b]: [[number, number], [number, number]] = [
    [3.3, -2.1],
    [11.7, 14.9],
  ];
  const left = scan(edgesOf([[-5, -5], a, b, [-5, 20]]), 16, 12);
  const right = scan(edgesOf([[30, -5], [30, 20], b, a]), 16, 12);
  left.forEach((row, y) => [...row].forEach((mark, x) => expect(mark !== right[y]![x]).toBe(true)));
});

test('what lies to the right of a region may be left out, and the pixels are those of the whole', () => {
  const edges = edgesOf([
    [2, 1],
    [9, 2],
    [7, 9],
    [1, 7],
  ]);
  const whole = scan(edges, 12, 10);
  expect(scan(edges, 4, 5, false, 3, 2)).toEqual(whole.slice(2, 7).map((row) => row.slice(3, 7)));
});

describe('sets of pixels', () => {
  const rect = { x: 2, y: 1, width: 6, height: 2 };
  const some = spansOf(Uint8Array.from([0, 1, 1, 0, 1, 1, 1, 0, 0, 0, 0, 1]), rect);

  it('are found from marks', () => expect(picture(some)).toEqual(['.##.##', '#....#']));
  it('share what both have', () => {
    const part = intersectSpans(some, allOf({ x: 4, y: 1, width: 3, height: 5 }));
    expect(part.rect).toEqual({ x: 4, y: 1, width: 3, height: 2 });
    expect(picture(part)).toEqual(['#.#', '...']);
  });
  it('stay when they are kept', () => {
    const room = new ScanRoom();
    const square = edgesOf([
      [0, 0],
      [3, 0],
      [3, 2],
      [0, 2],
    ]);
    const kept = keepSpans(room.scan(square, 4, { x: 0, y: 0, width: 4, height: 2 }, false, free));
    room.scan(new Float64Array(0), 0, { x: 0, y: 0, width: 4, height: 2 }, false, free);
    expect(picture(kept)).toEqual(['###.', '###.']);
  });
});
