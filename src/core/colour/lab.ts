import { type LinearRgb, type Rgb8, linearFromRgb8 } from './srgb';

/** CIELAB under D50: L* 0..100, a*, b*. */
export type Lab = readonly [number, number, number];
export type Xyz = readonly [number, number, number];

/** The D50 white of ICC profiles (ICC.1, profile connection space). */
export const D50: Xyz = [0.9642, 1, 0.8249];

/** sRGB to XYZ under its own white D65, IEC 61966-2-1. */
const SRGB_TO_XYZ_D65 = [
  [0.4124, 0.3576, 0.1805],
  [0.2126, 0.7152, 0.0722],
  [0.0193, 0.1192, 0.9505],
] as const;

/** The cone responses of the Bradford transform (ICC.1, annex on chromatic adaptation). */
const BRADFORD = [
  [0.8951, 0.2664, -0.1614],
  [-0.7502, 1.7135, 0.0367],
  [0.0389, -0.0685, 1.0296],
] as const;

type Matrix = readonly (readonly [number, number, number])[];

function apply(m: Matrix, v: Xyz): Xyz {
  return [
    m[0]![0] * v[0] + m[0]![1] * v[1] + m[0]![2] * v[2],
    m[1]![0] * v[0] + m[1]![1] * v[1] + m[1]![2] * v[2],
    m[2]![0] * v[0] + m[2]![1] * v[1] + m[2]![2] * v[2],
  ];
}

function invert(m: Matrix): Matrix {
  const [a, b, c] = m[0]!;
  const [d, e, f] = m[1]!;
  const [g, h, i] = m[2]!;
  const det = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  return [
    [(e * i - f * h) / det, (c * h - b * i) / det, (b * f - c * e) / det],
    [(f * g - d * i) / det, (a * i - c * g) / det, (c * d - a * f) / det],
    [(d * h - e * g) / det, (b * g - a * h) / det, (a * e - b * d) / det],
  ];
}

function multiply(m: Matrix, n: Matrix): Matrix {
  const column = (k: 0 | 1 | 2) => apply(m, [n[0]![k], n[1]![k], n[2]![k]]);
  const [p, q, r] = [column(0), column(1), column(2)];
  return [
    [p[0], q[0], r[0]],
    [p[1], q[1], r[1]],
    [p[2], q[2], r[2]],
  ];
}

// The white that the matrix itself maps (1, 1, 1) to, so that sRGB white lands on D50 exactly.
const SOURCE_WHITE = apply(SRGB_TO_XYZ_D65, [1, 1, 1]);

function bradfordToD50(): Matrix {
  const source = apply(BRADFORD, SOURCE_WHITE);
  const target = apply(BRADFORD, D50);
  const scale: Matrix = [
    [target[0] / source[0], 0, 0],
    [0, target[1] / source[1], 0],
    [0, 0, target[2] / source[2]],
  ];
  return multiply(invert(BRADFORD), multiply(scale, BRADFORD));
}

const LINEAR_TO_XYZ_D50 = multiply(bradfordToD50(), SRGB_TO_XYZ_D65);

/** Linear sRGB to XYZ adapted to D50. */
export function xyzD50FromLinear(rgb: LinearRgb): Xyz {
  return apply(LINEAR_TO_XYZ_D50, rgb);
}

// CIE 15: the exact fractions behind 0.008856 and 7.787.
const EPSILON = 216 / 24389;
const SLOPE = 841 / 108;

/** The curve that CIELAB puts on shares of white. CIE 15. */
export function labCurve(ratio: number): number {
  return ratio > EPSILON ? Math.cbrt(ratio) : SLOPE * ratio + 4 / 29;
}

function labCurveInverse(value: number): number {
  return value > Math.cbrt(EPSILON) ? value ** 3 : (value - 4 / 29) / SLOPE;
}

/** How fast `labCurve` rises, from its own value. */
export function labCurveSlope(value: number): number {
  const threshold = Math.cbrt(EPSILON);
  return value > threshold ? 1 / (3 * value * value) : SLOPE;
}

/** Linear sRGB to X, Y and Z as shares of the D50 white, row after row. */
export const LINEAR_TO_WHITE_SHARES: Float64Array = Float64Array.from(
  LINEAR_TO_XYZ_D50.flatMap((row, k) => row.map((each) => each / D50[k]!)),
);

/** XYZ under D50 to CIELAB. CIE 15. */
export function labFromXyzD50(xyz: Xyz): Lab {
  const fx = labCurve(xyz[0] / D50[0]);
  const fy = labCurve(xyz[1] / D50[1]);
  const fz = labCurve(xyz[2] / D50[2]);
  return [116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)];
}

export function labFromLinear(rgb: LinearRgb): Lab {
  return labFromXyzD50(xyzD50FromLinear(rgb));
}

const XYZ_D50_TO_LINEAR = invert(LINEAR_TO_XYZ_D50);

/** The inverse of `labFromLinear`; channels lie outside of 0..1 for colours beyond sRGB. */
export function linearFromLab([lightness, a, b]: Lab): LinearRgb {
  const fy = (lightness + 16) / 116;
  const shares = [fy + a / 500, fy, fy - b / 200].map(labCurveInverse);
  return apply(XYZ_D50_TO_LINEAR, shares.map((each, k) => each * D50[k]!) as unknown as Xyz);
}

export function labFromRgb8(rgb: Rgb8): Lab {
  return labFromLinear(linearFromRgb8(rgb));
}

/** Distance in CIELAB, for thresholds in inner loops; judgements use CIEDE2000. */
export function deltaE76(p: Lab, q: Lab): number {
  return Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
}
