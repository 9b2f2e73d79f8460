import { KerameusError } from './error';

/** Exact by definition (international yard and pound agreement, 1959). */
export const MM_PER_INCH = 25.4;
/** The desktop publishing point: 72 to the inch. */
export const MM_PER_POINT = MM_PER_INCH / 72;
/** `px` as a length for users is 1/300 inch at print size, whatever the artwork's own pixels are. */
export const MM_PER_USER_PIXEL = MM_PER_INCH / 300;

export type LengthUnit = 'mm' | 'cm' | 'in' | 'pt' | 'px';

const MM_PER_UNIT: Readonly<Record<LengthUnit, number>> = {
  mm: 1,
  cm: 10,
  in: MM_PER_INCH,
  pt: MM_PER_POINT,
  px: MM_PER_USER_PIXEL,
};

export interface LengthRule {
  /** Named in the error. */
  readonly parameter: string;
  /** Unit of a bare number; without it a bare number is refused. */
  readonly defaultUnit?: LengthUnit;
  readonly minMm?: number;
  readonly maxMm?: number;
}

/**
 * Reads a length such as `12in`, `0.25 pt`, `6 mm`, `1px` or `13"` in millimetres.
 * Throws KerameusError `length-syntax`, `length-unit` or `length-range`.
 */
export function parseLengthMm(text: string, rule: LengthRule): number {
  const match = /^\s*([+-]?(?:\d+[.,]?\d*|[.,]\d+))\s*([a-zA-Z"″µ]*)\s*$/.exec(text);
  if (!match) {
    throw new KerameusError({
      code: 'length-syntax',
      parameter: rule.parameter,
      message: `${rule.parameter} "${text}" is not a length.`,
      remedy: 'Write a number and a unit, for example 12in, 300mm, 0.5pt or 1px.',
    });
  }
  const value = Number(match[1]!.replace(',', '.'));
  const unit = readUnit(match[2]!, rule, text);
  return checkLengthMm(value * MM_PER_UNIT[unit], rule);
}

function readUnit(written: string, rule: LengthRule, text: string): LengthUnit {
  const name = written.toLowerCase();
  if (name === '') {
    if (rule.defaultUnit) return rule.defaultUnit;
    throw new KerameusError({
      code: 'length-unit',
      parameter: rule.parameter,
      message: `${rule.parameter} "${text}" has no unit.`,
      remedy: 'Add one of in, mm, cm, pt or px (1/300 in).',
    });
  }
  if (name === '"' || name === '″' || name === 'inch' || name === 'inches') return 'in';
  if (name in MM_PER_UNIT) return name as LengthUnit;
  throw new KerameusError({
    code: 'length-unit',
    parameter: rule.parameter,
    message: `${rule.parameter} "${text}" has the unknown unit "${written}".`,
    remedy: 'Use one of in, mm, cm, pt or px (1/300 in).',
  });
}

/** Refuses a length outside its range; the message names the limits in millimetres and inches. */
export function checkLengthMm(lengthMm: number, rule: LengthRule): number {
  const min = rule.minMm ?? 0;
  const max = rule.maxMm ?? Number.POSITIVE_INFINITY;
  if (!Number.isFinite(lengthMm) || lengthMm < min || lengthMm > max) {
    const limits = Number.isFinite(max)
      ? `between ${formatBoth(min)} and ${formatBoth(max)}`
      : `at least ${formatBoth(min)}`;
    throw new KerameusError({
      code: 'length-range',
      parameter: rule.parameter,
      message: `${rule.parameter} is ${formatBoth(lengthMm)}, outside its range.`,
      remedy: `Give a length ${limits}.`,
    });
  }
  return lengthMm;
}

/** A number with at most `digits` decimals and no trailing zeros. */
export function trimNumber(value: number, digits: number): string {
  const text = value.toFixed(digits);
  return text.includes('.') ? text.replace(/\.?0+$/, '') : text;
}

/** A length in the given unit, with the decimals that the unit deserves. */
export function formatLength(lengthMm: number, unit: LengthUnit): string {
  const digits = unit === 'in' ? 3 : unit === 'mm' ? 2 : unit === 'cm' ? 2 : 2;
  return `${trimNumber(lengthMm / MM_PER_UNIT[unit], digits)} ${unit}`;
}

/** A length as messages tell it, for whoever thinks in either unit: inches, and millimetres behind them. */
export function formatBoth(lengthMm: number): string {
  return `${formatLength(lengthMm, 'in')} (${trimNumber(lengthMm, 1)} mm)`;
}

/** Millimetres to device pixels at a resolution, not rounded. */
export function mmToPx(lengthMm: number, dpi: number): number {
  return (lengthMm * dpi) / MM_PER_INCH;
}

/** Device pixels to millimetres at a resolution. */
export function pxToMm(lengthPx: number, dpi: number): number {
  return (lengthPx * MM_PER_INCH) / dpi;
}

/** Reads `13x19in`, `330 x 480 mm` or `13in x 19in`. */
export function parseSheetSizeMm(text: string): { widthMm: number; heightMm: number } {
  const parts = text.split(/[x×]/i);
  if (parts.length !== 2) {
    throw new KerameusError({
      code: 'sheet-size',
      parameter: 'sheet',
      message: `The sheet "${text}" is not a size.`,
      remedy: 'Write width x height with a unit, for example 13x19in or 330x480mm.',
    });
  }
  const unit = /([a-zA-Z"″]+)\s*$/.exec(parts[1]!)?.[1] ?? '';
  const first = /[a-zA-Z"″]\s*$/.test(parts[0]!) ? parts[0]! : parts[0]! + unit;
  const limits = { minMm: 25, maxMm: 3000 };
  return {
    widthMm: parseLengthMm(first, { parameter: 'sheet width', ...limits }),
    heightMm: parseLengthMm(parts[1]!, { parameter: 'sheet height', ...limits }),
  };
}
