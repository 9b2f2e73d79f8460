'use client';

import { useCallback, useEffect, useSyncExternalStore } from 'react';
import { toast } from 'sonner';
import { START_STOCK, type Stock } from '@/core/sheet';
import type { ErrorReport } from '@/core/units';
import type { StockView } from '@/protocol/stock';
import { fetchStock, saveStock, toReport } from './api';

interface StockState {
  readonly view: StockView;
  readonly loaded: boolean;
  readonly error: ErrorReport | null;
  /** Set when a change came too late and the newer stock is shown. */
  readonly notice: string | null;
}

let state: StockState = {
  view: { version: 0, stock: START_STOCK },
  loaded: false,
  error: null,
  notice: null,
};
const listeners = new Set<() => void>();

function set(change: Partial<StockState>): void {
  state = { ...state, ...change };
  listeners.forEach((listener) => listener());
}

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** The shop's stock, one for all parts of the page. */
export function useStock() {
  const { view, loaded, error, notice } = useSyncExternalStore(
    subscribe,
    () => state,
    () => state,
  );
  useEffect(() => {
    fetchStock()
      .then((fetched) => set({ view: fetched, loaded: true, error: null }))
      .catch((thrown: unknown) => set({ error: toReport(thrown) }));
  }, []);
  const change = useCallback(async (stock: Stock) => {
    const before = state.view;
    set({ view: { ...before, stock }, notice: null, error: null });
    try {
      const saved = await saveStock(before.version, stock);
      set({
        view: saved.view,
        notice: saved.overtaken ? 'The stock was changed in another window; this is the newer one.' : null,
      });
    } catch (thrown) {
      set({ view: before, error: toReport(thrown) });
    }
  }, []);
  /** The same for pages that show no stock of their own: what became of it is told in passing. */
  const save = useCallback(
    (stock: Stock) =>
      void change(stock).then(() => {
        const told = state.error?.message ?? state.notice;
        if (told) toast.error(told);
        else toast.success('Kept in stock');
      }),
    [change],
  );
  return { stock: view.stock, loaded, error, notice, change, save };
}
