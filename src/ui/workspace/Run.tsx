'use client';

import {
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  closestCenter,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import {
  SortableContext,
  arrayMove,
  horizontalListSortingStrategy,
  sortableKeyboardCoordinates,
  useSortable,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Eye, EyeOff, GripVertical } from 'lucide-react';
import type { JobSheet, Plate } from '@/core/sheet';
import { Swatch } from '../controls/Choice';

interface Props {
  readonly sheet: JobSheet;
  readonly selected: string | null;
  readonly lifted: readonly string[];
  readonly onSelect: (id: string) => void;
  readonly onLift: (id: string) => void;
  readonly onReorder: (ids: string[]) => void;
}

const ROLES = { underbase: 'underbase', colour: 'ink', highlight: 'highlight' } as const;

/** The screens in print order, along the press. */
export function Run({ sheet, selected, lifted, onSelect, onLift, onReorder }: Props) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const ids = sheet.plates.map((plate) => plate.id);
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    onReorder(arrayMove(ids, ids.indexOf(String(active.id)), ids.indexOf(String(over.id))));
  };
  return (
    <section aria-label="Run: the screens in print order" className="border-t border-line bg-rail">
      <div className="relative flex items-center gap-2.5 overflow-x-auto px-3.5 py-3">
        <div
          aria-hidden
          className="pointer-events-none absolute inset-x-0 top-1/2 h-1.5 -translate-y-1/2 border-y border-black/15"
        />
        <div className="relative w-20 shrink-0">
          <div className="h-14 border border-black/40" style={{ background: sheet.garment.colour }} />
          <p className="mt-1 truncate text-xs">{sheet.garment.name}</p>
        </div>
        <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
          <SortableContext items={ids} strategy={horizontalListSortingStrategy}>
            <ol className="flex gap-2.5" aria-label="Screens">
              {sheet.plates.map((plate, index) => (
                <Screen
                  key={plate.id}
                  plate={plate}
                  number={index + 1}
                  selected={plate.id === selected}
                  lifted={lifted.includes(plate.id)}
                  onSelect={() => onSelect(plate.id)}
                  onLift={() => onLift(plate.id)}
                />
              ))}
            </ol>
          </SortableContext>
        </DndContext>
        {sheet.plates.length === 0 && (
          <p className="relative bg-rail px-2 text-quiet">No plates: nothing would print.</p>
        )}
      </div>
    </section>
  );
}

interface ScreenProps {
  readonly plate: Plate;
  readonly number: number;
  readonly selected: boolean;
  readonly lifted: boolean;
  readonly onSelect: () => void;
  readonly onLift: () => void;
}

function Screen({ plate, number, selected, lifted, onSelect, onLift }: ScreenProps) {
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id: plate.id });
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`relative flex w-36 shrink-0 flex-col border-[3px] bg-white ${selected ? 'border-clay' : 'border-[#8f8f8b]'} ${lifted ? 'opacity-55' : ''}`}
    >
      <span aria-hidden className="h-2 border-b border-black/20" style={{ background: plate.ink.colour }} />
      <button type="button" onClick={onSelect} aria-pressed={selected} className="px-2 pt-1 text-left">
        <span className="flex items-baseline gap-1.5">
          <strong className="font-semibold">{number}</strong>
          <span className="truncate">{plate.ink.name}</span>
        </span>
        <span className="caption block truncate">
          {plate.mesh} mesh · {ROLES[plate.role]}
        </span>
      </button>
      <span className="flex items-center justify-between px-1 pb-1">
        <button
          type="button"
          aria-label={`Move ${plate.ink.name} in the print order`}
          className="rounded-[2px] p-0.5 hover:bg-slip-deep"
          {...attributes}
          {...listeners}
        >
          <GripVertical aria-hidden className="size-4 text-quiet" />
        </button>
        <Swatch colour={plate.ink.colour} />
        <button
          type="button"
          aria-label={
            lifted ? `Put ${plate.ink.name} back on the table` : `Lift ${plate.ink.name} off the table`
          }
          aria-pressed={lifted}
          onClick={onLift}
          className="rounded-[2px] p-0.5 hover:bg-slip-deep"
        >
          {lifted ? (
            <EyeOff aria-hidden className="size-4" />
          ) : (
            <Eye aria-hidden className="size-4 text-quiet" />
          )}
        </button>
      </span>
    </li>
  );
}
