'use client';

import { useEffect, useRef, useState } from 'react';
import type { ErrorReport } from '@/core/units';
import { type RevisionResult, isFinished } from '@/protocol/tasks';
import { cancelTask, toReport } from '../../state/api';
import { followTask } from '../../state/useTask';

/** Another artwork for a job as it comes to be: what is done just now, then what it would change. */
export interface RevisionState {
  readonly working: {
    readonly step: string;
    /** 0..1; null where the step does not know. */
    readonly done: number | null;
    readonly cancel: (() => void) | null;
  } | null;
  readonly problem: ErrorReport | null;
  readonly found: { readonly taskId: string; readonly revision: RevisionResult } | null;
  /** @param begin asks for the work and tells its task. */
  start(begin: () => Promise<string>): void;
  /** Leaves what was found, or the problem. */
  leave(): void;
}

export function useRevision(): RevisionState {
  const [working, setWorking] = useState<RevisionState['working']>(null);
  const [problem, setProblem] = useState<ErrorReport | null>(null);
  const [found, setFound] = useState<RevisionState['found']>(null);
  const following = useRef<(() => void) | null>(null);
  useEffect(() => () => following.current?.(), []);
  const run = async (begin: () => Promise<string>) => {
    setProblem(null);
    setFound(null);
    setWorking({ step: 'Sending', done: null, cancel: null });
    try {
      const taskId = await begin();
      const cancel = () => void cancelTask(taskId).catch(() => undefined);
      following.current = followTask(taskId, (task) => {
        if (task && !isFinished(task.state)) {
          const { step = 'Waiting', items = [] } = task.progress ?? {};
          setWorking({ step, done: items[0]?.done ?? null, cancel });
          return;
        }
        setWorking(null);
        const revision = task?.result?.revision;
        if (task?.state === 'done' && revision) setFound({ taskId, revision });
        else if (task?.state !== 'cancelled') {
          setProblem(task?.error ?? { code: 'internal', message: 'The artwork could not be read.' });
        }
      });
    } catch (thrown) {
      setWorking(null);
      setProblem(toReport(thrown));
    }
  };
  const leave = () => {
    setFound(null);
    setProblem(null);
  };
  return { working, problem, found, start: (begin) => void run(begin), leave };
}
