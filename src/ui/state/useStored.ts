'use client';

import { useCallback, useSyncExternalStore } from 'react';

const listeners = new Set<() => void>();

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  window.addEventListener('storage', listener);
  return () => {
    listeners.delete(listener);
    window.removeEventListener('storage', listener);
  };
}

/** A choice of the user's that this browser remembers; one of a few words. */
export function useStored<T extends string>(
  key: string,
  fallback: T,
  allowed: readonly T[],
): [T, (value: T) => void] {
  const read = () => {
    const kept = window.localStorage.getItem(key) as T | null;
    return kept !== null && allowed.includes(kept) ? kept : fallback;
  };
  const value = useSyncExternalStore(subscribe, read, () => fallback);
  const set = useCallback(
    (next: T) => {
      window.localStorage.setItem(key, next);
      listeners.forEach((listener) => listener());
    },
    [key],
  );
  return [value, set];
}

export type Unit = 'in' | 'mm';

/** Inches or millimetres, throughout. */
export function useUnit(): [Unit, (unit: Unit) => void] {
  return useStored<Unit>('kerameus.unit', 'in', ['in', 'mm']);
}
