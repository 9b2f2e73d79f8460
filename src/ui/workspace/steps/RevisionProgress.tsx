'use client';

import { Problem } from '../../controls/Problem';
import { RevisionDialog } from './RevisionDialog';
import type { RevisionState } from './useRevision';

/** What is done just now to another artwork, what went wrong, or what it would change. */
export function RevisionProgress({ state }: { readonly state: RevisionState }) {
  const { working, problem, found, leave } = state;
  return (
    <>
      {working && (
        <div role="status" className="mt-2 flex items-center gap-2">
          <span className="min-w-0 flex-1">
            <span className="block truncate">{working.step} …</span>
            {working.done !== null && (
              <progress className="h-1.5 w-full accent-clay" value={working.done} max={1} />
            )}
          </span>
          {working.cancel && (
            <button type="button" className="plain-button" onClick={working.cancel}>
              Cancel
            </button>
          )}
        </div>
      )}
      {problem && <Problem report={problem} onDismiss={leave} />}
      {found && <RevisionDialog taskId={found.taskId} revision={found.revision} onClose={leave} />}
    </>
  );
}
