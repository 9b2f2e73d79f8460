'use client';

import { useCallback, useLayoutEffect, useRef, useState } from 'react';
import type { DrawOrder, TablePool } from '@/browser';
import type { TableSize } from './tablePlace';
import type { TableSurface } from './tableSurface';

/** Has the table drawn on web workers and shown on its surface; returns what went wrong, or null. */
export function useTableView(
  pool: TablePool,
  surface: TableSurface,
  orders: readonly DrawOrder[] | null,
): string | null {
  const [failed, setFailed] = useState<{ orders: readonly DrawOrder[]; message: string } | null>(null);

  useLayoutEffect(() => {
    pool.hearDrafts((wanted, drafts) => pool.recycle(surface.showDraft(wanted, drafts)));
    return () => pool.hearDrafts(null);
  }, [pool, surface]);

  useLayoutEffect(() => {
    if (!orders || orders.length === 0) return;
    surface.expect(orders);
    pool
      .draw(orders)
      .then((drawings) => drawings && pool.recycle(surface.show(orders, drawings)))
      .catch((thrown: unknown) => {
        surface.giveUp(orders);
        setFailed({ orders, message: thrown instanceof Error ? thrown.message : String(thrown) });
      });
  }, [pool, surface, orders]);

  return failed !== null && failed.orders === orders ? failed.message : null;
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
