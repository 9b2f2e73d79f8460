'use client';

import { useEffect, useRef } from 'react';
import { type Drawing, SURROUNDS, type Surround } from '@/browser';
import type { View } from '@/core/pipeline';
import type { TablePlace } from '../../state/viewState';
import { type Shown, type TableSize, viewOf } from './useTableView';

interface Props {
  readonly shown: Shown | null;
  readonly place: TablePlace | null;
  readonly size: TableSize;
  readonly surround: Surround;
  /** Where the wipe stands, 0..1; beyond it lies what the table is held against. */
  readonly wipe: number | null;
  /** Whether the wipe's line lies across, for prints that are taller than wide. */
  readonly across: boolean;
}

/** Whether a drawing was made for exactly this view. */
function isSettled(view: View, now: View): boolean {
  return (
    now.scale === view.scale &&
    now.xMm === view.xMm &&
    now.yMm === view.yMm &&
    view.width === now.width &&
    view.height === now.height
  );
}

/** Shows the last drawing where it belongs now: pixel for pixel once it is settled, moved along while the next is drawn. */
export function TableCanvas({ shown, place, size, surround, wipe, across }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const bitmaps = useRef(new WeakMap<Drawing, OffscreenCanvas>());

  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d', { alpha: false });
    if (!element || !context || !shown || !place || size.width === 0) return;
    if (element.width !== size.width || element.height !== size.height) {
      element.width = size.width;
      element.height = size.height;
    }
    const bitmapOf = (drawing: Drawing): OffscreenCanvas => {
      let bitmap = bitmaps.current.get(drawing);
      if (!bitmap) {
        bitmap = new OffscreenCanvas(drawing.width, drawing.height);
        bitmap
          .getContext('2d', { alpha: false })!
          .putImageData(new ImageData(drawing.pixels, drawing.width, drawing.height), 0, 0);
        bitmaps.current.set(drawing, bitmap);
      }
      return bitmap;
    };
    const now = viewOf(place, size);
    const { view, drawings } = shown;
    const settled = isSettled(view, now);
    const ratio = now.scale / view.scale;
    if (!settled) {
      const grey = SURROUNDS[surround];
      context.fillStyle = `rgb(${grey} ${grey} ${grey})`;
      context.fillRect(0, 0, size.width, size.height);
    }
    const paint = (drawing: Drawing) => {
      const bitmap = bitmapOf(drawing);
      if (settled) context.drawImage(bitmap, 0, 0);
      else {
        const x = (view.xMm - now.xMm) * now.scale;
        const y = (view.yMm - now.yMm) * now.scale;
        context.drawImage(bitmap, x, y, drawing.width * ratio, drawing.height * ratio);
      }
    };
    paint(drawings[0]!);
    if (wipe === null || drawings.length < 2) return;
    const x = across ? 0 : Math.round(wipe * size.width);
    const y = across ? Math.round(wipe * size.height) : 0;
    context.save();
    context.beginPath();
    context.rect(x, y, size.width - x, size.height - y);
    context.clip();
    paint(drawings[1]!);
    context.restore();
  }, [shown, place, size, surround, wipe, across]);

  return (
    <canvas
      ref={canvas}
      className="absolute inset-0 size-full cursor-crosshair active:cursor-grabbing"
      data-testid="table"
    />
  );
}
