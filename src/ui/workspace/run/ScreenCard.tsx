'use client';

import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Eye, EyeOff, GripVertical, X } from 'lucide-react';
import { memo } from 'react';
import type { PlateThumb } from '@/core/pipeline';
import type { Plate } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { Swatch } from '../../controls/Choice';
import { MeshPicture } from './MeshPicture';

interface Props {
  readonly id: string;
  readonly plate: Plate;
  readonly head: number | null;
  readonly folded: boolean;
  readonly thumb: PlateThumb | null;
  /** Share of the print, 0..1. */
  readonly coverage: number | null;
  readonly toned: boolean;
  /** Whether this is not the screen's first pass. */
  readonly again: boolean;
  readonly selected: boolean;
  readonly lifted: boolean;
  /** Place in the run. */
  readonly index: number;
  readonly onSelect: (plateId: string) => void;
  readonly onLift: (plateId: string) => void;
  readonly onRemove: (index: number) => void;
}

/** One screen in the run: its frame, its mesh with the plate, and what is printed on its ticket. */
export const ScreenCard = memo(function ScreenCard(props: Props) {
  const { id, plate, head, folded, thumb, coverage, toned, again, selected, lifted } = props;
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id });
  const { lpi, angleDeg, screening } = plate.screen;
  const dots = screening === 'grid' ? `${trimNumber(lpi, 1)} / ${trimNumber(angleDeg, 1)}°` : 'dispersed';
  // Until the whole print was looked at, nobody knows whether a plate has dots.
  const known = coverage !== null || screening === 'solid';
  const screen = toned && screening !== 'solid' ? dots : 'solid';
  return (
    <li
      ref={setNodeRef}
      data-station
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`relative flex shrink-0 flex-col border-[3px] bg-white ${folded ? 'w-28' : 'w-[124px]'} ${selected ? 'border-clay' : 'border-[#8f8f8b]'}`}
    >
      <span aria-hidden className="h-2 border-b border-black/20" style={{ background: plate.ink.colour }} />
      <button
        type="button"
        onClick={() => props.onSelect(plate.id)}
        aria-pressed={selected}
        className={`block text-left ${lifted ? 'opacity-45' : ''}`}
      >
        {!folded && <MeshPicture thumb={thumb} colour={plate.ink.colour} />}
        <span className="flex items-baseline gap-1.5 px-1.5 pt-0.5">
          <strong className="font-semibold">{plate.number}</strong>
          <span className="truncate">{plate.ink.name}</span>
        </span>
        {!folded && (
          <span className="caption block truncate px-1.5">
            {plate.mesh} mesh{known && ` · ${screen}`}
          </span>
        )}
      </button>
      <span className="flex items-center px-0.5">
        <button
          type="button"
          aria-label={`Move ${plate.ink.name} in the print order`}
          className="hit"
          {...attributes}
          {...listeners}
        >
          <GripVertical aria-hidden className="size-4 text-quiet" />
        </button>
        <span
          className="caption flex-1 truncate"
          title={head === null ? undefined : `Head ${head} of the press`}
        >
          {head === null ? '' : `head ${head}`}
          {again ? ' again' : ''}
          {coverage !== null && !folded ? `, ${trimNumber(coverage * 100, coverage < 0.095 ? 1 : 0)} %` : ''}
        </span>
        {folded && <Swatch colour={plate.ink.colour} />}
        {again ? (
          <button
            type="button"
            aria-label={`Print ${plate.ink.name} one time less`}
            onClick={() => props.onRemove(props.index)}
            className="hit"
          >
            <X aria-hidden className="size-4" />
          </button>
        ) : (
          <button
            type="button"
            aria-label={
              lifted ? `Put ${plate.ink.name} back on the table` : `Lift ${plate.ink.name} off the table`
            }
            aria-pressed={lifted}
            onClick={() => props.onLift(plate.id)}
            className="hit"
          >
            {lifted ? (
              <EyeOff aria-hidden className="size-4" />
            ) : (
              <Eye aria-hidden className="size-4 text-quiet" />
            )}
          </button>
        )}
      </span>
    </li>
  );
});
