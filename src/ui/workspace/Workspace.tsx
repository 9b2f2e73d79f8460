'use client';

import { Tab, TabGroup, TabList, TabPanel, TabPanels } from '@headlessui/react';
import { CloudOff, LoaderCircle, Redo2, Undo2 } from 'lucide-react';
import Link from 'next/link';
import { useEffect, useMemo, useState } from 'react';
import type { Subject } from '@/browser';
import { reorderPlates } from '@/core/separation';
import type { ErrorReport } from '@/core/units';
import { type TaskView, isFinished } from '@/protocol/tasks';
import { Problem } from '../controls/Problem';
import { Mark } from '../Mark';
import { DropVeil } from '../jobs/JobsScreen';
import { useArtworkDrop } from '../jobs/useArtworkDrop';
import { cancelTask, fetchFilms, startFilms, toReport } from '../state/api';
import { useJob } from '../state/useJob';
import { useStored, useUnit } from '../state/useStored';
import { useTask } from '../state/useTask';
import { ArtworkStep } from './ArtworkStep';
import { FilmStep } from './FilmStep';
import { FitStep } from './FitStep';
import { JobName } from './JobName';
import { PlatesStep } from './PlatesStep';
import { Run } from './Run';
import { Table } from './Table';

const STEPS = ['Artwork', 'Plates', 'Fit', 'Film'] as const;
type Step = (typeof STEPS)[number];

/** The place where a job is worked on: steps, table, sheet and run. */
export function Workspace({ jobId }: { readonly jobId: string }) {
  const state = useJob(jobId);
  const { job, sheet, commit } = state;
  const drop = useArtworkDrop();
  const [step, setStep] = useStored<Step>(`kerameus.step.${jobId}`, 'Artwork', STEPS);
  const [subject, setSubject] = useState<Subject>('print');
  const [selected, setSelected] = useState<string | null>(null);
  const [lifted, setLifted] = useState<readonly string[]>([]);
  const films = useFilms(jobId);

  const undo = () => state.move('undo');
  const redo = () => state.move('redo');
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return;
      if ((event.target as HTMLElement).tagName === 'INPUT') return;
      event.preventDefault();
      state.move(event.shiftKey ? 'redo' : 'undo');
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [state]);

  const plateId = sheet?.plates.some((plate) => plate.id === selected)
    ? selected
    : (sheet?.plates[0]?.id ?? null);
  const shownLifted = useMemo(
    () => lifted.filter((id) => sheet?.plates.some((plate) => plate.id === id)),
    [lifted, sheet],
  );

  if (!job || !sheet) {
    return (
      <div className="p-6">
        <Mark />
        <div className="mt-6 max-w-xl">
          {state.error ? <Problem report={state.error} /> : <p className="caption">Fetching the job …</p>}
          {state.error && (
            <Link href="/" className="plain-button mt-4">
              Back to the jobs
            </Link>
          )}
        </div>
      </div>
    );
  }
  const stepProps = { sheet, artwork: job.artwork, selected: plateId, onSelect: setSelected, commit };
  const working = films.task !== null && !isFinished(films.task.state);
  const make = () => {
    setStep('Film');
    void films.start(job.version);
  };

  return (
    <TabGroup
      as="div"
      selectedIndex={STEPS.indexOf(step)}
      onChange={(index) => setStep(STEPS[index]!)}
      className="flex h-dvh flex-col overflow-hidden"
    >
      <div {...drop.dropzone.getRootProps()} className="flex min-h-0 flex-1 flex-col outline-none">
        <input {...drop.dropzone.getInputProps({ 'aria-label': 'Artwork file' })} />
        <header className="grid h-[46px] shrink-0 grid-cols-[1fr_auto_1fr] items-center gap-3 border-b border-line px-3.5">
          <div className="flex min-w-0 items-center gap-3">
            <Mark />
            <JobName key={sheet.name} name={sheet.name} onChange={(name) => commit({ ...sheet, name })} />
            <SaveState saving={state.saving} error={state.error} />
          </div>
          <TabList className="flex h-full gap-1" aria-label="Steps of the work">
            {STEPS.map((each) => (
              <Tab
                key={each}
                className="h-[46px] border-b-[3px] border-transparent px-4 data-hover:bg-slip-deep data-selected:border-clay data-selected:font-semibold"
              >
                {each}
              </Tab>
            ))}
          </TabList>
          <div className="flex items-center justify-end gap-1.5">
            <UnitSwitch />
            <button
              type="button"
              className="plain-button"
              aria-label="Undo"
              onClick={undo}
              disabled={!job.canUndo}
            >
              <Undo2 aria-hidden className="size-4" />
            </button>
            <button
              type="button"
              className="plain-button"
              aria-label="Redo"
              onClick={redo}
              disabled={!job.canRedo}
            >
              <Redo2 aria-hidden className="size-4" />
            </button>
            <button type="button" className="main-button" onClick={make} disabled={working || state.saving}>
              {working && <LoaderCircle aria-hidden className="size-4 animate-spin" />}
              Make films
            </button>
          </div>
        </header>
        <div className="flex min-h-0 flex-1">
          <main className="flex min-w-0 flex-1 flex-col">
            <Table
              sheet={sheet}
              hasOuterMap={job.artwork.hasOuterMap}
              subject={subject}
              onSubject={setSubject}
              plateId={plateId}
              lifted={shownLifted}
            />
          </main>
          <aside
            aria-label="Sheet of the step"
            className="w-[304px] shrink-0 overflow-y-auto border-l border-line p-4"
          >
            {state.notice && (
              <div className="mb-3">
                <Problem report={{ code: 'notice', message: state.notice }} onDismiss={state.dismiss} />
              </div>
            )}
            {state.error && (
              <div className="mb-3">
                <Problem report={state.error} onDismiss={state.dismiss} />
              </div>
            )}
            {films.problem && (
              <div className="mb-3">
                <Problem report={films.problem} />
              </div>
            )}
            {drop.problem && (
              <div className="mb-3">
                <Problem report={drop.problem} onDismiss={drop.dismiss} />
              </div>
            )}
            {drop.working && (
              <p role="status" className="mb-3 border border-line bg-white p-2">
                {drop.working.step}: {drop.working.fileName}
              </p>
            )}
            <TabPanels>
              <TabPanel tabIndex={-1}>
                <ArtworkStep {...stepProps} />
              </TabPanel>
              <TabPanel tabIndex={-1}>
                <PlatesStep {...stepProps} />
              </TabPanel>
              <TabPanel tabIndex={-1}>
                <FitStep {...stepProps} />
              </TabPanel>
              <TabPanel tabIndex={-1}>
                <FilmStep {...stepProps} films={films.task} version={job.version} onCancel={films.cancel} />
              </TabPanel>
            </TabPanels>
          </aside>
        </div>
        <Run
          sheet={sheet}
          selected={plateId}
          lifted={shownLifted}
          onSelect={setSelected}
          onLift={(id) =>
            setLifted((before) =>
              before.includes(id) ? before.filter((each) => each !== id) : [...before, id],
            )
          }
          onReorder={(ids) => commit(reorderPlates(sheet, ids))}
        />
        {drop.dropzone.isDragActive && <DropVeil />}
      </div>
    </TabGroup>
  );
}

