'use client';

import { Printer } from 'lucide-react';
import { useState } from 'react';
import type { FilmPrinter } from '@/core/sheet';
import type { ErrorReport } from '@/core/units';
import { isFinished } from '@/protocol/tasks';
import { Problem } from '../../controls/Problem';
import { ChoiceSetting } from '../../controls/Setting';
import { cancelTask, startPrint, toReport } from '../../state/api';
import { useTask } from '../../state/useTask';

interface Props {
  readonly jobId: string;
  /** The films that are done. */
  readonly filmsTaskId: string;
  /** Film printers with an address. */
  readonly printers: readonly FilmPrinter[];
  readonly dpi: number;
}

/** Sends films to a film printer and shows what it says. */
export function FilmPrinting({ jobId, filmsTaskId, printers, dpi }: Props) {
  const fitting = printers.find((each) => each.dpi === dpi) ?? printers[0]!;
  const [chosen, setChosen] = useState(fitting.name);
  const [started, setStarted] = useState<string | null>(null);
  const [problem, setProblem] = useState<ErrorReport | null>(null);
  const task = useTask(started);
  const working = started !== null && (!task || !isFinished(task.state));
  const send = async () => {
    setProblem(null);
    try {
      setStarted(await startPrint(jobId, filmsTaskId, chosen));
    } catch (thrown) {
      setProblem(toReport(thrown));
    }
  };
  const done = task?.progress?.items.filter((item) => item.done === 1).length ?? 0;
  return (
    <section>
      <h2 className="font-semibold">Print the films</h2>
      <ChoiceSetting
        name="On"
        label="Printer for the films"
        value={chosen}
        options={printers.map((each) => ({ value: each.name, label: `${each.name}, ${each.dpi} dpi` }))}
        onChange={setChosen}
      />
      {problem && <Problem report={problem} />}
      {task?.state === 'failed' && task.error && <Problem report={task.error} />}
      {task?.state === 'done' && <p role="status">All films are printed.</p>}
      {task?.state === 'cancelled' && <p role="status">Printing was cancelled; {done} films are printed.</p>}
      {working ? (
        <div className="flex items-center justify-between gap-2" aria-live="polite">
          <p>
            {task?.progress?.step ?? 'Waiting for the worker'}
            {task?.progress ? `: ${done} of ${task.progress.items.length} films` : ''}
          </p>
          <button
            type="button"
            className="plain-button"
            onClick={() => void cancelTask(started).catch((thrown: unknown) => setProblem(toReport(thrown)))}
          >
            Cancel printing
          </button>
        </div>
      ) : (
        <button type="button" className="plain-button" onClick={() => void send()}>
          <Printer aria-hidden className="size-4" /> Send to the printer
        </button>
      )}
    </section>
  );
}
