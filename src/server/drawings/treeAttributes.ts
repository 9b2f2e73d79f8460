/** Values of attributes as the simplifier writes them: absolute, without units. */
import type { Affine, Box } from '@/core/drawing';

export function number(text: string | undefined, fallback: number): number {
  const value = text === undefined ? NaN : Number(text);
  return Number.isFinite(value) ? value : fallback;
}

export function numbers(text: string | undefined): number[] {
  if (!text) return [];
  const all = text
    .trim()
    .split(/[\s,]+/)
    .map(Number);
  return all.every(Number.isFinite) ? all : [];
}

export function one<T extends string>(known: readonly T[], text: string | undefined, fallback: T): T {
  return known.find((each) => each === text) ?? fallback;
}

export function placeOf(attributes: Record<string, string>): Box {
  const [x, y] = [number(attributes.x, 0), number(attributes.y, 0)];
  return [x, y, x + number(attributes.width, 0), y + number(attributes.height, 0)];
}

export function matrixOf(text: string | undefined): Affine | null {
  if (!text) return null;
  const found = /^matrix\(([^)]*)\)$/.exec(text.trim());
  const values = numbers(found?.[1]);
  if (values.length !== 6) throw new Error(`unknown transform: ${text.slice(0, 40)}`);
  return values as unknown as Affine;
}

export function reference(text: string | undefined): string | null {
  return /^url\(#(.*)\)$/.exec(text ?? '')?.[1] ?? null;
}

export function rgbOf(text: string): number {
  const found = /^#([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})$/i.exec(text);
  if (!found) throw new Error(`unknown colour: ${text.slice(0, 20)}`);
  const [r, g, b] = found.slice(1).map((each) => parseInt(each, 16)) as [number, number, number];
  return r | (g << 8) | (b << 16);
}

const ALIGN: Readonly<Record<string, number>> = { Min: 0, Mid: 0.5, Max: 1 };

export function aspectOf(attributes: Record<string, string>) {
  const text = attributes.preserveAspectRatio ?? 'xMidYMid';
  const found = /x(Min|Mid|Max)Y(Min|Mid|Max)/.exec(text);
  return {
    stretch: text.includes('none'),
    alignX: ALIGN[found?.[1] ?? 'Mid']!,
    alignY: ALIGN[found?.[2] ?? 'Mid']!,
    slice: text.includes('slice'),
  };
}
