export interface BoxMm {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** A registration mark, centred here. */
export interface RegistrationMark {
  readonly xMm: number;
  readonly yMm: number;
}

/** A straight line of the marks' own width, upright or lying. */
export interface MarkLine {
  readonly x0Mm: number;
  readonly y0Mm: number;
  readonly x1Mm: number;
  readonly y1Mm: number;
}

export function overlaps(a: BoxMm, b: BoxMm): boolean {
  return a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;
}

export function grow(box: BoxMm, by: number): BoxMm {
  return { x: box.x - by, y: box.y - by, width: box.width + 2 * by, height: box.height + 2 * by };
}

export function markBox(mark: RegistrationMark, armMm: number): BoxMm {
  return { x: mark.xMm - armMm, y: mark.yMm - armMm, width: 2 * armMm, height: 2 * armMm };
}
