'use client';

import { TabGroup, TabPanel, TabPanels } from '@headlessui/react';
import Link from 'next/link';
import {
  useCallback,
  useEffect,
  useMemo,
  useLayoutEffect,
  useRef,
  useState,
  useSyncExternalStore,
} from 'react';
import { toast } from 'sonner';
import type { TablePool } from '@/browser';
import { ellipseBetween } from '@/core/geometry';
import type { Finding, Step } from '@/core/checks';
import { changeKept } from '@/core/separation';
import {
  type JobSheet,
  MOST_CORNERS,
  addPatch,
  firstPasses,
  garmentOf,
  keptOf,
  otherGarments,
  paletteOf,
  withMask,
} from '@/core/sheet';
import { KerameusError } from '@/core/units';
import type { JobView } from '@/protocol/jobs';
import { isFinished } from '@/protocol/tasks';
import { Problem } from '../controls/Problem';
import { Mark } from '../Mark';
import { DropVeil } from '../jobs/DropVeil';
import { useArtworkDrop } from '../jobs/useArtworkDrop';
import { fetchVersion, toReport } from '../state/api';
import { useFilms } from '../state/useFilms';
import { type JobState, useJob } from '../state/useJob';
import { useStock } from '../state/useStock';
import { STEPS, type ViewState, useViewState } from '../state/viewState';
import { DeskTable } from './desk/DeskTable';
import { DeskProvider, type DeskState, type Picking, isOutlining } from './desk/desk';
import { StepPanel } from './desk/StepPanel';
import { HistoryPanel } from './HistoryPanel';
import { KeyList } from './KeyList';
import { Messages } from './Messages';
import { TopBar } from './TopBar';
import { pickAt } from './pickAt';
import { Run } from './run/Run';
import { Readings } from './table/Readings';
import type { TableCommands, TablePoint } from './table/Table';
import { usePinned, usePool, useReading, useSurvey } from './table/usePool';
import { useFindings } from './useFindings';
import { useWorkspaceKeys } from './useWorkspaceKeys';

interface WorkspaceProps {
  readonly jobId: string;
  /** The job as it came with the page. */
  readonly initial: JobView | null;
}

function tooFine(corners: number): KerameusError {
  return new KerameusError({
    code: 'outline-fine',
    message: `The area of like colours has ${corners} corners, of which an outline has ${MOST_CORNERS} at most.`,
    remedy: 'Let colours be alike within less or more, or click its corners.',
  });
}

const never = () => () => undefined;

