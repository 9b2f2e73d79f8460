'use client';

import { useCallback, useEffect, useRef, useState } from 'react';
import { type JobSheet, artworkOf } from '@/core/sheet';
import type { ErrorReport } from '@/core/units';
import type { ArtworkView, JobMove, JobView } from '@/protocol/jobs';
import { ApiError, fetchJob, moveJob, saveJob, toReport } from './api';

export interface JobState {
  readonly job: JobView | null;
  /** The job's artwork; the same object for as long as nothing of it changes. */
  readonly artwork: ArtworkView | null;
  /** What the page shows: changes that are not saved yet included. */
  readonly sheet: JobSheet | null;
  readonly saving: boolean;
  readonly error: ErrorReport | null;
  /** Something the user should know, such as a change from elsewhere. */
  readonly notice: string | null;
  commit(sheet: JobSheet): void;
  move(move: JobMove): void;
  /** The version in force once everything is saved. */
  whenSaved(): Promise<number>;
  dismiss(): void;
}

const RETRY_MS = 2000;
/** A change is saved this long after it was made: the table is drawn first. */
const SAVE_PAUSE_MS = 150;

/** The same object for as long as its content is the same: what comes back from saving is what was sent. */
function useSame<T extends object>(value: T | null): T | null {
  const [kept, setKept] = useState(value);
  if (kept === value || JSON.stringify(kept) === JSON.stringify(value)) return kept;
  setKept(value);
  return value;
}

/**
 * A job and its changes. Each change shows at once and is saved as a version behind it, in order; while the
 * server is away the newest state waits and is saved when it is back.
 *
 * @param initial the job as it came with the page, or null to ask for it.
 */
export function useJob(id: string, initial: JobView | null = null): JobState {
  const [job, setJob] = useState<JobView | null>(initial);
  const [draft, setDraft] = useState<JobSheet | null>(null);
  const [saving, setSaving] = useState(false);
  const [error, setError] = useState<ErrorReport | null>(null);
  const [notice, setNotice] = useState<string | null>(null);
  const queue = useRef<(JobSheet | JobMove)[]>([]);
  const version = useRef(initial?.version ?? 0);
  const busy = useRef(false);

  useEffect(() => {
    let gone = false;
    // What came with the page can be old already: browsers keep pages that one goes back to.
    fetchJob(id)
      .then((loaded) => {
        if (gone || loaded.version === version.current || queue.current.length > 0) return;
        version.current = loaded.version;
        setJob(loaded);
      })
      .catch((thrown: unknown) => {
        if (!gone) setError(toReport(thrown));
      });
    return () => {
      gone = true;
    };
  }, [id]);

  const pause = useRef<ReturnType<typeof setTimeout>>(undefined);
  const waiting = useRef<((version: number) => void)[]>([]);
  const drain = useCallback(async () => {
    clearTimeout(pause.current);
    pause.current = undefined;
    if (busy.current) return;
    busy.current = true;
    setSaving(true);
    while (queue.current.length > 0) {
      const next = queue.current[0]!;
      try {
        const saved =
          typeof next === 'object'
            ? await saveJob(id, version.current, next)
            : await moveJob(id, version.current, next);
        queue.current.shift();
        version.current = saved.job.version;
        setJob(saved.job);
        setError(null);
        if (saved.overtaken) {
          queue.current = [];
          setNotice(
            'The job was changed in another window; this is the newer state. Your last change was not applied.',
          );
        }
        if (queue.current.length === 0) setDraft(null);
      } catch (thrown) {
        setError(toReport(thrown));
        const away = thrown instanceof ApiError && (thrown.status === 0 || thrown.status >= 500);
        if (away) await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
        else {
          queue.current = [];
          setDraft(null);
        }
      }
    }
    busy.current = false;
    setSaving(false);
    for (const answer of waiting.current.splice(0)) answer(version.current);
  }, [id]);

  const commit = useCallback(
    (sheet: JobSheet) => {
      setDraft(sheet);
      setSaving(true);
      queue.current.push(sheet);
      pause.current ??= setTimeout(() => void drain(), SAVE_PAUSE_MS);
    },
    [drain],
  );
  useEffect(() => {
    // Whoever leaves the page does not wait for the pause.
    const leave = () => {
      if (queue.current.length > 0) void drain();
    };
    window.addEventListener('pagehide', leave);
    return () => {
      window.removeEventListener('pagehide', leave);
      leave();
    };
  }, [drain]);
  const move = useCallback(
    (to: JobMove) => {
      queue.current.push(to);
      void drain();
    },
    [drain],
  );
  const whenSaved = useCallback((): Promise<number> => {
    if (queue.current.length === 0 && !busy.current) return Promise.resolve(version.current);
    return new Promise((answer) => {
      waiting.current.push(answer);
      void drain();
    });
  }, [drain]);
  const dismiss = useCallback(() => {
    setNotice(null);
    setError(null);
  }, []);

  // Another artwork is shown when the server has told what it is.
  const isOfJob = draft && job && artworkOf(draft).sha256 === job.artwork.sha256;
  const sheet = useSame((isOfJob ? draft : job?.sheet) ?? null);
  const artwork = useSame(job?.artwork ?? null);
  return { job, artwork, sheet, saving, error, notice, commit, move, whenSaved, dismiss };
}
