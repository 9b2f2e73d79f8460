'use client';

import { useEffect, useMemo, useState } from 'react';
import { filmBaseNames } from '@/core/film';
import { filmKey } from '@/core/pipeline';
import type { JobSheet } from '@/core/sheet';
import { FILM_ARCHIVE, type TaskFile, type TaskView, isFinished } from '@/protocol/tasks';
import { fetchFilmSets, fetchVersion } from './api';

/** Name of a film's file without its ending. */
function baseOf({ name }: TaskFile): string {
  return name.replace(/(\.screen)?\.[a-z]+$/, '');
}

/**
 * Files of a film set that the job as it is now would make otherwise: films one by one, and what holds all of them when one of
 * them has changed since it was made. Empty until the states that they were made from are here.
 */
export function useStaleFiles(jobId: string, films: TaskView | null, sheet: JobSheet): ReadonlySet<string> {
  const [made, setMade] = useState<ReadonlyMap<number, JobSheet>>(new Map());
  const versions = useMemo(
    () =>
      [...new Set(films?.files.flatMap(({ version }) => (version === null ? [] : [version])))].sort(
        (p, q) => p - q,
      ),
    [films],
  );
  useEffect(() => {
    let gone = false;
    const missing = versions.filter((version) => !made.has(version));
    if (missing.length === 0) return;
    Promise.all(missing.map(async (version) => [version, await fetchVersion(jobId, version)] as const))
      .then((found) => !gone && setMade((known) => new Map([...known, ...found])))
      .catch(() => undefined);
    return () => {
      gone = true;
    };
  }, [jobId, versions, made]);
  return useMemo(() => {
    const stale = new Set<string>();
    for (const file of films?.files ?? []) {
      const then = file.version === null ? undefined : made.get(file.version);
      if (!then) continue;
      const names = filmBaseNames(then, then.plates);
      const before = then.plates[names.indexOf(baseOf(file))];
      const now = before && sheet.plates.find(({ id }) => id === before.id);
      // What is no film of one plate shows all of them as they were then.
      const same = before
        ? now !== undefined && filmKey(sheet, now) === filmKey(then, before)
        : keysOf(sheet) === keysOf(then);
      if (!same) stale.add(file.name);
    }
    // An archive is as old as the oldest of its films.
    if (stale.size > 0 && films?.files.some(({ name }) => name === FILM_ARCHIVE)) stale.add(FILM_ARCHIVE);
    return stale;
  }, [films, made, sheet]);
}

function keysOf(sheet: JobSheet): string {
  return sheet.plates.map((plate) => filmKey(sheet, plate)).join();
}

/** Film sets before the newest one, the newest first. */
export function useEarlierFilms(jobId: string, films: TaskView | null): readonly TaskView[] {
  const [sets, setSets] = useState<readonly TaskView[]>([]);
  const current = films && isFinished(films.state) ? films.id : null;
  useEffect(() => {
    if (current === null) return;
    let gone = false;
    fetchFilmSets(jobId)
      .then((found) => !gone && setSets(found))
      .catch(() => undefined);
    return () => {
      gone = true;
    };
  }, [jobId, current]);
  return sets.filter(({ id }) => id !== films?.id);
}
