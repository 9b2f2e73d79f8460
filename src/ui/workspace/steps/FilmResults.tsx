'use client';

import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/react';
import { ChevronRight, Download, LoaderCircle } from 'lucide-react';
import type { JobSheet } from '@/core/sheet';
import { FILM_ARCHIVE, type TaskView } from '@/protocol/tasks';
import { Problem } from '../../controls/Problem';
import { useEarlierFilms, useStaleFiles } from '../../state/useFilmState';

interface Props {
  readonly jobId: string;
  readonly sheet: JobSheet;
  readonly films: TaskView | null;
  readonly onCancel: () => void;
  /** The selected plate, whose film can be made again alone. */
  readonly plate: { readonly id: string; readonly name: string } | null;
  readonly onRemake: (plateId: string) => void;
}

function size(bytes: number): string {
  return bytes > 1e6 ? `${(bytes / 1e6).toFixed(1)} MB` : `${Math.ceil(bytes / 1e3)} kB`;
}

/** The newest film set: its bars while it is made, its files when it is done. */
export function FilmResults({ jobId, sheet, films, onCancel, plate, onRemake }: Props) {
  const stale = useStaleFiles(jobId, films, sheet);
  const earlier = useEarlierFilms(jobId, films);
  if (!films) return null;
  if (films.state === 'failed' && films.error) return <Problem report={films.error} />;
  if (films.state === 'cancelled') return <p role="status">The films were cancelled; nothing was kept.</p>;
  if (films.state !== 'done') {
    return (
      <section aria-live="polite">
        <div className="flex items-center justify-between">
          <h2 className="flex items-center gap-1.5 font-semibold">
            <LoaderCircle aria-hidden className="size-4 animate-spin" />
            {films.progress?.step ?? 'Waiting for the worker'}
          </h2>
          <button type="button" className="plain-button" onClick={onCancel}>
            Cancel
          </button>
        </div>
        <ul className="mt-2 space-y-1">
          {films.progress?.items.map((item) => (
            <li key={item.name} className="flex items-center gap-2">
              <span className="w-28 truncate">{item.name}</span>
              <progress
                className="h-1.5 flex-1 accent-clay"
                value={item.done}
                max={1}
                aria-label={`Film ${item.name}`}
              />
              <span className="w-9 text-right text-xs">{Math.round(item.done * 100)} %</span>
            </li>
          ))}
        </ul>
      </section>
    );
  }
  return (
    <section>
      <h2 className="font-semibold">Films</h2>
      {stale.size > 0 && (
        <p className="text-clay-deep">
          {stale.size === films.files.length
            ? 'Made from an older state of the job.'
            : `${stale.size} of ${films.files.length} files are from an older state of the job.`}
        </p>
      )}
      <ul className="mt-1 divide-y divide-slip-deep">
        {films.files.map((file) => (
          <li key={file.name}>
            <a
              href={`/api/tasks/${films.id}/files/${encodeURIComponent(file.name)}`}
              download={file.name}
              className="flex items-center gap-2 py-1 hover:underline"
            >
              <Download aria-hidden className="size-4" />
              <span className="flex-1 truncate">{file.name}</span>
              {stale.has(file.name) && stale.size < films.files.length && (
                <span className="text-xs text-clay-deep">older state</span>
              )}
              {file.unchangedSince !== null && (
                <span
                  className="caption"
                  title={`Byte for byte as in the set of state ${file.unchangedSince}: its screen can stay`}
                >
                  as before
                </span>
              )}
              <span className="caption">{size(file.size)}</span>
            </a>
          </li>
        ))}
      </ul>
      {plate && (
        <button type="button" className="plain-button mt-2" onClick={() => onRemake(plate.id)}>
          Make only {plate.name} again
        </button>
      )}
      {films.result?.seconds !== undefined && (
        <p className="caption mt-1">made in {films.result.seconds.toFixed(1)} s</p>
      )}
      {earlier.length > 0 && <EarlierFilms sets={earlier} />}
    </section>
  );
}

/** Sets that were made before; each is kept as it was. */
function EarlierFilms({ sets }: { readonly sets: readonly TaskView[] }) {
  return (
    <Disclosure as="div" className="mt-2">
      <DisclosureButton className="group flex items-center gap-1">
        <ChevronRight aria-hidden className="size-4 group-data-open:rotate-90" />
        {sets.length} earlier {sets.length === 1 ? 'set' : 'sets'}
      </DisclosureButton>
      <DisclosurePanel as="ul" className="mt-1 divide-y divide-slip-deep">
        {sets.map((set) => (
          <li key={set.id} className="flex items-center gap-2 py-1">
            <span className="flex-1">
              {new Date(set.createdAt).toLocaleString()}
              <span className="caption"> · state {set.version}</span>
            </span>
            {set.files
              .filter(({ name }) => name === FILM_ARCHIVE)
              .map((file) => (
                <a
                  key={file.name}
                  href={`/api/tasks/${set.id}/files/${encodeURIComponent(file.name)}`}
                  download={file.name}
                  className="flex items-center gap-1 hover:underline"
                >
                  <Download aria-hidden className="size-4" /> {file.name}
                  <span className="caption">{size(file.size)}</span>
                </a>
              ))}
          </li>
        ))}
      </DisclosurePanel>
    </Disclosure>
  );
}
