import { type DrawOrder, type Drawing, SURROUNDS, type Surround } from '@/browser';
import type { View } from '@/core/pipeline';
import type { TablePlace } from '../../state/viewState';
import { type TableSize, viewOf } from './tablePlace';

/** How the table stands at the moment. */
export interface Arrangement {
  readonly place: TablePlace | null;
  readonly size: TableSize;
  readonly surround: Surround;
  /** Where the wipe stands, 0..1; beyond it lies what the table is held against. */
  readonly wipe: number | null;
  /** Whether the wipe's line lies across, for prints that are taller than wide. */
  readonly across: boolean;
}

/**
 * The table's canvas and its newest drawings. A drawing is shown the moment it arrives, without a turn of the page:
 * pixel for pixel where it was made for what the table shows, moved along while the next one is drawn.
 */
export class TableSurface {
  private context: CanvasRenderingContext2D | null = null;
  private sign: HTMLElement | null = null;
  private arrangement: Arrangement | null = null;
  private drawings: readonly Drawing[] = [];
  private view: View | null = null;
  private wanted: readonly DrawOrder[] | null = null;
  private count = 0;
  /** The drawings as bitmaps, made when a view moves; used again and again, since the browser frees canvases late. */
  private readonly bitmaps: { canvas: OffscreenCanvas; of: Drawing | null }[] = [];

  readonly attach = (canvas: HTMLCanvasElement | null): void => {
    this.context = canvas?.getContext('2d', { alpha: false }) ?? null;
    this.paint();
  };

  /** The element that tells, in its data, whether the table is settled. */
  readonly attachSign = (sign: HTMLElement | null): void => {
    this.sign = sign;
    this.tell(true);
  };

  arrange(arrangement: Arrangement): void {
    this.arrangement = arrangement;
    this.paint();
  }

  /** From now on only the drawings of these orders are the table's. */
  expect(orders: readonly DrawOrder[]): void {
    if (this.wanted === orders) return;
    this.wanted = orders;
    this.tell(true);
  }

  /**
   * @param drawings what the table shows, and behind it what it is held against, if anything.
   * @returns what is shown no longer.
   */
  show(orders: readonly DrawOrder[], drawings: readonly Drawing[]): readonly Drawing[] {
    if (this.wanted !== orders) return [];
    const before = this.drawings;
    if (before !== drawings) {
      this.drawings = drawings;
      this.view = orders[0]!.view;
      this.count++;
      this.paint();
    }
    this.tell(false);
    return before === drawings ? [] : before;
  }

  /**
   * Shows drafts of what is awaited, which goes on being so.
   *
   * @returns what is shown no longer: the drafts themselves, where something else is awaited.
   */
  showDraft(orders: readonly DrawOrder[], drafts: readonly Drawing[]): readonly Drawing[] {
    if (JSON.stringify(this.wanted) !== JSON.stringify(orders)) return drafts;
    const before = this.drawings;
    this.drawings = drafts;
    this.view = orders[0]!.view;
    this.paint();
    return before;
  }

  /** Drawing failed: there is nothing to wait for. */
  giveUp(orders: readonly DrawOrder[]): void {
    if (this.wanted === orders) this.tell(false);
  }

  private tell(busy: boolean): void {
    if (!this.sign) return;
    this.sign.dataset.busy = String(busy);
    this.sign.dataset.drawn = String(this.count);
  }

  private paint(): void {
    const { context, arrangement, view } = this;
    if (!context || !arrangement?.place || !view) return;
    const { place, size, surround, wipe, across } = arrangement;
    if (size.width === 0 || size.height === 0) return;
    const { canvas } = context;
    if (canvas.width !== size.width || canvas.height !== size.height) {
      canvas.width = size.width;
      canvas.height = size.height;
    }
    const now = viewOf(place, size);
    const settled = isSame(view, now);
    if (!settled) {
      const grey = SURROUNDS[surround];
      context.fillStyle = `rgb(${grey} ${grey} ${grey})`;
      context.fillRect(0, 0, size.width, size.height);
    }
    this.drawings.forEach((drawing, behind) => {
      if (behind > 0 && wipe === null) return;
      const x = behind && !across ? Math.round(wipe! * size.width) : 0;
      const y = behind && across ? Math.round(wipe! * size.height) : 0;
      const [width, height] = [size.width - x, size.height - y];
      if (width <= 0 || height <= 0) return;
      if (settled) {
        putBands(context, drawing, x, y);
        return;
      }
      const ratio = now.scale / view.scale;
      context.save();
      context.beginPath();
      context.rect(x, y, width, height);
      context.clip();
      context.drawImage(
        this.bitmapOf(drawing, behind),
        (view.xMm - now.xMm) * now.scale,
        (view.yMm - now.yMm) * now.scale,
        drawing.width * ratio,
        drawing.height * ratio,
      );
      context.restore();
    });
  }

  private bitmapOf(drawing: Drawing, slot: number): OffscreenCanvas {
    const bitmap = (this.bitmaps[slot] ??= { canvas: new OffscreenCanvas(1, 1), of: null });
    const { canvas } = bitmap;
    if (bitmap.of !== drawing) {
      if (canvas.width !== drawing.width) canvas.width = drawing.width;
      if (canvas.height !== drawing.height) canvas.height = drawing.height;
      putBands(canvas.getContext('2d', { alpha: false })!, drawing, 0, 0);
      bitmap.of = drawing;
    }
    return canvas;
  }
}

/** Puts a drawing's pixels from (x, y) on to the right and down. */
function putBands(
  context: Pick<CanvasRenderingContext2D, 'putImageData'>,
  drawing: Drawing,
  x: number,
  y: number,
): void {
  for (const band of drawing.bands) {
    const top = Math.max(0, y - band.y);
    if (top >= band.height || x >= band.width) continue;
    const pixels = new ImageData(band.pixels, band.width, band.height);
    context.putImageData(pixels, 0, band.y, x, top, band.width - x, band.height - top);
  }
}

function isSame(one: View, other: View): boolean {
  return (
    one.scale === other.scale &&
    one.xMm === other.xMm &&
    one.yMm === other.yMm &&
    one.width === other.width &&
    one.height === other.height
  );
}
