'use client';

import { type ReactNode, createContext, useContext, useEffect, useLayoutEffect, useState } from 'react';
import { type StoreApi, createStore, useStore } from 'zustand';
import type { TablePool } from '@/browser';
import type { Finding, Step } from '@/core/checks';
import type { ScreenShifts, Survey } from '@/core/pipeline';
import type { JobSheet, Plate, Stock } from '@/core/sheet';
import type { ArtworkView } from '@/protocol/jobs';
import type { TaskView } from '@/protocol/tasks';
import type { TablePoint } from '../table/Table';
import type { CheckState } from '../table/usePool';

/** What a click on the table picks: a colour wherever it stands, only the area of it that is clicked on, or a corner of the part of the artwork that prints, or of a patch. */
/** `here` and `everywhere` pick a flat colour, `keep` one that is kept solid; the others outline a place: `within-` where the kept colour of an id counts. */
export type Picking = 'everywhere' | 'here' | 'keep' | Outlining;
export type Outlining = 'part' | 'patch' | `within-${string}`;

/** Whether corners are clicked. */
export function isOutlining(picking: Picking | null): picking is Outlining {
  return picking === 'part' || picking === 'patch' || (picking?.startsWith('within-') ?? false);
}

/** A change of a sheet, made from the newest one. */
export type Change = (sheet: JobSheet) => JobSheet;

/** What the parts of the desk know of the job, and what they may do. */
export interface DeskState {
  readonly jobId: string;
  readonly pool: TablePool;
  readonly sheet: JobSheet;
  readonly artwork: ArtworkView;
  readonly stock: Stock;
  readonly survey: Survey | null;
  readonly check: CheckState;
  readonly findings: Readonly<Record<Step, readonly Finding[]>>;
  readonly selected: string | null;
  /** Null: a click on the table picks nothing of the artwork. */
  readonly picking: Picking | null;
  /** Corners that were clicked so far. */
  readonly corners: readonly TablePoint[];
  /** The newest film set. */
  readonly films: TaskView | null;
  /** Takes a change over as a version of its own. */
  readonly change: (make: Change) => void;
  /** The version in force once everything is saved. */
  readonly whenSaved: () => Promise<number>;
  /** Makes the sheet that a revision of the artwork comes to the job's; one step of undo takes it back. */
  readonly takeRevision: (sheet: JobSheet) => void;
  readonly saveStock: (stock: Stock) => void;
  readonly select: (plateId: string) => void;
  readonly goTo: (finding: Finding) => void;
  /** Screens that lie off on the table: nothing of the job. */
  readonly shifts: ScreenShifts;
  readonly setShifts: (shifts: ScreenShifts) => void;
  readonly pick: (picking: Picking | null) => void;
  readonly dropCorner: () => void;
  /** How close colours must be where a click outlines an area of one colour; null: a click is a corner. */
  readonly area: number | null;
  readonly setArea: (closeness: number | null) => void;
  /** Makes an ellipse of the rectangle between the first two corners. */
  readonly roundCorners: () => void;
  /** Makes the corners the outline of what prints, or of a patch of the plate that is worked on. */
  readonly takeCorners: () => void;
  readonly cancelFilms: () => void;
  /** Makes the film of one plate again. */
  readonly remake: (plateId: string) => void;
}

interface Store extends DeskState {
  /** What a hand that has not let go yet makes of the sheet; the table shows it. */
  readonly held: Change | null;
  /** Shows a change on the table alone; null lays it down again. */
  readonly hold: (make: Change | null) => void;
  /** What a drag on the table moves in the place of the table; null: the table itself. */
  readonly grip: Grip | null;
  readonly setGrip: (grip: Grip | null) => void;
}

/** Something of the job that a hand moves on the table; how far from where it was taken, in mm of the print. */
export interface Grip {
  /** As a sentence says it. */
  readonly what: string;
  move(dxMm: number, dyMm: number): void;
  drop(dxMm: number, dyMm: number): void;
}

const DeskContext = createContext<StoreApi<Store> | null>(null);

export function DeskProvider({
  state,
  children,
}: {
  readonly state: DeskState;
  readonly children: ReactNode;
}) {
  const [store] = useState(() =>
    createStore<Store>((set) => ({
      ...state,
      held: null,
      hold: (held) => set({ held }),
      grip: null,
      setGrip: (grip) => set({ grip }),
    })),
  );
  useLayoutEffect(() => store.setState(state), [store, state]);
  return <DeskContext value={store}>{children}</DeskContext>;
}

/** A part of the desk's state: whoever asks is drawn again when that part is another, and only then. */
export function useDesk<T>(select: (state: Store) => T): T {
  const store = useContext(DeskContext);
  if (!store) throw new Error('useDesk stands outside of the desk');
  return useStore(store, select);
}

export const useSheet = (): JobSheet => useDesk(({ sheet }) => sheet);

/** The plate that is worked on; null where there is none. */
export const usePlate = (): Plate | null => useDesk(plateOf);

/** The same of a desk's state. */
export function plateOf({ sheet, selected }: Pick<DeskState, 'sheet' | 'selected'>): Plate | null {
  return sheet.plates.find(({ id }) => id === selected) ?? null;
}

/**
 * A value of the sheet that a hand holds for a while: the table shows what it comes to, and it is one version when the hand lets go.
 *
 * @param apply the sheet with another value.
 */
export function useDraft<T>(settled: T, apply: (sheet: JobSheet, value: T) => JobSheet) {
  const hold = useDesk((desk) => desk.hold);
  const change = useDesk((desk) => desk.change);
  const [held, setHeld] = useState<{ readonly value: T } | null>(null);
  // What disappears while it is held, as with another plate chosen by a key, leaves nothing of it on the table.
  const isHeld = held !== null;
  useEffect(() => (isHeld ? () => hold(null) : undefined), [isHeld, hold]);
  const drop = () => {
    setHeld(null);
    hold(null);
  };
  return {
    shown: held ? held.value : settled,
    isHeld,
    hold: (value: T) => {
      setHeld({ value });
      hold((sheet) => apply(sheet, value));
    },
    take: (value: T) => {
      drop();
      if (JSON.stringify(value) !== JSON.stringify(settled)) change((sheet) => apply(sheet, value));
    },
    drop,
  };
}