function SaveState({ saving, error }: { readonly saving: boolean; readonly error: ErrorReport | null }) {
  if (error?.code === 'unreachable' || error?.code === 'database-away') {
    return (
      <span role="status" className="caption inline-flex items-center gap-1">
        <CloudOff aria-hidden className="size-3.5" /> waiting for the server
      </span>
    );
  }
  return (
    <span role="status" className="caption" data-testid="save-state">
      {saving ? 'saving' : 'saved'}
    </span>
  );
}

function UnitSwitch() {
  const [unit, setUnit] = useUnit();
  return (
    <button
      type="button"
      className="plain-button w-10 justify-center"
      aria-label={unit === 'in' ? 'Inches; switch to millimetres' : 'Millimetres; switch to inches'}
      onClick={() => setUnit(unit === 'in' ? 'mm' : 'in')}
    >
      {unit}
    </button>
  );
}

/** The newest film set of a job, followed while it is made. */
function useFilms(jobId: string) {
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
  const start = async (version: number) => {
    setProblem(null);
    try {
      setStarted(await startFilms(jobId, version));
    } catch (thrown) {
      setProblem(toReport(thrown));
    }
  };
  const task = live ?? (started && started !== known?.id ? null : known);
  const cancel = () => {
    if (task) cancelTask(task.id).catch((thrown: unknown) => setProblem(toReport(thrown)));
  };
  return { task, problem, start, cancel };
}
