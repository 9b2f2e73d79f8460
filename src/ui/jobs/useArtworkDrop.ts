'use client';

import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { toast } from 'sonner';
import type { ErrorReport } from '@/core/units';
import { type TaskView, isFinished } from '@/protocol/tasks';
import { cancelTask, toReport, uploadArtwork } from '../state/api';
import { followTask } from '../state/useTask';

/** The file that is taken in now. */
interface Working {
  readonly fileName: string;
  readonly step: string;
  /** 0..1; null where the step does not know. */
  readonly done: number | null;
  /** Null while the file is being sent. */
  readonly cancel: (() => void) | null;
}

/** What became of a file. */
type Outcome = { readonly jobId: string | null } | { readonly report: ErrorReport };

/** Sends a file and waits until it is a job, or why it is none. */
async function takeIn(file: File, shownName: string, show: (working: Working) => void): Promise<Outcome> {
  const sending = { fileName: shownName, step: 'Sending the file', done: null, cancel: null };
  show(sending);
  try {
    const taskId = await uploadArtwork(file);
    const cancel = () => void cancelTask(taskId).catch(() => undefined);
    const end = await new Promise<TaskView | null>((resolve) =>
      followTask(taskId, (task) => {
        if (!task || isFinished(task.state)) resolve(task);
        else {
          const { step = sending.step, items = [] } = task.progress ?? {};
          show({ fileName: shownName, step, done: items[0]?.done ?? null, cancel });
        }
      }),
    );
    if (end?.state === 'done') return { jobId: end.result?.jobId ?? null };
    if (end?.state === 'cancelled') return { jobId: null };
    return { report: end?.error ?? { code: 'internal', message: 'The artwork could not be read.' } };
  } catch (thrown) {
    return { report: toReport(thrown) };
  }
}

/** What is wrong with some of several files, each by its name. */
function refusalOf(refused: ReadonlyMap<File, ErrorReport>, total: number): ErrorReport | null {
  const [first] = refused.values();
  if (!first || total === 1) return first ?? null;
  const each = [...refused].map(([{ name }, { message }]) => `${name}: ${message}`);
  return {
    code: 'files-refused',
    message: `${refused.size} of ${total} files became no jobs. ${each.join(' ')}`,
    remedy: 'The others are on the desk.',
  };
}

/**
 * Artwork dropped anywhere on a page becomes a new job, and the page goes there when it is ready; several files become several jobs, one after the
 * other, and the page goes to the desk.
 */
export function useArtworkDrop() {
  const router = useRouter();
  const [working, setWorking] = useState<Working | null>(null);
  const [problem, setProblem] = useState<ErrorReport | null>(null);
  /** Files that are not through, the one that is taken in now first. */
  const waiting = useRef<File[]>([]);
  /** Whoever went on to another page stays there. */
  const isHere = useRef(true);
  useEffect(() => {
    isHere.current = true;
    return () => {
      isHere.current = false;
    };
  }, []);

  const takeAll = async () => {
    const refused = new Map<File, ErrorReport>();
    const made: string[] = [];
    let through = 0;
    for (let file = waiting.current[0]; file; file = waiting.current[0]) {
      const total = through + waiting.current.length;
      const name = total > 1 ? `${file.name} (${through + 1} of ${total})` : file.name;
      const outcome = await takeIn(file, name, setWorking);
      if ('report' in outcome) refused.set(file, outcome.report);
      else if (outcome.jobId) made.push(outcome.jobId);
      waiting.current.shift();
      through++;
    }
    setWorking(null);
    setProblem(refusalOf(refused, through));
    if (through > 1 && made.length > 0) toast(`${made.length} new jobs are on the desk`);
    if (!isHere.current) return;
    if (through > 1) router.push('/');
    else if (made[0]) router.push(`/jobs/${made[0]}`);
  };

  const onDrop = (files: File[]) => {
    if (files.length === 0) return;
    setProblem(null);
    const isIdle = waiting.current.length === 0;
    waiting.current.push(...files);
    if (isIdle) void takeAll();
  };

  // Every kind of file is let through: the server judges by what is in it, and says what is wrong.
  const dropzone = useDropzone({ onDrop, noClick: true, noKeyboard: true, multiple: true });
  return { dropzone, working, problem, dismiss: () => setProblem(null) };
}
