'use client';

import type { Subject } from '@/browser';
import { type JobSheet, isSimulated, passes as passesOf } from '@/core/sheet';
import { STEPS, SURROUNDINGS, type ViewState } from '../state/viewState';
import { type KeyAction, useKeys } from './keys';
import type { TableCommands } from './table/Table';

interface Input {
  readonly sheet: JobSheet;
  readonly view: ViewState;
  readonly selected: string | null;
  readonly commands: React.RefObject<TableCommands | null>;
  readonly onView: (change: Partial<ViewState>) => void;
  readonly onComparing: (comparing: boolean) => void;
  readonly onUndo: () => void;
  readonly onRedo: () => void;
  readonly onMake: () => void;
  readonly onHistory: () => void;
  readonly onKeys: () => void;
}

/** The keys of the workspace, and the list of them. */
export function useWorkspaceKeys(input: Input): readonly KeyAction[] {
  const { sheet, view, selected, commands, onView } = input;
  const show = (subject: Subject) => () => onView({ subject });
  const total = passesOf(sheet).length;
  const now = view.passes ?? total;
  const build = (count: number) => onView({ passes: count >= total ? null : Math.max(0, count) });
  const lift = (id: string) =>
    onView({
      lifted: view.lifted.includes(id) ? view.lifted.filter((each) => each !== id) : [...view.lifted, id],
    });
  const others = (kept: readonly string[]) =>
    sheet.plates.map((plate) => plate.id).filter((id) => !kept.includes(id));
  /** Leaves some plates on the table, or lays all down again when that is so already. */
  const keepOnly = (kept: readonly string[]) => {
    const lifted = others(kept);
    const same = lifted.length === view.lifted.length && lifted.every((id) => view.lifted.includes(id));
    onView({ lifted: same ? [] : lifted });
  };
  const base = sheet.plates.find((plate) => plate.role === 'underbase');
  const step = (by: number) => {
    const index = sheet.plates.findIndex((plate) => plate.id === selected);
    const next = sheet.plates[(index + by + sheet.plates.length) % Math.max(1, sheet.plates.length)];
    if (next) onView({ selected: next.id });
  };
  const actions: KeyAction[] = [
    { keys: ['a'], shown: 'A', does: 'artwork', act: show('artwork') },
    { keys: ['p'], shown: 'P', does: 'print on the garment', act: show('print') },
    { keys: ['f'], shown: 'F', does: 'selected plate as film', act: show('film') },
    { keys: ['d'], shown: 'D', does: 'dots', act: show('dots') },
    { keys: ['x'], shown: 'X', does: 'difference from the artwork', act: show('difference') },
    ...(isSimulated(sheet)
      ? [{ keys: ['y'], shown: 'Y', does: 'why the print is off', act: show('reasons') }]
      : []),
    {
      keys: ['w'],
      shown: 'W',
      does: 'wipe on and off',
      act: () => onView({ wipe: view.wipe === null ? 0.5 : null }),
    },
    {
      keys: ['c'],
      shown: 'hold C',
      does: 'compare with the other picture',
      act: () => input.onComparing(true),
      letGo: () => input.onComparing(false),
    },
    {
      keys: ['1', '2', '3', '4', '5', '6', '7', '8', '9'],
      shown: '1 to 9',
      does: 'lift the plate with this number, or lay it down',
      act: (event) => {
        const plate = sheet.plates.find((each) => each.number === Number(event.key));
        if (plate) lift(plate.id);
      },
    },
    { keys: ['s'], shown: 'S', does: 'selected plate alone', act: () => selected && keepOnly([selected]) },
    {
      keys: ['b'],
      shown: 'B',
      does: 'selected plate with its base',
      act: () => selected && keepOnly(base ? [base.id, selected] : [selected]),
    },
    { keys: ['l'], shown: 'L', does: 'lay all plates down', act: () => onView({ lifted: [], passes: null }) },
    { keys: ['j'], shown: 'J', does: 'select the screen before', act: () => step(-1) },
    { keys: ['k'], shown: 'K', does: 'select the next screen', act: () => step(1) },
    { keys: [','], shown: ',', does: 'pallet one screen back', act: () => build(now - 1) },
    { keys: ['.'], shown: '.', does: 'pallet one screen on', act: () => build(now + 1) },
    { keys: ['e'], shown: 'E', does: 'pallet to the end of the run', act: () => onView({ passes: null }) },
    { keys: ['+', '='], shown: '+', does: 'nearer', act: () => commands.current?.zoom(1.25) },
    { keys: ['-'], shown: '−', does: 'farther', act: () => commands.current?.zoom(0.8) },
    { keys: ['0'], shown: '0', does: 'whole print', act: () => commands.current?.fit() },
    { keys: ['q'], shown: 'Q', does: 'actual size', act: () => commands.current?.actualSize() },
    { keys: ['o'], shown: 'O', does: 'actual dots', act: () => commands.current?.actualDots() },
    {
      keys: ['g'],
      shown: 'G',
      does: 'next surround',
      act: () =>
        onView({
          surround: SURROUNDINGS[(SURROUNDINGS.indexOf(view.surround) + 1) % SURROUNDINGS.length]!,
        }),
    },
    {
      keys: ['shift+1', 'shift+2', 'shift+3', 'shift+4', 'shift+5'],
      shown: 'Shift 1 to 5',
      does: 'step of the work: Artwork to Film',
      act: (event) => onView({ step: STEPS[Number(event.code.slice(-1)) - 1]! }),
    },
    { keys: ['r'], shown: 'R', does: 'fold the run', act: () => onView({ folded: !view.folded }) },
    { keys: ['mod+z'], shown: 'Ctrl Z', does: 'undo', act: input.onUndo },
    { keys: ['mod+shift+z', 'mod+y'], shown: 'Ctrl Shift Z', does: 'redo', act: input.onRedo },
    { keys: ['h'], shown: 'H', does: 'history', act: input.onHistory },
    { keys: ['mod+enter'], shown: 'Ctrl Enter', does: 'make films', act: input.onMake },
    { keys: ['?'], shown: '?', does: 'this list', act: input.onKeys },
  ];
  useKeys(actions);
  return actions;
}
