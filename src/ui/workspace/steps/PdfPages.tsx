'use client';

import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useVirtualizer } from '@tanstack/react-virtual';
import { Files, X } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { useRef, useState } from 'react';
import type { ErrorReport } from '@/core/units';
import type { ArtworkView } from '@/protocol/jobs';
import { isFinished } from '@/protocol/tasks';
import { Problem } from '../../controls/Problem';
import { cancelTask, pagePicture, takePage, toReport } from '../../state/api';
import { followTask } from '../../state/useTask';

/** Pictures beside each other, and the height of a row of them. */
const COLUMNS = 4;
const ROW_PX = 212;

interface Taking {
  readonly page: number;
  readonly step: string;
  readonly cancel: (() => void) | null;
}

/** Which page of a PDF this is, and the others to choose from. */
export function PdfPages({
  artwork,
  page,
}: {
  readonly artwork: ArtworkView;
  readonly page: NonNullable<ArtworkView['page']>;
}) {
  const [open, setOpen] = useState(false);
  if (page.count === 1) return <p className="caption">Its only page</p>;
  return (
    <p className="mt-1 flex items-center gap-2">
      <span className="caption">
        Page {page.number} of {page.count}
      </span>
      <button type="button" className="plain-button" onClick={() => setOpen(true)}>
        <Files aria-hidden className="size-4" /> Other pages
      </button>
      {open && <PagesDialog artwork={artwork} page={page} onClose={() => setOpen(false)} />}
    </p>
  );
}

interface DialogProps {
  readonly artwork: ArtworkView;
  readonly page: NonNullable<ArtworkView['page']>;
  readonly onClose: () => void;
}

function PagesDialog({ artwork, page, onClose }: DialogProps) {
  const router = useRouter();
  const [taking, setTaking] = useState<Taking | null>(null);
  const [problem, setProblem] = useState<ErrorReport | null>(null);
  const take = async (number: number) => {
    setProblem(null);
    setTaking({ page: number, step: 'Waiting', cancel: null });
    try {
      const taskId = await takePage(artwork.sha256, number);
      const cancel = () => void cancelTask(taskId).catch(() => undefined);
      followTask(taskId, (task) => {
        if (task && !isFinished(task.state)) {
          setTaking({ page: number, step: task.progress?.step ?? 'Waiting', cancel });
          return;
        }
        setTaking(null);
        if (task?.state === 'done' && task.result?.jobId) router.push(`/jobs/${task.result.jobId}`);
        else if (task?.state !== 'cancelled') {
          setProblem(task?.error ?? { code: 'internal', message: `Page ${number} could not be read.` });
        }
      });
    } catch (thrown) {
      setTaking(null);
      setProblem(toReport(thrown));
    }
  };
  return (
    <Dialog open onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 bg-ink/30" aria-hidden />
      <div className="fixed inset-0 grid place-items-center p-6">
        <DialogPanel className="flex max-h-full w-[760px] max-w-full flex-col border border-quiet bg-white p-5">
          <div className="flex items-center gap-3">
            <DialogTitle className="flex-1 text-base font-semibold">Pages of {artwork.fileName}</DialogTitle>
            <button type="button" aria-label="Close" className="hit" onClick={onClose}>
              <X aria-hidden className="size-4" />
            </button>
          </div>
          <p className="caption mb-2">
            A page that is chosen becomes a job of its own; this one stays as it is.
          </p>
          {problem && <Problem report={problem} onDismiss={() => setProblem(null)} />}
          {taking && (
            <p className="mb-2 flex items-center gap-3" role="status">
              Page {taking.page}: {taking.step} …
              {taking.cancel && (
                <button type="button" className="plain-button" onClick={taking.cancel}>
                  Cancel
                </button>
              )}
            </p>
          )}
          <PageGrid
            artwork={artwork}
            page={page}
            disabled={taking !== null}
            onTake={(each) => void take(each)}
          />
        </DialogPanel>
      </div>
    </Dialog>
  );
}

interface GridProps extends Omit<DialogProps, 'onClose'> {
  readonly disabled: boolean;
  readonly onTake: (page: number) => void;
}

/** Pictures of all pages; only those in sight are drawn, since there may be a thousand. */
function PageGrid({ artwork, page, disabled, onTake }: GridProps) {
  const scroller = useRef<HTMLDivElement>(null);
  // Nothing of it is handed to components that are memoised.
  // eslint-disable-next-line react-hooks/incompatible-library
  const rows = useVirtualizer({
    count: Math.ceil(page.count / COLUMNS),
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    initialOffset: Math.max(0, Math.floor((page.number - 1) / COLUMNS) - 1) * ROW_PX,
    overscan: 1,
  });
  return (
    <div ref={scroller} className="h-[480px] overflow-y-auto">
      <ul className="relative" style={{ height: rows.getTotalSize() }}>
        {rows.getVirtualItems().flatMap(({ index, start }) =>
          Array.from({ length: Math.min(COLUMNS, page.count - index * COLUMNS) }, (_, column) => {
            const number = index * COLUMNS + column + 1;
            return (
              <li
                key={number}
                className="absolute p-1.5"
                style={{
                  top: start,
                  left: `${(column / COLUMNS) * 100}%`,
                  width: `${100 / COLUMNS}%`,
                  height: ROW_PX,
                }}
              >
                <PageButton
                  src={pagePicture(artwork.sha256, number)}
                  number={number}
                  isHere={number === page.number}
                  disabled={disabled}
                  onTake={onTake}
                />
              </li>
            );
          }),
        )}
      </ul>
    </div>
  );
}

interface ButtonProps {
  readonly src: string;
  readonly number: number;
  readonly isHere: boolean;
  readonly disabled: boolean;
  readonly onTake: (page: number) => void;
}

function PageButton({ src, number, isHere, disabled, onTake }: ButtonProps) {
  const [isLost, setLost] = useState(false);
  return (
    <button
      type="button"
      disabled={isHere || disabled}
      aria-label={isHere ? `Page ${number}, this job's` : `Page ${number}`}
      onClick={() => onTake(number)}
      className={`flex size-full flex-col items-center gap-1 border p-1.5 ${isHere ? 'border-clay' : 'border-line hover:border-ink'}`}
    >
      {isLost ? (
        <span className="grid flex-1 place-items-center text-center text-quiet">cannot be drawn</span>
      ) : (
        // Drawn by our own server, of any proportions: nothing for the framework to make smaller.
        // eslint-disable-next-line @next/next/no-img-element
        <img
          src={src}
          alt=""
          className="min-h-0 flex-1 bg-slip object-contain"
          onError={() => setLost(true)}
        />
      )}
      <span className="text-xs tabular-nums">{isHere ? `${number}, this job's` : number}</span>
    </button>
  );
}
