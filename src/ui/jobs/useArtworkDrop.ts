'use client';

import { useRouter } from 'next/navigation';
import { useCallback, useEffect, useState } from 'react';
import { useDropzone } from 'react-dropzone';
import type { ErrorReport } from '@/core/units';
import { cancelTask, toReport, uploadArtwork } from '../state/api';
import { useTask } from '../state/useTask';

/** Artwork dropped anywhere on a page becomes a new job; the page goes there when it is ready. */
export function useArtworkDrop() {
  const router = useRouter();
  const [taskId, setTaskId] = useState<string | null>(null);
  const [fileName, setFileName] = useState<string | null>(null);
  const [problem, setProblem] = useState<ErrorReport | null>(null);
  const task = useTask(taskId);

  const onDrop = useCallback(async (files: File[]) => {
    const file = files[0];
    if (!file) return;
    setProblem(null);
    setTaskId(null);
    setFileName(file.name);
    try {
      setTaskId(await uploadArtwork(file));
    } catch (thrown) {
      setProblem(toReport(thrown));
      setFileName(null);
    }
  }, []);

  useEffect(() => {
    if (task?.state === 'done' && task.result?.jobId) router.push(`/jobs/${task.result.jobId}`);
  }, [task, router]);

  // Every kind of file is let through: the server judges by what is in it, and says what is wrong.
  const dropzone = useDropzone({
    onDrop: (files) => void onDrop(files),
    noClick: true,
    noKeyboard: true,
    multiple: false,
  });
  const failed: ErrorReport | null =
    task?.state === 'failed'
      ? (task.error ?? { code: 'internal', message: 'The artwork could not be read.' })
      : null;
  const working = fileName !== null && !failed && task?.state !== 'done' && task?.state !== 'cancelled';
  return {
    dropzone,
    working: working
      ? {
          fileName,
          step: task?.progress?.step ?? 'Sending the file',
          /** 0..1; null where the step does not know. */
          done: task?.progress?.items[0]?.done ?? null,
          /** Null while the file is being sent. */
          cancel: taskId === null ? null : () => void cancelTask(taskId).catch(() => undefined),
        }
      : null,
    problem: problem ?? failed,
    dismiss: () => {
      setProblem(null);
      setTaskId(null);
      setFileName(null);
    },
  };
}
