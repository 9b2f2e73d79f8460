'use client';

import { FileUp, Search } from 'lucide-react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useCallback, useEffect, useRef, useState } from 'react';
import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { toast } from 'sonner';
import type { ErrorReport } from '@/core/units';
import type { JobCard } from '@/protocol/jobs';
import { Problem } from '../controls/Problem';
import { Mark } from '../Mark';
import { deleteJob, duplicateJob, fetchJobs, restoreJob, toReport } from '../state/api';
import { DropVeil } from './DropVeil';
import { JobTile } from './JobTile';
import { ImportProgress } from './ImportProgress';
import { useArtworkDrop } from './useArtworkDrop';

const LOOK_EVERY_MS = 3000;
const UNDO_FOR_MS = 12_000;
const TILE_WIDTH = 276;
const TILE_HEIGHT = 372;
const GAP = 20;

/** What is on the desk: each job as its print on its garment. */
export function JobsScreen() {
  const router = useRouter();
  const [jobs, setJobs] = useState<readonly JobCard[] | null>(null);
  const [error, setError] = useState<ErrorReport | null>(null);
  const [wanted, setWanted] = useState('');
  const drop = useArtworkDrop();

  const load = useCallback(() => {
    fetchJobs()
      .then((loaded) => {
        setJobs(loaded);
        setError(null);
      })
      .catch((thrown: unknown) => setError(toReport(thrown)));
  }, []);
  useEffect(() => {
    load();
    const timer = setInterval(load, LOOK_EVERY_MS);
    return () => clearInterval(timer);
  }, [load]);

  const attempt = async (work: () => Promise<void>) => {
    try {
      await work();
      load();
    } catch (thrown) {
      setError(toReport(thrown));
    }
  };
  const remove = (job: JobCard) =>
    attempt(async () => {
      await deleteJob(job.id);
      toast(`${job.name} is deleted`, {
        duration: UNDO_FOR_MS,
        action: { label: 'Bring it back', onClick: () => void attempt(() => restoreJob(job.id)) },
      });
    });
  const duplicate = (job: JobCard) =>
    attempt(async () => {
      const id = await duplicateJob(job.id);
      router.push(`/jobs/${id}`);
    });

  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = (jobs ?? []).filter((job) => words.every((word) => textOf(job).includes(word)));
  return (
    <div {...drop.dropzone.getRootProps()} className="flex min-h-full flex-col outline-none">
      <input {...drop.dropzone.getInputProps({ 'aria-label': 'Artwork file' })} />
      <header className="sticky top-0 z-20 flex h-[46px] items-center gap-3 border-b border-line bg-slip px-4">
        <Mark />
        <h1 className="text-base font-semibold">Jobs</h1>
        <span className="caption" data-testid="job-count">
          {jobs
            ? words.length > 0
              ? `${shown.length} of ${jobs.length}`
              : `${jobs.length} on the desk`
            : ''}
        </span>
        <label className="ml-4 flex items-center gap-1.5">
          <Search aria-hidden className="size-4 text-quiet" />
          <input
            type="search"
            aria-label="Search jobs"
            className="field w-56"
            placeholder="job, garment or ink"
            value={wanted}
            onChange={(event) => setWanted(event.target.value)}
          />
        </label>
        <div className="flex-1" />
        <Link href="/stock" className="plain-button">
          Stock
        </Link>
        <button type="button" className="main-button" onClick={drop.dropzone.open}>
          <FileUp aria-hidden className="size-4" /> New job from artwork
        </button>
      </header>
      <main className="flex-1 space-y-4 p-5">
        {error && <Problem report={error} />}
        {drop.problem && <Problem report={drop.problem} onDismiss={drop.dismiss} />}
        <ImportProgress drop={drop} />
        {jobs?.length === 0 && !drop.working && <EmptyDesk onOpen={drop.dropzone.open} />}
        {jobs && jobs.length > 0 && shown.length === 0 && (
          <p className="text-quiet">
            No job has “{wanted}” in its name, garment or inks.{' '}
            <button type="button" className="underline" onClick={() => setWanted('')}>
              Show all
            </button>
          </p>
        )}
        {!jobs && !error && <p className="caption">Fetching the jobs …</p>}
        <Tiles jobs={shown} onDelete={(job) => void remove(job)} onDuplicate={(job) => void duplicate(job)} />
      </main>
      {drop.dropzone.isDragActive && <DropVeil />}
    </div>
  );
}

function textOf(job: JobCard): string {
  return [job.name, job.garment.name, ...job.inks.map((ink) => ink.name)].join(' ').toLowerCase();
}

interface TilesProps {
  readonly jobs: readonly JobCard[];
  readonly onDelete: (job: JobCard) => void;
  readonly onDuplicate: (job: JobCard) => void;
}

/** Rows of tiles; only those near the window stand in the page. */
function Tiles({ jobs, onDelete, onDuplicate }: TilesProps) {
  const list = useRef<HTMLUListElement>(null);
  const [columns, setColumns] = useState(3);
  const [top, setTop] = useState(0);
  useEffect(() => {
    const element = list.current!;
    const observer = new ResizeObserver(() => {
      setColumns(Math.max(1, Math.floor((element.clientWidth + GAP) / (TILE_WIDTH + GAP))));
      setTop(element.offsetTop);
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const rows = useWindowVirtualizer({
    count: Math.ceil(jobs.length / columns),
    estimateSize: () => TILE_HEIGHT + GAP,
    overscan: 2,
    scrollMargin: top,
  });
  return (
    <ul ref={list} className="relative" style={{ height: rows.getTotalSize() }}>
      {rows.getVirtualItems().flatMap((row) =>
        jobs.slice(row.index * columns, (row.index + 1) * columns).map((job, column) => (
          <li
            key={job.id}
            className="absolute border border-line bg-white hover:border-quiet"
            style={{
              left: `calc(${column} * (100% + ${GAP}px) / ${columns})`,
              width: `calc((100% - ${(columns - 1) * GAP}px) / ${columns})`,
              top: row.start - rows.options.scrollMargin,
              height: TILE_HEIGHT,
            }}
          >
            <JobTile job={job} onDelete={() => onDelete(job)} onDuplicate={() => onDuplicate(job)} />
          </li>
        )),
      )}
    </ul>
  );
}

function EmptyDesk({ onOpen }: { readonly onOpen: () => void }) {
  return (
    <div className="mx-auto mt-16 max-w-md border border-dashed border-quiet p-10 text-center">
      <p className="text-base">Nothing on the desk.</p>
      <p className="mt-1 text-quiet">Drop artwork anywhere: SVG, PDF, PNG, JPEG, WebP or TIFF.</p>
      <button type="button" className="plain-button mt-4" onClick={onOpen}>
        Choose a file
      </button>
    </div>
  );
}
