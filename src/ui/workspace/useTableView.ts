'use client';

import { useCallback, useEffect, useRef, useState } from 'react';
import { type Drawing, type Subject, TablePool } from '@/browser';
import type { View } from '@/core/pipeline';
import type { JobSheet } from '@/core/sheet';

/** Where the table stands: the print's point in the middle of the window, and window pixels per millimetre. */
export interface TablePlace {
  readonly centreXMm: number;
  readonly centreYMm: number;
  readonly scale: number;
}

export interface TableSize {
  readonly width: number;
  readonly height: number;
}

/** Garment that shows round a print that is fitted to the window. */
const FIT_MARGIN_MM = 12;
const MIN_SCALE = 0.3;
const MAX_SCALE = 240;

export function fitPlace(sheet: JobSheet, size: TableSize): TablePlace {
  const { widthMm, heightMm } = sheet.print;
  const scale = Math.min(
    size.width / (widthMm + 2 * FIT_MARGIN_MM),
    size.height / (heightMm + 2 * FIT_MARGIN_MM),
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

export interface Shown {
  readonly drawing: Drawing;
  readonly view: View;
}

export interface TableInput {
  readonly sheet: JobSheet | null;
  readonly hasOuterMap: boolean;
  readonly subject: Subject;
  readonly plateId: string | null;
  readonly lifted: readonly string[];
  readonly place: TablePlace | null;
  readonly size: TableSize;
}

/** Has the table drawn on web workers; what was drawn last stays until the next is ready. */
export function useTableView(input: TableInput): {
  shown: Shown | null;
  busy: boolean;
  failure: string | null;
} {
  const pool = useRef<TablePool | null>(null);
  const [shown, setShown] = useState<Shown | null>(null);
  const [busy, setBusy] = useState(false);
  const [failure, setFailure] = useState<string | null>(null);
  const { sheet, hasOuterMap, subject, plateId, lifted, place, size } = input;

  useEffect(() => {
    pool.current = new TablePool();
    return () => {
      pool.current?.close();
      pool.current = null;
    };
  }, []);

  useEffect(() => {
    if (!sheet || !place || size.width === 0 || size.height === 0 || !pool.current) return;
    let gone = false;
    const view = viewOf(place, size);
    setBusy(true);
    pool.current
      .draw({ sheet, hasOuterMap, subject, plateId, lifted, view })
      .then((drawing) => {
        if (gone || !drawing) return;
        setShown({ drawing, view });
        setBusy(false);
        setFailure(null);
      })
      .catch((thrown: unknown) => {
        if (gone) return;
        setBusy(false);
        setFailure(thrown instanceof Error ? thrown.message : String(thrown));
      });
    return () => {
      gone = true;
    };
  }, [sheet, hasOuterMap, subject, plateId, lifted, place, size]);

  return { shown, busy, failure };
}

/** The size of an element in whole pixels, followed as it changes. */
export function useElementSize(): [(element: HTMLElement | null) => void, TableSize] {
  const [size, setSize] = useState<TableSize>({ width: 0, height: 0 });
  const observer = useRef<ResizeObserver | null>(null);
  const attach = useCallback((element: HTMLElement | null) => {
    observer.current?.disconnect();
    if (!element) return;
    observer.current = new ResizeObserver(() => {
      const width = Math.floor(element.clientWidth);
      const height = Math.floor(element.clientHeight);
      setSize((before) => (before.width === width && before.height === height ? before : { width, height }));
    });
    observer.current.observe(element);
  }, []);
  return [attach, size];
}
