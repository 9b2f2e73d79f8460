'use client';

import { FileDiff } from 'lucide-react';
import { FileButton } from '../../controls/FileButton';
import { uploadRevision } from '../../state/api';
import { useDesk } from '../desk/desk';
import { RevisionProgress } from './RevisionProgress';
import { useRevision } from './useRevision';

/** Takes a revised file in the place of the job's artwork. */
export function NewVersion() {
  const jobId = useDesk((desk) => desk.jobId);
  const whenSaved = useDesk((desk) => desk.whenSaved);
  const revision = useRevision();
  return (
    <>
      <FileButton
        label="Revised artwork file"
        title="The job keeps its inks, plates and settings; what changed is shown before anything does"
        className="mt-2"
        disabled={revision.working !== null}
        onFile={(file) => revision.start(async () => uploadRevision(jobId, await whenSaved(), file))}
      >
        <FileDiff aria-hidden className="size-4" /> Revised file…
      </FileButton>
      <RevisionProgress state={revision} />
    </>
  );
}
