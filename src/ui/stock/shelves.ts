import type { Stock } from '@/core/sheet';

type Kind = 'text' | 'colour' | 'percent' | 'number' | 'length';

export interface Column {
  readonly key: string;
  readonly name: string;
  readonly kind: Kind;
  readonly min?: number;
  readonly max?: number;
  /** The word for having none of it, for a length that may be left out. */
  readonly none?: string;
}

export type CellValue = string | number | null;

export interface Shelf {
  readonly key: Exclude<keyof Stock, 'curves'>;
  readonly name: string;
  readonly one: string;
  readonly columns: readonly Column[];
  /** What a new row starts with. */
  readonly fresh: Readonly<Record<string, CellValue>>;
}

const NAME: Column = { key: 'name', name: 'Name', kind: 'text' };

/** The shelves of the stock, and what stands on them. */
export const SHELVES: readonly Shelf[] = [
  {
    key: 'inks',
    name: 'Inks',
    one: 'ink',
    columns: [
      NAME,
      { key: 'colour', name: 'Solid over white', kind: 'colour' },
      { key: 'opacity', name: 'Opacity', kind: 'percent', min: 0, max: 100 },
    ],
    fresh: { name: 'New ink', colour: '#808080', opacity: 0.75 },
  },
  {
    key: 'garments',
    name: 'Garments',
    one: 'garment',
    columns: [NAME, { key: 'colour', name: 'Colour', kind: 'colour' }],
    fresh: { name: 'New garment', colour: '#808080' },
  },
  {
    key: 'meshes',
    name: 'Meshes',
    one: 'mesh',
    columns: [
      { key: 'count', name: 'Threads per inch', kind: 'number', min: 30, max: 500 },
      { key: 'threadUm', name: 'Thread, µm', kind: 'number', min: 20, max: 200 },
      { key: 'use', name: 'For', kind: 'text' },
    ],
    fresh: { count: 195, threadUm: 55, use: 'solid colours' },
  },
  {
    key: 'presses',
    name: 'Presses',
    one: 'press',
    columns: [
      NAME,
      { key: 'toleranceMm', name: 'Registration, mm', kind: 'number', min: 0, max: 1 },
      { key: 'heads', name: 'Heads', kind: 'number', min: 1, max: 24 },
      { key: 'flashes', name: 'Flashes', kind: 'number', min: 0, max: 12 },
    ],
    fresh: { name: 'New press', toleranceMm: 0.2, heads: 8, flashes: 1 },
  },
  {
    key: 'printers',
    name: 'Film printers',
    one: 'film printer',
    columns: [
      NAME,
      { key: 'dpi', name: 'Resolution, dpi', kind: 'number', min: 300, max: 2880 },
      { key: 'widthMm', name: 'Widest sheet', kind: 'length', min: 100, max: 2000 },
      { key: 'uri', name: 'Address, ipp://', kind: 'text' },
    ],
    fresh: { name: 'New film printer', dpi: 720, widthMm: 330.2, uri: '', tones: null },
  },
  {
    key: 'sheets',
    name: 'Film sheets, rolls',
    one: 'sheet',
    columns: [
      NAME,
      { key: 'widthMm', name: 'Width', kind: 'length', min: 25, max: 3000 },
      { key: 'heightMm', name: 'Height', kind: 'length', min: 25, max: 3000, none: 'roll' },
    ],
    fresh: { name: 'New sheet', widthMm: 330.2, heightMm: 482.6 },
  },
];
