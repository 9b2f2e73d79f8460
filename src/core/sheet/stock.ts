import { DEFAULT_LIMITS, FILM_SHEETS, PRESS_PROFILES } from './presets';
import type { Plate } from './jobSheet';
import type { GainCurve, Mesh, Stock } from './stockSchema';

/**
 * A made-up shop to begin with. Ink colours and opacities are plausible, not measured; thread diameters are from memory; what
 * meshes are used for is common practice, no source.
 */
export const START_STOCK: Stock = {
  inks: [
    { name: 'Quay white', colour: '#f6f6f3', opacity: 0.85 },
    { name: 'Lemon sail', colour: '#fcdc14', opacity: 0.7 },
    { name: 'Sun gold', colour: '#f2b134', opacity: 0.72 },
    { name: 'Lamp amber', colour: '#f6a21e', opacity: 0.72 },
    { name: 'Buoy orange', colour: '#ee6a1f', opacity: 0.72 },
    { name: 'Kite coral', colour: '#e4502f', opacity: 0.75 },
    { name: 'Signal scarlet', colour: '#de2224', opacity: 0.75 },
    { name: 'Oar red', colour: '#b3262e', opacity: 0.75 },
    { name: 'Rust', colour: '#c2452d', opacity: 0.75 },
    { name: 'Sea pink', colour: '#d61878', opacity: 0.65 },
    { name: 'Mussel purple', colour: '#5c248c', opacity: 0.72 },
    { name: 'Deep royal', colour: '#183aaa', opacity: 0.75 },
    { name: 'Harbour blue', colour: '#1e6f8c', opacity: 0.74 },
    { name: 'Club navy', colour: '#1c2f55', opacity: 0.85 },
    { name: 'Lagoon', colour: '#00a4be', opacity: 0.72 },
    { name: 'Net green', colour: '#2f7f86', opacity: 0.74 },
    { name: 'Kelp green', colour: '#3f8f5b', opacity: 0.75 },
    { name: 'Bottle green', colour: '#008842', opacity: 0.75 },
    { name: 'Driftwood', colour: '#9a7b56', opacity: 0.75 },
    { name: 'Cream', colour: '#fff6df', opacity: 0.8 },
    { name: 'Fog grey', colour: '#9aa0a4', opacity: 0.78 },
    { name: 'Tar', colour: '#16161a', opacity: 0.95 },
  ],
  garments: [
    { name: 'Harbour navy', colour: '#16233f' },
    { name: 'Pitch black', colour: '#17171b' },
    { name: 'White', colour: '#fafaf8' },
    { name: 'Sand', colour: '#ece4d2' },
    { name: 'Moss', colour: '#3d4a33' },
    { name: 'Buoy red', colour: '#a32b28' },
    { name: 'Slate', colour: '#6d7378' },
  ],
  meshes: [
    { count: 110, threadUm: 80, use: 'heavy white, glitter' },
    { count: 125, threadUm: 70, use: 'solid white' },
    { count: 140, threadUm: 64, use: 'solid white' },
    { count: 156, threadUm: 64, use: 'solid colours' },
    { count: 180, threadUm: 55, use: 'solid colours' },
    { count: 205, threadUm: 48, use: 'halftoned white, highlight' },
    { count: 230, threadUm: 45, use: 'halftone colours' },
    { count: 280, threadUm: 34, use: 'fine halftones' },
    { count: 305, threadUm: 34, use: 'fine process' },
  ],
  presses: [...PRESS_PROFILES],
  printers: [
    {
      name: 'Film printer, sheets',
      dpi: 720,
      widthMm: 330.2,
      uri: 'ipp://127.0.0.1:6310/ipp/print',
      tones: null,
    },
    { name: 'Film printer, fine', dpi: 1440, widthMm: 330.2, uri: '', tones: null },
    { name: 'Roll printer', dpi: 1200, widthMm: 609.6, uri: '', tones: null },
  ],
  sheets: [...FILM_SHEETS],
  curves: [],
  limits: DEFAULT_LIMITS,
};

/** Diameter of a thread of a mesh; of one that is not in stock, that of the mesh nearest to it. */
export function threadUmOf(meshes: readonly Mesh[], count: number): number {
  const nearest = [...meshes].sort((p, q) => Math.abs(p.count - count) - Math.abs(q.count - count))[0];
  return nearest?.threadUm ?? 50;
}

/** What a curve is kept by. */
export type CurveKey = Omit<GainCurve, 'tones'>;

export function curveKey({ ink, mesh, screen }: Pick<Plate, 'ink' | 'mesh' | 'screen'>): CurveKey {
  return { ink: ink.name, mesh, lpi: screen.lpi, shape: screen.shape };
}

/** Whether a curve in stock was measured with this ink through this mesh and these dots. */
export function isCurveOf(curve: CurveKey, key: CurveKey): boolean {
  return (
    curve.ink === key.ink &&
    curve.mesh === key.mesh &&
    Math.abs(curve.lpi - key.lpi) < 0.05 &&
    curve.shape === key.shape
  );
}
