'use client';

import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { TablePool } from '@/browser';
import { type Reading, type Survey, surveyKey } from '@/core/pipeline';
import { type JobGarment, type JobSheet } from '@/core/sheet';

function startedPool(): TablePool {
  const pool = new TablePool();
  pool.warm();
  return pool;
}

/** The workers of the first page that wants some: they start while the page itself is still being put together. */
let first: TablePool | null = typeof window === 'undefined' ? null : startedPool();

/** The workers of a page, for as long as it is open. */
export function usePool(): TablePool {
  const [pool] = useState(() => {
    const taken = first ?? new TablePool();
    first = null;
    return taken;
  });
  useEffect(() => {
    pool.warm();
    return () => pool.close();
  }, [pool]);
  return pool;
}

/** A survey begins when nothing was changed for this long. */
const SURVEY_PAUSE_MS = 900;

/** How far the check of the whole print has come. */
export interface CheckState {
  /** What is told of the print is that of the job as it stands, of one before it, or could not be found. */
  readonly state: 'done' | 'running' | 'failed';
  readonly again: () => void;
}

interface Surveyed {
  readonly key: string;
  readonly ids: string;
  /** Null: it failed. */
  readonly survey: Survey | null;
}

/** Coverage, small pictures, overlaps and edges of all plates; follows the job a moment behind. */
export function useSurvey(
  pool: TablePool,
  sheet: JobSheet | null,
  hasOuterMap: boolean,
): { readonly survey: Survey | null; readonly check: CheckState } {
  const [last, setLast] = useState<Surveyed | null>(null);
  const [tries, setTries] = useState(0);
  const key = sheet ? surveyKey(sheet) : '';
  const latest = useRef(sheet);
  useEffect(() => {
    latest.current = sheet;
  });
  useEffect(() => {
    if (key === '') return;
    pool.stopSurvey();
    const timer = setTimeout(() => {
      const asked = latest.current!;
      const done = (survey: Survey | null) => setLast({ key, ids: idsOf(asked), survey });
      pool.survey(asked, hasOuterMap).then(
        (found) => found && done(found),
        (thrown: unknown) => {
          console.error(thrown);
          done(null);
        },
      );
    }, SURVEY_PAUSE_MS);
    return () => clearTimeout(timer);
  }, [pool, key, hasOuterMap, tries]);
  const again = useCallback(() => {
    setLast(null);
    setTries((count) => count + 1);
  }, []);
  // While plates come and go, the old survey no longer says which plate is which.
  const survey = last && sheet && last.ids === idsOf(sheet) ? last.survey : null;
  const state = last?.key !== key ? 'running' : last.survey ? 'done' : 'failed';
  return { survey, check: useMemo(() => ({ state, again }), [state, again]) };
}

function idsOf(sheet: JobSheet): string {
  return sheet.plates.map((plate) => plate.id).join();
}

export interface PlacedReading {
  readonly xMm: number;
  readonly yMm: number;
  readonly reading: Reading;
}

/** What stands under the pointer, a frame or two behind it. */
export function useReading(
  pool: TablePool,
  sheet: JobSheet,
  garment: JobGarment,
  hasOuterMap: boolean,
  point: { readonly xMm: number; readonly yMm: number } | null,
): PlacedReading | null {
  const [placed, setPlaced] = useState<PlacedReading | null>(null);
  useEffect(() => {
    if (!point) return;
    let gone = false;
    void pool.read({ sheet, garment, hasOuterMap, ...point }).then((reading) => {
      if (!gone && reading) setPlaced({ ...point, reading });
    });
    return () => {
      gone = true;
    };
  }, [pool, sheet, garment, hasOuterMap, point]);
  return point ? placed : null;
}

/** Readings at pinned places; they follow every change. */
export function usePinned(
  pool: TablePool,
  sheet: JobSheet,
  garment: JobGarment,
  hasOuterMap: boolean,
  pins: readonly { readonly xMm: number; readonly yMm: number }[],
): readonly PlacedReading[] {
  const [placed, setPlaced] = useState<readonly PlacedReading[]>([]);
  useEffect(() => {
    let gone = false;
    Promise.all(
      pins.map(async (pin) => ({
        ...pin,
        reading: await pool.readPinned({ sheet, garment, hasOuterMap, ...pin }),
      })),
    )
      .then((all) => !gone && setPlaced(all))
      .catch(() => undefined);
    return () => {
      gone = true;
    };
  }, [pool, sheet, garment, hasOuterMap, pins]);
  return placed;
}
