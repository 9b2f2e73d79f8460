'use client';

import { Download, LoaderCircle } from 'lucide-react';
import Link from 'next/link';
import { useEffect, useState } from 'react';
import type { ErrorReport } from '@/core/units';
import { Problem } from '../controls/Problem';
import { startApproval, toReport } from '../state/api';
import { useTask } from '../state/useTask';

/** The print on a drawn garment, for the customer: a picture, and a page to sign. */
export function Approval({ jobId }: { readonly jobId: string }) {
  const [taskId, setTaskId] = useState<string | null>(null);
  const [problem, setProblem] = useState<ErrorReport | null>(null);
  const task = useTask(taskId);
  useEffect(() => {
    let gone = false;
    startApproval(jobId)
      .then((id) => !gone && setTaskId(id))
      .catch((thrown: unknown) => !gone && setProblem(toReport(thrown)));
    return () => {
      gone = true;
    };
  }, [jobId]);
  const failed = problem ?? (task?.state === 'failed' ? task.error : null);
  return (
    <div className="flex min-h-full flex-col">
      <header className="flex h-[46px] items-center gap-3 border-b border-line px-4">
        <Link href={`/jobs/${jobId}`} className="plain-button">
          Back to the job
        </Link>
        <h1 className="text-base font-semibold">For approval</h1>
        <div className="flex-1" />
        {task?.state === 'done' &&
          task.files.map((file) => (
            <a
              key={file.name}
              href={`/api/tasks/${task.id}/files/${file.name}`}
              download={file.name}
              className="plain-button"
            >
              <Download aria-hidden className="size-4" /> {file.name}
            </a>
          ))}
      </header>
      <main className="grid flex-1 place-items-center p-4">
        {failed && <Problem report={failed} />}
        {!failed && task?.state !== 'done' && (
          <p role="status" className="flex items-center gap-2">
            <LoaderCircle aria-hidden className="size-4 animate-spin" />
            {task?.progress?.step ?? 'Waiting for the worker'}
          </p>
        )}
        {task?.state === 'done' && (
          // eslint-disable-next-line @next/next/no-img-element -- made by our own worker at the right size
          <img
            src={`/api/tasks/${task.id}/files/approval.png`}
            alt="The print on a drawn garment"
            className="max-h-[calc(100dvh-80px)]"
          />
        )}
      </main>
    </div>
  );
}
