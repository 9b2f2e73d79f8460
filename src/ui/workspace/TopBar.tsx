'use client';

import { Tab, TabList } from '@headlessui/react';
import { CloudOff, History, Keyboard, LoaderCircle, Redo2, TriangleAlert, Undo2 } from 'lucide-react';
import { type Finding, groupFindings } from '@/core/checks';
import type { ErrorReport } from '@/core/units';
import type { JobView } from '@/protocol/jobs';
import { Mark } from '../Mark';
import type { JobState } from '../state/useJob';
import { useUnit } from '../state/useStored';
import { STEPS } from '../state/viewState';
import { JobName } from './JobName';

interface Props {
  readonly job: JobView;
  readonly state: JobState;
  readonly findings: readonly Finding[];
  readonly working: boolean;
  readonly onRename: (name: string) => void;
  readonly onHistory: () => void;
  readonly onKeys: () => void;
  readonly onMake: () => void;
}

const STEP_NAMES: Readonly<Record<(typeof STEPS)[number], string>> = {
  artwork: 'Artwork',
  plates: 'Plates',
  fit: 'Fit',
  dots: 'Dots',
  film: 'Film',
};

/** The job's name, the steps of the work in order, undo and redo, and making films. */
export function TopBar({ job, state, findings, working, onRename, onHistory, onKeys, onMake }: Props) {
  const name = state.sheet?.name ?? job.sheet.name;
  return (
    <header className="grid h-[46px] shrink-0 grid-cols-[minmax(0,1fr)_auto_minmax(0,1fr)] items-center gap-3 border-b border-line px-3.5">
      <div className="flex min-w-0 items-center gap-3">
        <Mark />
        <JobName key={name} name={name} onChange={onRename} />
        <SaveState saving={state.saving} error={state.error} />
      </div>
      <TabList className="flex h-full" aria-label="Steps of the work">
        {STEPS.map((step) => {
          const severe = groupFindings(findings).filter(
            ({ first }) => first.step === step && first.severity === 'severe',
          ).length;
          return (
            <Tab
              key={step}
              className="flex h-[46px] items-center gap-1 border-b-[3px] border-transparent px-3.5 data-hover:bg-slip-deep data-selected:border-clay data-selected:font-semibold"
            >
              {STEP_NAMES[step]}
              {severe > 0 && (
                <span className="inline-flex items-center gap-0.5 text-clay-deep">
                  <TriangleAlert aria-hidden className="size-3.5" />
                  <span className="text-[11px]">{severe}</span>
                  <span className="sr-only">severe findings</span>
                </span>
              )}
            </Tab>
          );
        })}
      </TabList>
      <div className="flex items-center justify-end gap-1.5">
        <UnitSwitch />
        <button type="button" className="plain-button" aria-label="Keys" title="Keys (?)" onClick={onKeys}>
          <Keyboard aria-hidden className="size-4" />
        </button>
        <button
          type="button"
          className="plain-button"
          aria-label="History"
          title="History (H)"
          onClick={onHistory}
        >
          <History aria-hidden className="size-4" />
        </button>
        <button
          type="button"
          className="plain-button"
          aria-label="Undo"
          onClick={() => state.move('undo')}
          disabled={!job.canUndo}
        >
          <Undo2 aria-hidden className="size-4" />
        </button>
        <button
          type="button"
          className="plain-button"
          aria-label="Redo"
          onClick={() => state.move('redo')}
          disabled={!job.canRedo}
        >
          <Redo2 aria-hidden className="size-4" />
        </button>
        <button type="button" className="main-button" onClick={onMake} disabled={working || state.saving}>
          {working && <LoaderCircle aria-hidden className="size-4 animate-spin" />}
          Make films
        </button>
      </div>
    </header>
  );
}

function SaveState({ saving, error }: { readonly saving: boolean; readonly error: ErrorReport | null }) {
  if (error?.code === 'unreachable' || error?.code === 'database-away') {
    return (
      <span role="status" className="caption inline-flex shrink-0 items-center gap-1">
        <CloudOff aria-hidden className="size-3.5" /> waiting for the server
      </span>
    );
  }
  return (
    <span role="status" className="caption shrink-0" data-testid="save-state">
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
