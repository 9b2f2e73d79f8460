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
  horizontalListSortingStrategy,
  sortableKeyboardCoordinates,
} from '@dnd-kit/sortable';
import { ChevronDown, ChevronUp } from 'lucide-react';
import { useCallback, useRef } from 'react';
import type { Survey } from '@/core/pipeline';
import { insertStation, moveStation, planPress, removeStation } from '@/core/press';
import type { JobSheet, Station } from '@/core/sheet';
import { renumber } from '@/core/sheet';
import type { ViewState } from '../../state/viewState';
import { GarmentPile } from './GarmentPile';
import { PalletMarker } from './PalletMarker';
import { RunMenu } from './RunMenu';
import { ScreenCard } from './ScreenCard';
import { StationCard } from './StationCard';

interface Props {
  readonly sheet: JobSheet;
  readonly survey: Survey | null;
  readonly view: ViewState;
  readonly selected: string | null;
  readonly onView: (change: Partial<ViewState> | ((view: ViewState) => Partial<ViewState>)) => void;
  readonly onSelect: (plateId: string) => void;
  readonly change: (make: (sheet: JobSheet) => JobSheet) => void;
}

/** The press as a straight line: garment, screens, flashes, empty heads, in the order in which they print. */
export function Run({ sheet, survey, view, selected, onView, onSelect, change }: Props) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const rail = useRef<HTMLOListElement>(null);
  const plan = planPress(sheet);
  const ids = stationIds(sheet.run);
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    change((now) => moveStation(now, ids.indexOf(String(active.id)), ids.indexOf(String(over.id))));
  };
  const lift = useCallback(
    (id: string) =>
      onView(({ lifted }) => ({
        lifted: lifted.includes(id) ? lifted.filter((each) => each !== id) : [...lifted, id],
      })),
    [onView],
  );
  const remove = useCallback((index: number) => change((now) => removeStation(now, index)), [change]);
  const at = sheet.run.findIndex((station) => station.kind === 'screen' && station.plateId === selected);
  const insert = (station: Station) => change((now) => insertStation(now, at, station));
  const { press } = sheet;
  const fits = plan.headsUsed <= press.heads && plan.flashesUsed <= press.flashes;
  return (
    <section aria-label="Run: the screens in print order" className="flex border-t border-line bg-rail">
      <div className="relative flex min-w-0 flex-1 items-start gap-3 overflow-x-auto overflow-y-hidden px-3 pb-1.5">
        <GarmentPile
          sheet={sheet}
          shown={view.shownGarment}
          folded={view.folded}
          onShow={(shownGarment) => onView({ shownGarment })}
          change={change}
        />
        <div className="relative min-w-0">
          <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
            <SortableContext items={ids} strategy={horizontalListSortingStrategy}>
              <ol ref={rail} className="relative flex items-stretch gap-1.5 pt-6" aria-label="Screens">
                {sheet.run.map((station, index) => {
                  const { head, again } = plan.places[index]!;
                  const common = { id: ids[index]!, head, folded: view.folded };
                  if (station.kind !== 'screen') {
                    return (
                      <StationCard
                        key={ids[index]}
                        {...common}
                        station={station}
                        onRemove={() => remove(index)}
                      />
                    );
                  }
                  const k = sheet.plates.findIndex((each) => each.id === station.plateId);
                  const plate = sheet.plates[k]!;
                  return (
                    <ScreenCard
                      key={ids[index]}
                      {...common}
                      plate={plate}
                      thumb={survey?.thumbs[k] ?? null}
                      coverage={survey?.plates[k]?.coverage ?? null}
                      toned={(survey?.plates[k]?.toned ?? 0) > 0}
                      again={
                        again ||
                        sheet.run.findIndex((each) => each.kind === 'screen' && each.plateId === plate.id) <
                          index
                      }
                      selected={plate.id === selected}
                      lifted={view.lifted.includes(plate.id)}
                      index={index}
                      onSelect={onSelect}
                      onLift={lift}
                      onRemove={remove}
                    />
                  );
                })}
              </ol>
            </SortableContext>
          </DndContext>
          <PalletMarker
            rail={rail}
            run={sheet.run}
            folded={view.folded}
            passes={view.passes}
            onMove={(passes) => onView({ passes })}
          />
        </div>
        {sheet.run.length === 0 && <p className="self-center text-quiet">No plates: nothing would print.</p>}
      </div>
      <div className="flex w-[124px] shrink-0 flex-col items-stretch justify-center gap-1 border-l border-line px-2 py-1">
        {!view.folded && (
          <span
            className={`text-[11px] leading-[14px] ${fits ? 'text-quiet' : 'font-semibold text-clay-deep'}`}
          >
            {press.name}: {plan.headsUsed} of {press.heads} heads, {plan.flashesUsed} of {press.flashes}{' '}
            flashes
            {plan.turns > 1 ? `, ${plan.turns} turns` : ''}
            {fits ? '' : ' · the run does not fit'}
          </span>
        )}
        <div className="flex gap-1">
          <RunMenu
            onInsert={insert}
            onAgain={selected ? () => insert({ kind: 'screen', plateId: selected }) : null}
            onRenumber={() => change(renumber)}
          />
          <button
            type="button"
            className="plain-button px-1.5 py-0.5"
            aria-expanded={!view.folded}
            aria-label={view.folded ? 'Unfold' : 'Fold'}
            title={view.folded ? 'Unfold the run' : 'Fold the run'}
            onClick={() => onView({ folded: !view.folded })}
          >
            {view.folded ? (
              <ChevronUp aria-hidden className="size-4" />
            ) : (
              <ChevronDown aria-hidden className="size-4" />
            )}
          </button>
        </div>
      </div>
    </section>
  );
}

/** A name for each station that stays while others move: what it is, and the how-manieth of its kind. */
function stationIds(run: readonly Station[]): string[] {
  const seen = new Map<string, number>();
  return run.map((station) => {
    const name = station.kind === 'screen' ? `screen-${station.plateId}` : station.kind;
    const count = (seen.get(name) ?? 0) + 1;
    seen.set(name, count);
    return `${name}-${count}`;
  });
}
