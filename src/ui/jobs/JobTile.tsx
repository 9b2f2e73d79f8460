'use client';

import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import {
  CircleAlert,
  CircleDot,
  Copy,
  EllipsisVertical,
  FileDown,
  Layers,
  LoaderCircle,
  Trash2,
} from 'lucide-react';
import Link from 'next/link';
import { formatLength } from '@/core/units';
import type { JobCard } from '@/protocol/jobs';
import { Swatch } from '../controls/Choice';
import { useUnit } from '../state/useStored';

const FILM_STATES = {
  none: 'no films yet',
  working: 'films being made',
  ready: 'films ready',
  stale: 'films older than the job',
} as const;

interface Props {
  readonly job: JobCard;
  readonly onDelete: () => void;
  readonly onDuplicate: () => void;
}

/** One job on the desk. */
export function JobTile({ job, onDelete, onDuplicate }: Props) {
  const [unit] = useUnit();
  const item = 'flex w-full items-center gap-2 px-3 py-1 text-left data-focus:bg-slip-deep';
  return (
    <>
      <Link href={`/jobs/${job.id}`} className="block">
        <div
          className="grid h-[262px] place-items-center overflow-hidden"
          style={{ background: job.garment.colour }}
        >
          {job.hasPicture ? (
            // eslint-disable-next-line @next/next/no-img-element -- made by our own worker at the right size
            <img
              src={`/api/jobs/${job.id}/picture?v=${job.version}-${job.updatedAt}`}
              alt={`Print of ${job.name} on ${job.garment.name}`}
              className="max-h-[262px] w-auto"
            />
          ) : (
            <LoaderCircle aria-hidden className="size-6 animate-spin text-white mix-blend-difference" />
          )}
        </div>
        <div className="space-y-1.5 p-3">
          <h2 className="truncate pr-6 text-base font-semibold">{job.name}</h2>
          <p className="caption truncate">
            {job.garment.name} · {formatLength(job.print.widthMm, unit)} wide · {FILM_STATES[job.filmState]}
          </p>
          <p className="flex items-center gap-1 overflow-hidden">
            {job.inks.map((ink) => (
              <span key={ink.name} title={ink.name}>
                <Swatch colour={ink.colour} />
              </span>
            ))}
            <span className="caption ml-1 inline-flex shrink-0 items-center gap-1">
              <Layers aria-hidden className="size-3.5" /> {job.inks.length} screens
            </span>
            {job.findings !== null && job.findings > 0 && (
              <span className="caption ml-1 inline-flex shrink-0 items-center gap-1">
                <CircleAlert aria-hidden className="size-3.5" />{' '}
                {job.findings === 1 ? '1 finding' : `${job.findings} findings`}
              </span>
            )}
            {job.filmState === 'ready' && <CircleDot aria-hidden className="size-3.5 text-quiet" />}
          </p>
        </div>
      </Link>
      <Menu>
        <MenuButton aria-label={`More for ${job.name}`} className="hit absolute right-2 bottom-[66px]">
          <EllipsisVertical aria-hidden className="size-4" />
        </MenuButton>
        <MenuItems
          anchor="bottom end"
          className="z-30 rounded-[3px] border border-quiet bg-white py-1 focus:outline-none"
        >
          <MenuItem>
            <button type="button" onClick={onDuplicate} className={item}>
              <Copy aria-hidden className="size-4" /> Duplicate
            </button>
          </MenuItem>
          <MenuItem>
            <a href={`/api/jobs/${job.id}/export`} className={item}>
              <FileDown aria-hidden className="size-4" /> Export as zip
            </a>
          </MenuItem>
          <MenuItem>
            <button type="button" onClick={onDelete} className={item}>
              <Trash2 aria-hidden className="size-4" /> Delete
            </button>
          </MenuItem>
        </MenuItems>
      </Menu>
    </>
  );
}
