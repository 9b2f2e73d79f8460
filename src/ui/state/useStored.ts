'use client';

import { useCallback, useMemo, useSyncExternalStore } from 'react';
import type { z } from 'zod';

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

/** A group of choices that this browser remembers; what does not fit the schema is forgotten. */
export function useStoredObject<T extends object>(
  key: string,
  fallback: T,
  schema: z.ZodType<T>,
): [T, (change: Partial<T>) => void] {
  const text = useSyncExternalStore(
    subscribe,
    () => window.localStorage.getItem(key) ?? '',
    () => '',
  );
  const value = useMemo(() => readObject(text, schema) ?? fallback, [text, schema, fallback]);
  const change = useCallback(
    (part: Partial<T>) => {
      const before = readObject(window.localStorage.getItem(key) ?? '', schema) ?? fallback;
      window.localStorage.setItem(key, JSON.stringify({ ...before, ...part }));
      listeners.forEach((listener) => listener());
    },
    [key, schema, fallback],
  );
  return [value, change];
}

function readObject<T>(text: string, schema: z.ZodType<T>): T | null {
  if (text === '') return null;
  try {
    const result = schema.safeParse(JSON.parse(text));
    return result.success ? result.data : null;
  } catch {
    return null;
  }
}
