'use client';

import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { Download, Minus, Plus, X } from 'lucide-react';
import { useRef, useState } from 'react';
import type { CarriedOver } from '@/core/separation';
import { artworkOf } from '@/core/sheet';
import { trimNumber } from '@/core/units';
import { type ChangedView, changedViews } from './changedViews';
import { type CleaningNotes, REVISION_FILES, type RevisionResult } from '@/protocol/tasks';
import { Swatch } from '../../controls/Choice';
import { taskFile } from '../../state/api';
import { useDesk } from '../desk/desk';
import { WipeBar } from '../table/WipeBar';

interface Props {
  readonly taskId: string;
  readonly revision: RevisionResult;
  readonly onClose: () => void;
}

/** Both artworks over each other, what became of the settings, and the choice. */
export function RevisionDialog({ taskId, revision, onClose }: Props) {
  const takeRevision = useDesk((desk) => desk.takeRevision);
  const { cleaning, carried, share } = revision;
  const { fileName } = artworkOf(revision.sheet);
  const take = () => {
    takeRevision(revision.sheet);
    onClose();
  };
  return (
    <Dialog open onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 bg-ink/30" aria-hidden />
      <div className="fixed inset-0 grid place-items-center p-4">
        <DialogPanel className="flex h-full max-h-[760px] w-[1120px] max-w-full flex-col border border-quiet bg-white p-4">
          <div className="flex items-center gap-3">
            <DialogTitle className="flex-1 truncate text-base font-semibold">
              {cleaning
                ? 'Smooth areas in the place of the picture'
                : `${fileName} in the place of the artwork`}
            </DialogTitle>
            <button type="button" aria-label="Close" className="hit" onClick={onClose}>
              <X aria-hidden className="size-4" />
            </button>
          </div>
          <div className="mt-2 flex min-h-0 flex-1 gap-4">
            <Overlay taskId={taskId} revision={revision} />
            <div className="w-72 shrink-0 overflow-y-auto" data-testid="revision-notes">
              {cleaning && <CleaningWords notes={cleaning} />}
              <p className="mt-1">
                {share === 0
                  ? 'Nothing of it looks otherwise than before.'
                  : `${trimNumber(share * 100, share < 0.01 ? 2 : 1)} % of it looks otherwise than before.`}
              </p>
              <Settings carried={carried} />
            </div>
          </div>
          <div className="mt-3 flex items-center justify-end gap-2">
            {cleaning && (
              <a
                className="plain-button mr-auto"
                href={taskFile(taskId, REVISION_FILES.drawing)}
                download={fileName}
              >
                <Download aria-hidden className="size-4" /> Save as SVG
              </a>
            )}
            <button type="button" className="plain-button" onClick={onClose}>
              Leave the job as it is
            </button>
            <button type="button" className="main-button" onClick={take}>
              {cleaning ? 'Take the smooth areas' : 'Take the revised file'}
            </button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

const FRAME_WORDS: Readonly<Record<CleaningNotes['frame'], string>> = {
  none: 'There is no frame round the design.',
  kept: 'There is a frame round the design, which is kept.',
  taken: 'The frame round the design is taken away, with what lies outside of it.',
};

function CleaningWords({ notes }: { readonly notes: CleaningNotes }) {
  const { colours, found, specks, specksMm2, frame } = notes;
  return (
    <>
      <p>
        {colours} {colours === 1 ? 'colour' : 'colours'}.{' '}
        {found > colours && `${found} were found; the others are taken as those nearest to them.`}
      </p>
      <p className="mt-1">
        {specks === 0
          ? 'No piece was small enough to be dropped.'
          : `${specks} small ${specks === 1 ? 'piece was' : 'pieces were'} dropped, ${trimNumber(specksMm2, 2)} mm² in all.`}
      </p>
      <p className="mt-1">{FRAME_WORDS[frame]}</p>
    </>
  );
}

function Settings({ carried }: { readonly carried: CarriedOver }) {
  const { kept, added, lost, plates, stretch } = carried;
  const moved = kept.filter(({ by }) => by === 'place');
  const proportions = Math.abs(stretch - 1) > 0.005;
  return (
    <>
      {proportions && (
        <p className="mt-2 font-semibold">
          Its proportions are others: at the same width the print is{' '}
          {trimNumber(Math.abs(stretch - 1) * 100, 1)} % {stretch > 1 ? 'higher' : 'lower'}.
        </p>
      )}
      {kept.length > 0 && (
        <p className="caption mt-2">
          {kept.length} {kept.length === 1 ? 'colour keeps its' : 'colours keep their'} plates and settings.
        </p>
      )}
      {moved.length > 0 && (
        <>
          <h3 className="mt-2 font-semibold">Another colour at the same place</h3>
          <ul>
            {moved.map(({ from, to }) => (
              <li key={to} className="flex items-center gap-1.5">
                <Swatch colour={from} /> becomes <Swatch colour={to} />
              </li>
            ))}
          </ul>
        </>
      )}
      {added.length > 0 && (
        <>
          <h3 className="mt-2 font-semibold">New colours</h3>
          <ul>
            {added.map(({ colour, plate, isNew }) => (
              <li key={colour} className="flex items-center gap-1.5">
                <Swatch colour={colour} />
                {plate === null ? 'left to the garment' : isNew ? `a new plate, ${plate}` : `on ${plate}`}
              </li>
            ))}
          </ul>
        </>
      )}
      {lost.length > 0 && (
        <p className="mt-2 flex flex-wrap items-center gap-1.5">
          Gone:{' '}
          {lost.map((colour) => (
            <Swatch key={colour} colour={colour} />
          ))}
        </p>
      )}
      {plates.length > 0 && <p className="mt-1">Without work, and taken out: {plates.join(', ')}.</p>}
    </>
  );
}

const ZOOMS = [1, 2, 4, 8] as const;

/** The new artwork over the old one, up to a line that is dragged; a click on a place that changed goes there. */
function Overlay({ taskId, revision }: Pick<Props, 'taskId' | 'revision'>) {
  const [at, setAt] = useState(0.5);
  const [zoom, setZoom] = useState(0);
  const [marked, setMarked] = useState(revision.cleaning === null);
  const scroller = useRef<HTMLDivElement>(null);
  const factor = ZOOMS[zoom]!;
  const { widthPx, heightPx } = artworkOf(revision.sheet);
  const show = (x: number, y: number, next: number) => {
    setZoom(next);
    // It has its new size at the next frame.
    requestAnimationFrame(() => {
      const box = scroller.current;
      if (!box) return;
      box.scrollTo(x * box.scrollWidth - box.clientWidth / 2, y * box.scrollHeight - box.clientHeight / 2);
    });
  };
  const goTo = ({ x, y, zoom: near }: ChangedView) =>
    show(
      x,
      y,
      ZOOMS.findIndex((each) => each >= near || each === ZOOMS[ZOOMS.length - 1]),
    );
  /** What is in the middle stays there. */
  const zoomTo = (next: number) => {
    const box = scroller.current;
    if (!box) return;
    const x = (box.scrollLeft + box.clientWidth / 2) / box.scrollWidth;
    show(x, (box.scrollTop + box.clientHeight / 2) / box.scrollHeight, next);
  };
  // Drawn by our own server, of any proportions: nothing for the framework to make smaller.
  /* eslint-disable @next/next/no-img-element */
  const picture = (name: string, crisp: boolean, clip?: string) => (
    <img
      src={taskFile(taskId, name)}
      alt=""
      draggable={false}
      className="absolute inset-0 size-full"
      style={{ clipPath: clip, imageRendering: crisp ? 'pixelated' : 'auto' }}
    />
  );
  /* eslint-enable @next/next/no-img-element */
  const { drawing, after, before, changed } = REVISION_FILES;
  return (
    <div className="flex min-w-0 flex-1 flex-col">
      <div className="relative min-h-0 flex-1 border border-line" style={{ containerType: 'size' }}>
        <div ref={scroller} className="absolute inset-0 overflow-auto bg-slip">
          <div
            className="relative"
            style={{
              width: `calc(min(100cqw, 100cqh * ${widthPx / heightPx}) * ${factor})`,
              aspectRatio: `${widthPx} / ${heightPx}`,
            }}
          >
            {picture(before, factor > 1)}
            <div className="absolute inset-0 bg-slip" style={{ clipPath: `inset(0 0 0 ${at * 100}%)` }} />
            {/* The drawing has hard edges: whole, its picture made smaller looks as it will print. */}
            {picture(
              revision.cleaning && factor > 1 ? drawing : after,
              factor > 1 && !revision.cleaning,
              `inset(0 0 0 ${at * 100}%)`,
            )}
            {marked && picture(changed, factor > 1)}
            <WipeBar at={at} across={false} onMove={setAt} />
          </div>
        </div>
      </div>
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <span className="caption">before | after</span>
        <button
          type="button"
          aria-label="Smaller"
          className="hit"
          disabled={zoom === 0}
          onClick={() => zoomTo(zoom - 1)}
        >
          <Minus aria-hidden className="size-4" />
        </button>
        <span className="tabular-nums">{factor}×</span>
        <button
          type="button"
          aria-label="Larger"
          className="hit"
          disabled={zoom === ZOOMS.length - 1}
          onClick={() => zoomTo(zoom + 1)}
        >
          <Plus aria-hidden className="size-4" />
        </button>
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            className="size-4 accent-ink"
            checked={marked}
            onChange={(event) => setMarked(event.target.checked)}
          />
          mark what differs
        </label>
        {revision.places.length > 0 && (
          <Places places={changedViews(revision.places)} of={revision.placeCount} onGo={goTo} />
        )}
      </div>
    </div>
  );
}

function Places({
  places,
  of,
  onGo,
}: {
  readonly places: readonly ChangedView[];
  /** How many there are. */
  readonly of: number;
  readonly onGo: (view: ChangedView) => void;
}) {
  const [index, setIndex] = useState(-1);
  return (
    <button
      type="button"
      className="plain-button"
      onClick={() => {
        const next = (index + 1) % places.length;
        setIndex(next);
        onGo(places[next]!);
      }}
    >
      {index < 0
        ? `Walk through ${of > places.length ? `the ${places.length} largest of ${of}` : of} places`
        : `Place ${index + 1} of ${places.length}`}
    </button>
  );
}
