'use client';

import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { CircleDot, EllipsisVertical, FileUp, Layers, LoaderCircle, Trash2 } from 'lucide-react';
import Link from 'next/link';
import { useCallback, useEffect, useState } from 'react';
import { type ErrorReport, formatLength } from '@/core/units';
import type { JobCard } from '@/protocol/jobs';
import { Swatch } from '../controls/Choice';
import { Problem } from '../controls/Problem';
import { Mark } from '../Mark';
import { deleteJob, fetchJobs, toReport } from '../state/api';
import { useUnit } from '../state/useStored';
import { DropVeil } from './DropVeil';
import { useArtworkDrop } from './useArtworkDrop';

const LOOK_EVERY_MS = 3000;

/** What is on the desk: each job as its print on its garment. */
export function JobsScreen() {
  const [jobs, setJobs] = useState<JobCard[] | null>(null);
  const [error, setError] = useState<ErrorReport | null>(null);
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

  const remove = async (id: string) => {
    try {
      await deleteJob(id);
      setJobs((before) => before?.filter((job) => job.id !== id) ?? null);
    } catch (thrown) {
      setError(toReport(thrown));
    }
  };

  return (
    <div {...drop.dropzone.getRootProps()} className="flex min-h-full flex-col outline-none">
      <input {...drop.dropzone.getInputProps({ 'aria-label': 'Artwork file' })} />
      <header className="flex h-[46px] items-center gap-3 border-b border-line px-4">
        <Mark />
        <h1 className="text-base font-semibold">Jobs</h1>
        <span className="caption">{jobs ? `${jobs.length} on the desk` : ''}</span>
        <div className="flex-1" />
        <button type="button" className="main-button" onClick={drop.dropzone.open}>
          <FileUp aria-hidden className="size-4" /> New job from artwork
        </button>
      </header>
      <main className="flex-1 space-y-4 p-6">
        {error && <Problem report={error} />}
        {drop.problem && <Problem report={drop.problem} onDismiss={drop.dismiss} />}
        {drop.working && (
          <p role="status" className="flex items-center gap-2 border border-line bg-white px-3 py-2">
            <LoaderCircle aria-hidden className="size-4 animate-spin" />
            {drop.working.step}: {drop.working.fileName}
          </p>
        )}
        {jobs && jobs.length === 0 && !drop.working && <EmptyDesk onOpen={drop.dropzone.open} />}
        {!jobs && !error && <p className="caption">Fetching the jobs …</p>}
        <ul className="grid grid-cols-[repeat(auto-fill,minmax(260px,1fr))] gap-5">
          {jobs?.map((job) => (
            <Card key={job.id} job={job} onDelete={() => void remove(job.id)} />
          ))}
        </ul>
      </main>
      {drop.dropzone.isDragActive && <DropVeil />}
    </div>
  );
}

function EmptyDesk({ onOpen }: { readonly onOpen: () => void }) {
  return (
    <div className="mx-auto mt-16 max-w-md border border-dashed border-quiet p-10 text-center">
      <p className="text-base">Nothing on the desk.</p>
      <p className="mt-1 text-quiet">Drop artwork anywhere: SVG, PNG, JPEG, WebP or TIFF.</p>
      <button type="button" className="plain-button mt-4" onClick={onOpen}>
        Choose a file
      </button>
    </div>
  );
}

const FILM_STATES = {
  none: 'no films yet',
  working: 'films being made',
  ready: 'films ready',
  stale: 'films older than the job',
} as const;

function Card({ job, onDelete }: { readonly job: JobCard; readonly onDelete: () => void }) {
  const [unit] = useUnit();
  return (
    <li className="relative border border-line bg-white hover:border-quiet">
      <Link href={`/jobs/${job.id}`} className="block">
        <div
          className="grid h-72 place-items-center overflow-hidden"
          style={{ background: job.garment.colour }}
        >
          {job.hasPicture ? (
            // eslint-disable-next-line @next/next/no-img-element -- made by our own worker at the right size
            <img
              src={`/api/jobs/${job.id}/picture?v=${job.version}-${job.updatedAt}`}
              alt={`Print of ${job.name} on ${job.garment.name}`}
              className="max-h-72 w-auto"
            />
          ) : (
            <LoaderCircle aria-hidden className="size-6 animate-spin text-white mix-blend-difference" />
          )}
        </div>
        <div className="space-y-1.5 p-3">
          <h2 className="truncate pr-6 text-base font-semibold">{job.name}</h2>
          <p className="caption">
            {job.garment.name} · {formatLength(job.print.widthMm, unit)} wide
          </p>
          <p className="flex items-center gap-1">
            {job.inks.map((ink) => (
              <span key={ink.name} title={ink.name}>
                <Swatch colour={ink.colour} />
              </span>
            ))}
            <span className="caption ml-1 inline-flex items-center gap-1">
              <Layers aria-hidden className="size-3.5" /> {job.inks.length} screens
            </span>
          </p>
          <p className="caption flex items-center gap-1">
            <CircleDot aria-hidden className="size-3.5" /> {FILM_STATES[job.filmState]}
          </p>
        </div>
      </Link>
      <Menu>
        <MenuButton
          aria-label={`More for ${job.name}`}
          className="absolute right-2 bottom-[78px] rounded-[3px] p-1 hover:bg-slip-deep"
        >
          <EllipsisVertical aria-hidden className="size-4" />
        </MenuButton>
        <MenuItems
          anchor="bottom end"
          className="z-30 rounded-[3px] border border-quiet bg-white py-1 focus:outline-none"
        >
          <MenuItem>
            <button
              type="button"
              onClick={onDelete}
              className="flex items-center gap-2 px-3 py-1 data-focus:bg-slip-deep"
            >
              <Trash2 aria-hidden className="size-4" /> Delete job
            </button>
          </MenuItem>
        </MenuItems>
      </Menu>
    </li>
  );
}
