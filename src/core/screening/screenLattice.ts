// Where a screen's cells lie on whole device pixels: as near to the frequency and the angle that are asked for as a tile of a bearable
// size allows.

export interface ScreenGeometry {
  readonly dpi: number;
  readonly lpi: number;
  /** Counter-clockwise as seen on the print. */
  readonly angleDeg: number;
  /** Ellipse when left out. */
  readonly shape?: DotShape | 'sectors';
  /** Of small elliptical dots: the longer axis over the shorter one. */
  readonly ratio?: number;
  /** Coverage of the smallest dot, 0..1: lighter tones have fewer dots of this size. 0 when left out. */
  readonly smallest?: number;
  /** Coverage of the largest dot that leaves an opening, 0..1: darker tones have fewer such openings. 1 when left out. */
  readonly largest?: number;
}

/** `square-round` is round in light tones, square in the middle, and leaves round openings in dark ones. */
export type DotShape = 'ellipse' | 'round' | 'square-round' | 'diamond' | 'line';

export interface Lattice {
  readonly a: number;
  readonly b: number;
  readonly n: number;
}

const MAX_TILE = [1 << 18, 1 << 20, 1 << 22];
/** A tile of fewer pixels has tones that are off by more than a part in ten thousand: a larger one is looked for. */
const LEAST_TILE = 1 << 14;
const ANGLE_TOLERANCE = 0.024;
const FREQUENCY_TOLERANCE = 0.0006;

export function gcd(a: number, b: number): number {
  let [x, y] = [Math.abs(a), Math.abs(b)];
  while (y !== 0) [x, y] = [y, x % y];
  return x;
}

/**
 * The integer vector (A, B) near n cells along the screen's angle, with the largest tile inside the tolerances:
 * a large tile has more exact tones than the one that happens to miss the angle least.
 */
export function findLattice(geometry: ScreenGeometry): Lattice {
  const cell = geometry.dpi / geometry.lpi;
  const theta = (geometry.angleDeg * Math.PI) / 180;
  let nearest: (Lattice & { miss: number }) | undefined;
  let best: Lattice | undefined;
  for (const limit of MAX_TILE) {
    for (let n = 1; n * cell <= Math.sqrt(limit) + 1; n++) {
      const wantA = n * cell * Math.cos(theta);
      const wantB = n * cell * Math.sin(theta);
      for (const a of new Set([Math.floor(wantA), Math.ceil(wantA)])) {
        for (const b of new Set([Math.floor(wantB), Math.ceil(wantB)])) {
          const size = a * a + b * b;
          if (size === 0 || size > limit || gcd(a, b) !== 1) continue;
          const frequencyMiss = Math.abs((n * cell) / Math.sqrt(size) - 1);
          let turn = (Math.atan2(b, a) - theta) % (2 * Math.PI);
          if (turn > Math.PI) turn -= 2 * Math.PI;
          if (turn < -Math.PI) turn += 2 * Math.PI;
          const angleMiss = Math.abs((turn * 180) / Math.PI);
          const miss = Math.max(frequencyMiss / FREQUENCY_TOLERANCE, angleMiss / ANGLE_TOLERANCE);
          if (!nearest || miss < nearest.miss) nearest = { a, b, n, miss };
          if (miss <= 1 && (!best || size > best.a * best.a + best.b * best.b)) best = { a, b, n };
        }
      }
    }
    if (best && best.a * best.a + best.b * best.b >= LEAST_TILE) return best;
  }
  return best ?? nearest!;
}

/** A screen along the film's rows and columns or their diagonals, as a square that repeats. */
export interface Square {
  readonly side: number;
  /** Cells along a side; along a diagonal screen's side lie as many half diagonals of cells. */
  readonly n: number;
  /** Eighths of a turn, 0..7. */
  readonly eighths: number;
}

const MAX_SQUARE = [512, 1024, 2048];
/** Angles nearer than this to rows, columns and diagonals lie along them. */
const ALONG_DEG = 0.0125;

/** Along rows, columns and diagonals a tile of one row is far off or huge; a small square is exact. Null at other angles. */
export function findSquare({ dpi, lpi, angleDeg }: ScreenGeometry): Square | null {
  const eighths = Math.round(angleDeg / 45);
  if (Math.abs(angleDeg - eighths * 45) > ALONG_DEG) return null;
  const cell = (dpi / lpi) * (eighths % 2 === 0 ? 1 : Math.SQRT2);
  const turn = ((eighths % 8) + 8) % 8;
  let nearest: Square | null = null;
  let least = Number.POSITIVE_INFINITY;
  for (const limit of MAX_SQUARE) {
    let best: Square | null = null;
    for (let n = 1; n * cell <= limit + 0.5; n++) {
      const side = Math.round(n * cell);
      const miss = Math.abs((n * cell) / side - 1);
      const square = { side, n, eighths: turn };
      // The largest that is near enough has the most exact tones.
      if (miss <= FREQUENCY_TOLERANCE) best = square;
      if (miss < least) [nearest, least] = [square, miss];
    }
    if (best) return best;
  }
  return nearest;
}

/** What the film really has of a screen: whole device pixels allow frequencies and angles near those that were asked for. */
export interface RealScreen {
  readonly lpi: number;
  readonly angleDeg: number;
  /** Pixels after which it repeats: a tone is exact to one of them. */
  readonly pixels: number;
}

export function realScreen(geometry: ScreenGeometry): RealScreen {
  const along = findSquare(geometry);
  if (along) return ofSquare(geometry, along);
  return ofLattice(geometry, findLattice(geometry));
}

export function ofSquare({ dpi }: ScreenGeometry, { side, n, eighths }: Square): RealScreen {
  const lpi = (dpi * n * (eighths % 2 === 0 ? 1 : Math.SQRT2)) / side;
  return { lpi, angleDeg: eighths * 45, pixels: side * side };
}

export function ofLattice({ dpi }: ScreenGeometry, { a, b, n }: Lattice): RealScreen {
  const pixels = a * a + b * b;
  return {
    lpi: (dpi * n) / Math.sqrt(pixels),
    angleDeg: (Math.atan2(b, a) * 180) / Math.PI,
    pixels,
  };
}
