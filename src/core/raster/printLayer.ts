/** One ink layer of a print. */
export interface PrintLayer {
  /** 0 = out, 255 = in; width * height. */
  readonly shape: Uint8Array;
  /** 0..65535, the coverage where the shape is in; null is solid. */
  readonly tone: Uint16Array | null;
  /** Linear light of the full ink. */
  readonly colour: readonly [number, number, number];
  readonly opacity: number;
  /** Layers of one group have their dots beside each other, instead of independently; null or left out: none. */
  readonly group?: number | null;
  /** How it lies to the base of its group, `on` where left out. */
  readonly place?: GroupPlace;
  /** Layers of one nest have their dots in each other; null or left out: none. It is of no group. */
  readonly nest?: number | null;
}

/**
 * `under`: the base of a group, its first layer, inked from the lowest thresholds on. `on`: beside others, on the base as far as it
 * reaches. `off`: beside others, where no base is.
 */
export type GroupPlace = 'under' | 'on' | 'off';

/** Shape times tone to coverage 0..1. */
export const COVERAGE = Math.fround(1 / (255 * 65535));

/** Layers that lie beside each other: from the first of them to the last there are two states of the print, with them and without. */
export interface LayerGroup {
  readonly group: number;
  readonly first: number;
  readonly last: number;
  /** Whether the first is a base under the others. */
  readonly hasBase: boolean;
}

/** The groups of two layers and more. */
export function groupsOf(layers: readonly PrintLayer[]): LayerGroup[] {
  const known = new Set(layers.map((layer) => layer.group ?? null));
  return [...known].flatMap((group) => {
    if (group === null) return [];
    const first = layers.findIndex((layer) => layer.group === group);
    const last = layers.findLastIndex((layer) => layer.group === group);
    return last > first ? [{ group, first, last, hasBase: layers[first]!.place === 'under' }] : [];
  });
}
