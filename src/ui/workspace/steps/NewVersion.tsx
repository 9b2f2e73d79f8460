'use client';

import { FileDiff } from 'lucide-react';
import { useRef } from 'react';
import { uploadRevision } from '../../state/api';
import { useDesk } from '../desk/desk';
import { RevisionProgress } from './RevisionProgress';
import { useRevision } from './useRevision';

/** Takes a revised file in the place of the job's artwork. */
export function NewVersion() {
  const jobId = useDesk((desk) => desk.jobId);
  const whenSaved = useDesk((desk) => desk.whenSaved);
  const revision = useRevision();
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <button
        type="button"
        className="plain-button mt-2"
        disabled={revision.working !== null}
        title="The job keeps its inks, plates and settings; what changed is shown before anything does"
        onClick={() => input.current?.click()}
      >
        <FileDiff aria-hidden className="size-4" /> Revised file…
      </button>
      <input
        ref={input}
        type="file"
        className="hidden"
        aria-label="Revised artwork file"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          // The same file may be chosen once more.
          event.target.value = '';
          if (file) revision.start(async () => uploadRevision(jobId, await whenSaved(), file));
        }}
      />
      <RevisionProgress state={revision} />
    </>
  );
}
