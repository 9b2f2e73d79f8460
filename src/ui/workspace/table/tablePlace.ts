import { GARMENT_MARGIN_MM } from '@/browser';
import type { View } from '@/core/pipeline';
import type { JobSheet } from '@/core/sheet';
import type { TablePlace } from '../../state/viewState';

export interface TableSize {
  readonly width: number;
  readonly height: number;
}

/** Pixels left free round the garment when it is fitted. */
const FREE_PX = 6;
/** Garment round a fitted print: a little less than what is drawn, so that the print is large. */
const FIT_MARGIN_MM = GARMENT_MARGIN_MM / 2;
const MIN_SCALE = 0.3;
const MAX_SCALE = 240;

export function fitPlace(
  sheet: { readonly print: Pick<JobSheet['print'], 'widthMm' | 'heightMm'> },
  size: TableSize,
): TablePlace {
  const { widthMm, heightMm } = sheet.print;
  const scale = Math.min(
    (size.width - 2 * FREE_PX) / (widthMm + 2 * FIT_MARGIN_MM),
    (size.height - 2 * FREE_PX) / (heightMm + 2 * FIT_MARGIN_MM),
  );
  return { centreXMm: widthMm / 2, centreYMm: heightMm / 2, scale: Math.max(MIN_SCALE, scale) };
}

/** The same place enlarged by a factor, with the point under (x, y) kept where it is. */
export function zoomAt(place: TablePlace, size: TableSize, factor: number, x: number, y: number): TablePlace {
  const scale = Math.min(MAX_SCALE, Math.max(MIN_SCALE, place.scale * factor));
  const dx = x - size.width / 2;
  const dy = y - size.height / 2;
  return {
    centreXMm: place.centreXMm + dx / place.scale - dx / scale,
    centreYMm: place.centreYMm + dy / place.scale - dy / scale,
    scale,
  };
}

export function viewOf(place: TablePlace, size: TableSize): View {
  return {
    xMm: place.centreXMm - size.width / 2 / place.scale,
    yMm: place.centreYMm - size.height / 2 / place.scale,
    scale: place.scale,
    width: size.width,
    height: size.height,
  };
}

/** The point of the print under a point of the window, in millimetres. */
export function printPoint(place: TablePlace, size: TableSize, x: number, y: number) {
  return {
    xMm: place.centreXMm + (x - size.width / 2) / place.scale,
    yMm: place.centreYMm + (y - size.height / 2) / place.scale,
  };
}
