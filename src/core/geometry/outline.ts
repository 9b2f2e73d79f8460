/** Corners of a closed polygon. */
export type Outline = readonly (readonly [x: number, y: number])[];

/** Where a polygon crosses a horizontal line, from left to right: by the even-odd rule it is inside from each first crossing to the second. */
export function crossingsOf(outline: Outline, y: number): number[] {
  const found: number[] = [];
  outline.forEach(([ax, ay], k) => {
    const [bx, by] = outline[(k + 1) % outline.length]!;
    if (ay > y !== by > y) found.push(ax + ((y - ay) / (by - ay)) * (bx - ax));
  });
  return found.sort((p, q) => p - q);
}
