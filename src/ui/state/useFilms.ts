'use client';

import { useCallback, useEffect, useState } from 'react';
import type { ErrorReport } from '@/core/units';
import { type TaskView, isFinished } from '@/protocol/tasks';
import { cancelTask, fetchFilms, startFilms, toReport } from './api';
import { useTask } from './useTask';

/** The newest film set of a job, followed while it is made. */
export function useFilms(jobId: string) {
  const [started, setStarted] = useState<string | null>(null);
  const [known, setKnown] = useState<TaskView | null>(null);
  const [problem, setProblem] = useState<ErrorReport | null>(null);
  const live = useTask(started);
  useEffect(() => {
    let gone = false;
    fetchFilms(jobId)
      .then((latest) => {
        if (gone || !latest) return;
        setKnown(latest);
        if (!isFinished(latest.state)) setStarted(latest.id);
      })
      .catch((thrown: unknown) => !gone && setProblem(toReport(thrown)));
    return () => {
      gone = true;
    };
  }, [jobId]);
  const start = useCallback(
    async (version: number, only?: string) => {
      setProblem(null);
      try {
        setStarted(await startFilms(jobId, version, only));
      } catch (thrown) {
        setProblem(toReport(thrown));
      }
    },
    [jobId],
  );
  const task = live ?? (started && started !== known?.id ? null : known);
  const id = task?.id;
  const cancel = useCallback(() => {
    if (id) cancelTask(id).catch((thrown: unknown) => setProblem(toReport(thrown)));
  }, [id]);
  return {
    task,
    /** Id of the set that was finished while the page was open. */
    made: live?.state === 'done' ? live.id : null,
    problem,
    start,
    cancel,
  };
}
