import { componentOutline } from './componentOutline';

function plane(rows: readonly string[]): { labels: Uint8Array; width: number; height: number } {
  return {
    labels: Uint8Array.from(rows.join(''), (letter) => letter.charCodeAt(0)),
    width: rows[0]!.length,
    height: rows.length,
  };
}

/** Even-odd rule. */
function isInside(polygon: readonly (readonly [number, number])[], x: number, y: number): boolean {
  let inside = false;
  polygon.forEach(([ax, ay], k) => {
    const [bx, by] = polygon[(k + 1) % polygon.length]!;
    if (ay > y !== by > y && x < ax + ((y - ay) / (by - ay)) * (bx - ax)) inside = !inside;
  });
  return inside;
}

const TWO = [
  'aaaaaaaaaaaaaaaaaaaaaaaa',
  'aabbbbaaaaaaaaaaaabbbbaa',
  'aabbbbaaaaaaaaaaaabbbbaa',
  'aabbbbbbbaaaaaaaaabbbbaa',
  'aaaabbbbbaaaaaaaaaaaaaaa',
  'aaaaaaaaaaaaaaaaaaaaaaaa',
];

test('an outline holds the whole of its component and nothing of another of the same label', () => {
  const { labels, width, height } = plane(TWO);
  const outline = componentOutline(labels, width, height, 3, 2)!;
  TWO.forEach((row, y) =>
    [...row].forEach((letter, x) => {
      if (letter !== 'b') return;
      expect(isInside(outline, x + 0.5, y + 0.5)).toBe(x < 12);
    }),
  );
});

test('a component that touches the border gets an outline round the border', () => {
  const { labels, width, height } = plane(['bbbb', 'bbbb']);
  const outline = componentOutline(labels, width, height, 0, 0)!;
  expect(outline.map(([x]) => x).sort((p, q) => p - q)).toEqual([-2, -2, 6, 6]);
  expect(outline.map(([, y]) => y).sort((p, q) => p - q)).toEqual([-2, -2, 4, 4]);
});

test('outside the plane there is nothing', () => {
  const { labels, width, height } = plane(['ab']);
  expect(componentOutline(labels, width, height, 5, 0)).toBeNull();
});
