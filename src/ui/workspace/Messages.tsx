'use client';

import type { TaskView } from '@/protocol/tasks';
import { Problem } from '../controls/Problem';
import { ImportProgress } from '../jobs/ImportProgress';
import type { useArtworkDrop } from '../jobs/useArtworkDrop';
import type { toReport } from '../state/api';
import type { JobState } from '../state/useJob';

interface MessagesProps {
  readonly state: JobState;
  readonly refusal: ReturnType<typeof toReport> | null;
  readonly onRefusal: () => void;
  readonly films: { readonly task: TaskView | null; readonly problem: ReturnType<typeof toReport> | null };
  readonly drop: ReturnType<typeof useArtworkDrop>;
}

/** What went wrong, and what is under way. */
export function Messages({ state, refusal, onRefusal, films, drop }: MessagesProps) {
  return (
    <div className="space-y-3 not-empty:mb-3">
      {state.notice && (
        <Problem report={{ code: 'notice', message: state.notice }} onDismiss={state.dismiss} />
      )}
      {state.error && <Problem report={state.error} onDismiss={state.dismiss} />}
      {refusal && <Problem report={refusal} onDismiss={onRefusal} />}
      {films.problem && <Problem report={films.problem} />}
      {drop.problem && <Problem report={drop.problem} onDismiss={drop.dismiss} />}
      <ImportProgress drop={drop} />
    </div>
  );
}
