import type { ChangedPlace } from '@/core/artwork';

/** Where to look, as fractions of the artwork, and how many times enlarged. */
export interface ChangedView {
  readonly x: number;
  readonly y: number;
  readonly zoom: number;
}

/** Enlarged so that a place fills up to half of what is seen. */
export function changedViews(places: readonly ChangedPlace[]): ChangedView[] {
  return places.map(({ left, top, width, height }) => ({
    x: left + width / 2,
    y: top + height / 2,
    zoom: 0.5 / Math.max(width, height, 1e-3),
  }));
}
