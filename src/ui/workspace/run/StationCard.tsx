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
      title={`${NAMES[kind]}${head === null ? '' : `, head ${head} of the press`}`}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className="group relative flex w-12 shrink-0 flex-col items-center justify-between"
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
            className={`lamps block border border-[#8a5a12] ${folded ? 'h-4 w-8' : 'h-[26px] w-5'}`}
          />
        ) : (
          <span
            aria-hidden
            className={`grid w-8 place-items-center border border-dashed border-quiet ${folded ? 'h-4' : 'h-[26px]'}`}
          >
            {kind === 'cool' && <Snowflake className="size-4 text-quiet" />}
            {kind === 'empty' && <CircleDashed className="size-4 text-quiet" />}
            {kind === 'turn' && <RotateCw className="size-4 text-quiet" />}
          </span>
        )}
      </button>
      {!folded && (
        <>
          <span className="caption text-[11px] leading-[13px] whitespace-nowrap">{NAMES[kind]}</span>
          <button type="button" aria-label={`Take ${NAMES[kind]} out`} onClick={onRemove} className="hit">
            <X aria-hidden className="size-3.5" />
          </button>
        </>
      )}
    </li>
  );
}
