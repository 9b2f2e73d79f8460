'use client';

import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { CircleDashed, RotateCw, Snowflake, X } from 'lucide-react';
import type { Station } from '@/core/sheet';

type Other = Exclude<Station['kind'], 'screen'>;

interface Props {
  readonly id: string;
  readonly station: Station;
  readonly head: number | null;
  readonly folded: boolean;
  readonly onRemove: () => void;
}

const NAMES: Readonly<Record<Other, string>> = {
  flash: 'flash',
  cool: 'cooling',
  empty: 'empty',
  turn: 'next turn',
};

/** A head without a screen: a flash as its glowing lamps, a cooling or an empty head; or where the garment goes round again. */
export function StationCard({ id, station, head, folded, onRemove }: Props) {
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id });
  const kind = station.kind as Other;
  return (
    <li
      ref={setNodeRef}
      data-station
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className="group relative flex w-16 shrink-0 flex-col items-center justify-between"
    >
      <button
        type="button"
        aria-label={`Move ${NAMES[kind]}${head === null ? '' : ` on head ${head}`}`}
        className="grid min-h-0 flex-1 place-items-center"
        {...attributes}
        {...listeners}
      >
        {kind === 'flash' ? (
          <span
            aria-hidden
            className={`lamps block w-5 border border-[#8a5a12] ${folded ? 'h-7' : 'h-[74px]'}`}
          />
        ) : (
          <span
            aria-hidden
            className={`grid w-9 place-items-center border border-dashed border-quiet ${folded ? 'h-7' : 'h-[74px]'}`}
          >
            {kind === 'cool' && <Snowflake className="size-4 text-quiet" />}
            {kind === 'empty' && <CircleDashed className="size-4 text-quiet" />}
            {kind === 'turn' && <RotateCw className="size-4 text-quiet" />}
          </span>
        )}
      </button>
      <span className="caption flex items-center">
        {NAMES[kind]}
        <button type="button" aria-label={`Take ${NAMES[kind]} out`} onClick={onRemove} className="hit">
          <X aria-hidden className="size-3.5" />
        </button>
      </span>
      {!folded && <span className="caption">{head === null ? '' : `head ${head}`}</span>}
    </li>
  );
}
