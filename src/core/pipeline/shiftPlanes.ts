import type { PlatePlane, PlatePlanes } from '../fit';
import type { JobSheet } from '../sheet';
import { type PrintGrid, printGrid } from './printGrid';

/** How a screen lies off: moved to the right and down, in mm, and turned counter-clockwise round the middle of the print. */
export interface ScreenShift {
  readonly xMm: number;
  readonly yMm: number;
  readonly deg: number;
}

/** By their plate's id; plates that are not named lie where they should. */
export type ScreenShifts = Readonly<Record<string, ScreenShift>>;

const RADIANS = Math.PI / 180;

/** How far the shifts reach anywhere on the print, in whole pixels. */
export function shiftReach(shifts: ScreenShifts, { widthPx, heightPx, pxPerMm }: PrintGrid): number {
  const corner = Math.hypot(widthPx, heightPx) / 2;
  const reaches = Object.values(shifts).map(
    ({ xMm, yMm, deg }) => Math.hypot(xMm, yMm) * pxPerMm + Math.abs(deg) * RADIANS * corner,
  );
  return Math.ceil(Math.max(0, ...reaches));
}

/** The same in mm. */
export function shiftReachMm(shifts: ScreenShifts, sheet: JobSheet): number {
  const grid = printGrid(sheet, REACH_DPI);
  return shiftReach(shifts, grid) / grid.pxPerMm;
}

const REACH_DPI = 300;

/**
 * Plates of a region where screens lie off: each pixel of a plate is the one that its screen brings there. Right as far inside of the region as `shiftReach`.
 */
export function shiftPlanes(planes: PlatePlanes, grid: PrintGrid, shifts: ScreenShifts): PlatePlanes {
  return {
    rect: planes.rect,
    planes: planes.planes.map((plane) => {
      const shift = shifts[plane.plate.id];
      return shift ? shifted(plane, planes.rect, grid, shift) : plane;
    }),
  };
}

function shifted(
  plane: PlatePlane,
  rect: PlatePlanes['rect'],
  { widthPx, heightPx, pxPerMm }: PrintGrid,
  { xMm, yMm, deg }: ScreenShift,
): PlatePlane {
  const { shape, tone } = plane;
  const { width, height } = rect;
  const outShape = new Uint8Array(shape.length);
  const outTone = tone && new Uint16Array(tone.length);
  // Counter-clockwise as seen, y pointing down.
  const [cos, sin] = [Math.cos(deg * RADIANS), Math.sin(deg * RADIANS)];
  const [cx, cy] = [widthPx / 2 - rect.x, heightPx / 2 - rect.y];
  for (let y = 0, i = 0; y < height; y++) {
    const dy = y + 0.5 - cy - yMm * pxPerMm;
    for (let x = 0; x < width; x++, i++) {
      const dx = x + 0.5 - cx - xMm * pxPerMm;
      const fromX = Math.floor(cx + dx * cos - dy * sin);
      const fromY = Math.floor(cy + dx * sin + dy * cos);
      if (fromX < 0 || fromY < 0 || fromX >= width || fromY >= height) continue;
      const from = fromY * width + fromX;
      outShape[i] = shape[from]!;
      if (outTone) outTone[i] = tone![from]!;
    }
  }
  return { ...plane, shape: outShape, tone: outTone };
}
