import { KerameusError } from '../units';

/** Three components, linear light, 0..1, with the primaries of sRGB. */
export type LinearRgb = readonly [number, number, number];
/** Three coded components, 0..255. */
export type Rgb8 = readonly [number, number, number];

/** Coded 0..1 to linear 0..1. IEC 61966-2-1. */
export function decodeSrgb(coded: number): number {
  return coded <= 0.04045 ? coded / 12.92 : Math.pow((coded + 0.055) / 1.055, 2.4);
}

/** Linear 0..1 to coded 0..1. IEC 61966-2-1. */
export function encodeSrgb(linear: number): number {
  return linear <= 0.0031308 ? linear * 12.92 : 1.055 * Math.pow(linear, 1 / 2.4) - 0.055;
}

/** Linear light of each 8-bit code. */
export const LINEAR_OF_CODE8: Float64Array = Float64Array.from({ length: 256 }, (_, code) =>
  decodeSrgb(code / 255),
);

/** Linear light of each 16-bit code. */
export const LINEAR_OF_CODE16: Float32Array = Float32Array.from({ length: 65536 }, (_, code) =>
  decodeSrgb(code / 65535),
);

/** Equal steps of linear light from 0 to 1 for which `ENCODE_TABLE` has codes. */
export const ENCODE_STEPS = 16384;
// A step of the table is at most 0.2 of a code (12.92 * 255 / 16384, at the dark end), so that codes come back as they went.
/** 8-bit codes of linear light in equal steps from 0 to 1. */
export const ENCODE_TABLE = Uint8Array.from({ length: ENCODE_STEPS + 1 }, (_, step) =>
  Math.round(encodeSrgb(step / ENCODE_STEPS) * 255),
);

/** Linear 0..1 to the nearest 8-bit code by table, within one code of the exact value; clips. */
export function encodeSrgb8(linear: number): number {
  if (!(linear > 0)) return 0;
  if (linear >= 1) return 255;
  return ENCODE_TABLE[Math.round(linear * ENCODE_STEPS)]!;
}

/** Reads `#rgb` or `#rrggbb`. Throws KerameusError `colour-syntax`. */
export function parseHexColour(text: string, parameter = 'colour'): Rgb8 {
  const match = /^#?([0-9a-f]{3}|[0-9a-f]{6})$/i.exec(text.trim());
  if (!match) {
    throw new KerameusError({
      code: 'colour-syntax',
      parameter,
      message: `${parameter} "${text}" is not a colour.`,
      remedy: 'Write it as #rrggbb, for example #16233f.',
    });
  }
  const digits = match[1]!.length === 3 ? match[1]!.replace(/./g, '$&$&') : match[1]!;
  const value = Number.parseInt(digits, 16);
  return [value >> 16, (value >> 8) & 255, value & 255];
}

/** `#rrggbb` in lower case. */
export function formatHexColour(rgb: Rgb8): string {
  return '#' + rgb.map((part) => Math.round(part).toString(16).padStart(2, '0')).join('');
}

/** 8-bit codes to linear light. */
export function linearFromRgb8(rgb: Rgb8): LinearRgb {
  return [LINEAR_OF_CODE8[rgb[0]]!, LINEAR_OF_CODE8[rgb[1]]!, LINEAR_OF_CODE8[rgb[2]]!];
}

/** Linear light to 8-bit codes, each rounded and clipped. */
export function rgb8FromLinear(rgb: LinearRgb): Rgb8 {
  const code = (part: number) => Math.round(encodeSrgb(Math.min(1, Math.max(0, part))) * 255);
  return [code(rgb[0]), code(rgb[1]), code(rgb[2])];
}