/** The place where a job is worked on: steps, table, sheet and run. */
export function Workspace({ jobId, initial }: WorkspaceProps) {
  const state = useJob(jobId, initial);
  const pool = usePool();
  // The desk is the browser's alone: it depends on what is kept there, and on the workers.
  const inBrowser = useSyncExternalStore(
    never,
    () => true,
    () => false,
  );
  if (inBrowser && state.job && state.artwork && state.sheet)
    return <Desk jobId={jobId} state={state} sheet={state.sheet} pool={pool} />;
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

interface DeskProps {
  readonly jobId: string;
  readonly state: JobState;
  readonly sheet: JobSheet;
  readonly pool: TablePool;
}

function Desk({ jobId, state, sheet: current, pool }: DeskProps) {
  const job = state.job!;
  const artwork = state.artwork!;
  const [view, keepView] = useViewState(jobId);
  const { stock, save: saveStock } = useStock();
  const drop = useArtworkDrop();
  const films = useFilms(jobId);
  const commands = useRef<TableCommands | null>(null);
  const [point, setPoint] = useState<TablePoint | null>(null);
  const [comparing, setComparing] = useState(false);
  const [picking, setPicking] = useState<Picking | null>(null);
  const [corners, setCorners] = useState<readonly TablePoint[]>([]);
  const [area, setArea] = useState<number | null>(null);
  const startPicking = useCallback((next: Picking | null) => {
    setCorners([]);
    setPicking(next);
  }, []);
  const [historyOpen, setHistoryOpen] = useState(false);
  const [keysOpen, setKeysOpen] = useState(false);
  const [looked, setLooked] = useState<{ readonly number: number; readonly sheet: JobSheet } | null>(null);
  const [refusal, setRefusal] = useState<ReturnType<typeof toReport> | null>(null);

  const sheet = looked?.sheet ?? current;
  const { hasOuterMap } = artwork;
  // Handlers read the newest state from here, so that they stay the same while it changes, and so does what they are given to.
  const now = useRef({ view, sheet, looked });
  useLayoutEffect(() => {
    now.current = { view, sheet, looked };
  });
  const { commit: keepSheet } = state;
  const commit = useCallback(
    (next: JobSheet) => {
      // An older state is only looked at; what is changed is the one in force.
      if (now.current.looked) return;
      commands.current?.anticipate({ sheet: next });
      // The next change may come before the page has taken this one in.
      now.current = { ...now.current, sheet: next };
      keepSheet(next);
    },
    [keepSheet],
  );
  const change = useCallback(
    (make: (sheet: JobSheet) => JobSheet) => {
      try {
        commit(make(now.current.sheet));
      } catch (thrown) {
        // What a job has no room for is said where it was asked for, and the job stays as it is.
        if (!(thrown instanceof KerameusError)) throw thrown;
        setRefusal(toReport(thrown));
      }
    },
    [commit],
  );
  const setView = useCallback(
    (part: Partial<ViewState> | ((view: ViewState) => Partial<ViewState>)) => {
      const { view: before, sheet: shown } = now.current;
      const given = typeof part === 'function' ? part(before) : part;
      const next = fitView({ ...before, ...given }, shown);
      // An outline belongs to its step.
      if (next.step !== before.step) startPicking(null);
      if (next.shownGarment === before.shownGarment) {
        commands.current?.anticipate({ view: next, plateId: selectedOf(shown, next.selected) });
      }
      keepView(given);
    },
    [keepView, startPicking],
  );
  const selected = selectedOf(sheet, view.selected);
  const shownView = useMemo(() => fitView(view, sheet), [view, sheet]);
  const worn = sheet.garments.find(({ id }) => id === shownView.shownGarment) ?? garmentOf(sheet);

  const { survey, check } = useSurvey(pool, sheet, hasOuterMap);
  const findings = useFindings(sheet, survey, artwork.notes);
  const live = useReading(pool, sheet, worn, hasOuterMap, point);
  const pinned = usePinned(pool, sheet, worn, hasOuterMap, view.pins);
  const working = films.task !== null && !isFinished(films.task.state);

  const make = () => {
    setView({ step: 'film' });
    void state.whenSaved().then((version) => films.start(version));
  };
  const goTo = useCallback(
    (finding: Finding) => {
      setView({
        step: finding.step,
        ...(finding.plateId ? { selected: finding.plateId } : {}),
        ...(finding.plateId && !finding.place ? { subject: 'film' as const } : {}),
      });
      if (finding.place) commands.current?.goTo(finding.place, finding.close);
    },
    [setView],
  );
  /** The corners of the area of like colours round a place. */
  const outlineArea = async (at: TablePoint, closeness: number) => {
    try {
      const outline = await pool.area({ sheet, hasOuterMap, ...at, closeness });
      if (outline && outline.length > MOST_CORNERS) throw tooFine(outline.length);
      const { widthMm, heightMm } = sheet.print;
      setCorners((outline ?? []).map(([x, y]) => ({ xMm: x * widthMm, yMm: y * heightMm })));
    } catch (thrown) {
      setRefusal(toReport(thrown));
    }
  };
  const pick = async (at: TablePoint) => {
    if (!picking) {
      setView({ pins: [...view.pins, at].slice(-5) });
      return;
    }
    if (isOutlining(picking)) {
      if (area === null) setCorners((before) => [...before, at]);
      else await outlineArea(at, area);
      return;
    }
    setPicking(null);
    try {
      const next = await pickAt(pool, sheet, hasOuterMap, at, picking);
      commit(next);
      if (picking === 'keep') setView({ selected: keptOf(next).at(-1)!.plateId, step: 'plates' });
      else setView({ selected: paletteOf(next).at(-1)!.plateId, subject: 'film', step: 'plates' });
    } catch (thrown) {
      setRefusal(toReport(thrown));
    }
  };
  const look = async (number: number) => {
    try {
      setLooked({ number, sheet: await fetchVersion(jobId, number) });
      setHistoryOpen(false);
    } catch (thrown) {
      setRefusal(toReport(thrown));
    }
  };
  const returnTo = (number: number) => {
    setLooked(null);
    setHistoryOpen(false);
    state.move(number);
  };
  const keys = useWorkspaceKeys({
    sheet,
    view: shownView,
    selected,
    commands,
    onView: setView,
    onComparing: setComparing,
    onUndo: () => state.move('undo'),
    onRedo: () => state.move('redo'),
    onMake: make,
    onHistory: () => setHistoryOpen(true),
    onKeys: () => setKeysOpen(true),
  });
  const findingsBy = useMemo(() => {
    const by: Readonly<Record<Step, Finding[]>> = { artwork: [], plates: [], fit: [], dots: [], film: [] };
    for (const finding of findings) by[finding.step].push(finding);
    return by;
  }, [findings]);
  const select = useCallback((id: string) => setView({ selected: id }), [setView]);
  const { made } = films;
  useEffect(() => {
    // In the Film step they are seen.
    if (!made || now.current.view.step === 'film') return;
    toast('The films are made', { action: { label: 'Show them', onClick: () => setView({ step: 'film' }) } });
  }, [made, setView]);
  // A step begins at its top, wherever the one before it was left.
  const panel = useRef<HTMLElement>(null);
  useLayoutEffect(() => {
    panel.current?.scrollTo({ top: 0 });
  }, [view.step]);
  const { whenSaved } = state;
  const { start, cancel } = films;
  const remake = useCallback(
    (plateId: string) => void whenSaved().then((saved) => start(saved, plateId)),
    [whenSaved, start],
  );
  const dropCorner = useCallback(() => setCorners((before) => before.slice(0, -1)), []);
  const roundCorners = useCallback(
    () =>
      setCorners((before) => {
        const [one, other] = before;
        if (!one || !other) return before;
        const round = ellipseBetween([one.xMm, one.yMm], [other.xMm, other.yMm]);
        return round.map(([xMm, yMm]) => ({ xMm, yMm }));
      }),
    [],
  );
  const takeCorners = useCallback(() => {
    const { widthMm, heightMm } = now.current.sheet.print;
    const outline = corners.map(({ xMm, yMm }): [number, number] => [xMm / widthMm, yMm / heightMm]);
    startPicking(null);
    if (picking === 'patch' && selected) change((latest) => addPatch(latest, selected, outline));
    else if (picking?.startsWith('within-')) {
      const id = picking.slice('within-'.length);
      change((latest) => changeKept(latest, id, { within: outline }));
    } else change((latest) => withMask(latest, outline));
  }, [corners, picking, selected, change, startPicking]);
  const desk: DeskState = {
    jobId,
    pool,
    sheet,
    artwork,
    stock,
    survey,
    check,
    findings: findingsBy,
    selected,
    picking,
    films: films.task,
    change,
    whenSaved,
    takeRevision: keepSheet,
    saveStock,
    select,
    goTo,
    shifts: view.shifts,
    setShifts: (shifts) => setView({ shifts }),
    pick: startPicking,
    corners,
    dropCorner,
    area,
    setArea,
    roundCorners,
    takeCorners,
    cancelFilms: cancel,
    remake,
  };

  return (
    <DeskProvider state={desk}>
      <TabGroup
        as="div"
        selectedIndex={STEPS.indexOf(view.step)}
        onChange={(index) => setView({ step: STEPS[index]! })}
        className="flex h-dvh min-h-[560px] min-w-[960px] flex-col overflow-hidden"
      >
        <div {...drop.dropzone.getRootProps()} className="flex min-h-0 flex-1 flex-col outline-none">
          <input {...drop.dropzone.getInputProps({ 'aria-label': 'Artwork file' })} />
          <TopBar
            job={job}
            state={state}
            findings={findings}
            working={working}
            onRename={(name) => change((latest) => ({ ...latest, name }))}
            onHistory={() => setHistoryOpen(true)}
            onKeys={() => setKeysOpen(true)}
            onMake={make}
          />
          <div className="flex min-h-0 flex-1">
            <main className="flex min-w-0 flex-1 flex-col">
              <DeskTable
                pool={pool}
                sheet={sheet}
                garment={worn}
                hasOuterMap={hasOuterMap}
                plateId={selected}
                view={shownView}
                onView={setView}
                comparing={comparing}
                onPoint={setPoint}
                onPick={(at) => void pick(at)}
                commands={commands}
                pins={view.pins}
                corners={isOutlining(picking) ? corners : null}
                onClose={corners.length < 3 ? null : takeCorners}
                passesTotal={sheet.run.filter((station) => station.kind === 'screen').length}
              />
              <Readings
                sheet={sheet}
                live={live}
                pinned={pinned}
                onUnpin={(index) => setView({ pins: view.pins.filter((_, k) => k !== index) })}
              />
            </main>
            <aside
              ref={panel}
              aria-label="Sheet of the step"
              className="w-[304px] shrink-0 overflow-y-auto border-l border-line p-4 has-data-stays:scroll-pt-56"
            >
              <Messages
                state={state}
                refusal={refusal}
                onRefusal={() => setRefusal(null)}
                films={films}
                drop={drop}
              />
              {looked && (
                <div role="status" className="mb-3 border border-ink bg-white p-2">
                  <p>Looking at version {looked.number}; changes are not taken here.</p>
                  <div className="mt-2 flex gap-2">
                    <button type="button" className="plain-button" onClick={() => setLooked(null)}>
                      Back to now
                    </button>
                    <button type="button" className="plain-button" onClick={() => returnTo(looked.number)}>
                      Go back to it
                    </button>
                  </div>
                </div>
              )}
              <TabPanels>
                {STEPS.map((step) => (
                  <TabPanel key={step} tabIndex={-1}>
                    <StepPanel step={step} />
                  </TabPanel>
                ))}
              </TabPanels>
            </aside>
          </div>
          <Run
            sheet={sheet}
            survey={survey}
            view={shownView}
            selected={selected}
            onView={setView}
            onSelect={select}
            change={change}
          />
          {drop.dropzone.isDragActive && <DropVeil />}
        </div>
        <HistoryPanel
          open={historyOpen}
          jobId={jobId}
          version={job.version}
          onClose={() => setHistoryOpen(false)}
          onLook={(number) => void look(number)}
          onReturn={returnTo}
        />
        <KeyList open={keysOpen} actions={keys} onClose={() => setKeysOpen(false)} />
      </TabGroup>
    </DeskProvider>
  );
}

function selectedOf(sheet: JobSheet, plateId: string | null): string | null {
  return sheet.plates.some((plate) => plate.id === plateId) ? plateId : (sheet.plates[0]?.id ?? null);
}

/** A remembered view without what the job no longer has. */
function fitView(view: ViewState, sheet: JobSheet): ViewState {
  const known = new Set(firstPasses(sheet.run));
  const total = sheet.run.filter((station) => station.kind === 'screen').length;
  return {
    ...view,
    lifted: view.lifted.filter((id) => known.has(id)),
    shifts: Object.fromEntries(Object.entries(view.shifts).filter(([id]) => known.has(id))),
    passes: view.passes !== null && view.passes >= total ? null : view.passes,
    shownGarment: otherGarments(sheet).some(({ id }) => id === view.shownGarment) ? view.shownGarment : null,
  };
}
