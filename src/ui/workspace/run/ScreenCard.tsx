'use client';

import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Eye, EyeOff, GripVertical, X } from 'lucide-react';
import { memo } from 'react';
import type { PlateThumb } from '@/core/pipeline';
import type { Plate } from '@/core/sheet';
import { trimNumber } from '@/core/units';
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
  const share = coverage === null ? '' : `${trimNumber(coverage * 100, coverage < 0.095 ? 1 : 0)} %`;
  const grip = (
    <button
      type="button"
      aria-label={`Move ${plate.ink.name} in the print order`}
      className="hit"
      {...attributes}
      {...listeners}
    >
      <GripVertical aria-hidden className="size-4 text-quiet" />
    </button>
  );
  const off = again ? (
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
      aria-label={lifted ? `Put ${plate.ink.name} back on the table` : `Lift ${plate.ink.name} off the table`}
      aria-pressed={lifted}
      onClick={() => props.onLift(plate.id)}
      className="hit"
    >
      {lifted ? <EyeOff aria-hidden className="size-4" /> : <Eye aria-hidden className="size-4 text-quiet" />}
    </button>
  );
  return (
    <li
      ref={setNodeRef}
      data-station
      style={{ transform: CSS.Translate.toString(transform), transition }}
      title={`${plate.ink.name}${head === null ? '' : `, head ${head} of the press`}${again ? ', again' : ''}`}
      className={`relative flex w-[150px] shrink-0 flex-col border-2 bg-white ${selected ? 'border-clay' : 'border-[#8f8f8b]'}`}
    >
      <span
        aria-hidden
        className="h-1.5 shrink-0 border-b border-black/20"
        style={{ background: plate.ink.colour }}
      />
      <div className="flex min-h-0 flex-1 items-center">
        <button
          type="button"
          onClick={() => props.onSelect(plate.id)}
          aria-pressed={selected}
          className={`block min-w-0 flex-1 pl-1 text-left ${lifted ? 'opacity-45' : ''}`}
        >
          <span className="flex items-baseline gap-1">
            <strong className="font-semibold">{plate.number}</strong>
            <span className="truncate">{plate.ink.name}</span>
          </span>
          {!folded && (
            <span className="flex items-center gap-1.5 pb-1">
              <MeshPicture thumb={thumb} colour={plate.ink.colour} />
              <span className="caption text-[11px] leading-[14px] whitespace-nowrap">
                {plate.mesh} mesh
                <br />
                {known ? screen : ''}
                <br />
                {head === null ? share : `h${head}${again ? ' again' : ''}${share && `, ${share}`}`}
              </span>
            </span>
          )}
        </button>
        <span className={folded ? 'flex' : 'flex flex-col'}>
          {grip}
          {off}
        </span>
      </div>
    </li>
  );
});
