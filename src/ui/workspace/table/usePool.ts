'use client';

import { useEffect, useRef, useState } from 'react';
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

/** Coverage, small pictures and overlaps of all plates; follows the job a moment behind. */
export function useSurvey(pool: TablePool, sheet: JobSheet | null, hasOuterMap: boolean): Survey | null {
  const [survey, setSurvey] = useState<{ ids: string; survey: Survey } | null>(null);
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
      pool
        .survey(asked, hasOuterMap)
        .then((found) => found && setSurvey({ ids: idsOf(asked), survey: found }))
        .catch(() => undefined);
    }, SURVEY_PAUSE_MS);
    return () => clearTimeout(timer);
  }, [pool, key, hasOuterMap]);
  // While plates come and go, the old survey no longer says which plate is which.
  return survey && sheet && survey.ids === idsOf(sheet) ? survey.survey : null;
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
