'use client';

import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { Bookmark, Eye, X } from 'lucide-react';
import { useEffect, useState } from 'react';
import type { ErrorReport } from '@/core/units';
import type { VersionCard } from '@/protocol/jobs';
import { Problem } from '../controls/Problem';
import { fetchVersions, nameVersion, toReport } from '../state/api';

interface Props {
  readonly open: boolean;
  readonly jobId: string;
  /** The version in force. */
  readonly version: number;
  readonly onClose: () => void;
  readonly onLook: (number: number) => void;
  readonly onReturn: (number: number) => void;
}

const when = new Intl.DateTimeFormat('en', { dateStyle: 'medium', timeStyle: 'short' });

/** Every state that the job ever had: to look at, to name, to go back to. */
export function HistoryPanel({ open, jobId, version, onClose, onLook, onReturn }: Props) {
  const [versions, setVersions] = useState<readonly VersionCard[] | null>(null);
  const [problem, setProblem] = useState<ErrorReport | null>(null);
  const [onlyNamed, setOnlyNamed] = useState(false);

  useEffect(() => {
    if (!open) return;
    let gone = false;
    fetchVersions(jobId)
      .then((found) => !gone && setVersions(found))
      .catch((thrown: unknown) => !gone && setProblem(toReport(thrown)));
    return () => {
      gone = true;
    };
  }, [open, jobId, version]);

  const more = async () => {
    try {
      const older = await fetchVersions(jobId, versions!.at(-1)!.number);
      setVersions([...versions!, ...older]);
    } catch (thrown) {
      setProblem(toReport(thrown));
    }
  };
  const rename = async (number: number, name: string) => {
    try {
      await nameVersion(jobId, number, name === '' ? null : name);
      setVersions((before) =>
        before!.map((each) => (each.number === number ? { ...each, name: name === '' ? null : name } : each)),
      );
    } catch (thrown) {
      setProblem(toReport(thrown));
    }
  };
  const shown = versions?.filter((each) => !onlyNamed || each.name !== null) ?? [];
  return (
    <Dialog open={open} onClose={onClose} className="relative z-40">
      <DialogPanel className="fixed inset-y-0 right-0 flex w-[380px] flex-col border-l border-quiet bg-white">
        <div className="flex items-center gap-3 border-b border-line px-4 py-2.5">
          <DialogTitle className="flex-1 text-base font-semibold">History</DialogTitle>
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="accent-ink"
              checked={onlyNamed}
              onChange={(event) => setOnlyNamed(event.target.checked)}
            />
            named only
          </label>
          <button type="button" aria-label="Close" onClick={onClose}>
            <X aria-hidden className="size-4" />
          </button>
        </div>
        <div className="min-h-0 flex-1 overflow-y-auto">
          {problem && <Problem report={problem} onDismiss={() => setProblem(null)} />}
          {!versions && !problem && <p className="caption p-4">Fetching the history …</p>}
          {versions && shown.length === 0 && <p className="p-4 text-quiet">No version has a name yet.</p>}
          <ol>
            {shown.map((each) => (
              <li
                key={each.number}
                className={`border-b border-slip-deep px-4 py-2 ${each.number === version ? 'bg-slip-deep' : ''}`}
              >
                <div className="flex items-baseline gap-2">
                  <span className="w-8 shrink-0 text-right text-quiet">{each.number}</span>
                  <span className="flex-1">{each.change}</span>
                  {each.number === version ? (
                    <span className="caption">now</span>
                  ) : (
                    <>
                      <button
                        type="button"
                        className="plain-button py-0.5"
                        aria-label={`Look at version ${each.number}`}
                        onClick={() => onLook(each.number)}
                      >
                        <Eye aria-hidden className="size-3.5" />
                      </button>
                      <button
                        type="button"
                        className="plain-button py-0.5"
                        aria-label={`Go back to version ${each.number}`}
                        onClick={() => onReturn(each.number)}
                      >
                        go back
                      </button>
                    </>
                  )}
                </div>
                <div className="mt-1 flex items-center gap-2 pl-10">
                  <Bookmark aria-hidden className={`size-3.5 ${each.name ? 'text-clay' : 'text-line'}`} />
                  <input
                    aria-label={`Name of version ${each.number}`}
                    className="field min-w-0 flex-1 border-transparent py-0 hover:border-line"
                    placeholder="name it: approved, burned"
                    maxLength={60}
                    defaultValue={each.name ?? ''}
                    onBlur={(event) => {
                      const name = event.target.value.trim();
                      if (name !== (each.name ?? '')) void rename(each.number, name);
                    }}
                    onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
                  />
                  <time className="caption" dateTime={each.createdAt}>
                    {when.format(new Date(each.createdAt))}
                  </time>
                </div>
              </li>
            ))}
          </ol>
          {versions && versions.length > 0 && versions.at(-1)!.parent !== null && (
            <button type="button" className="plain-button m-4" onClick={() => void more()}>
              Older ones
            </button>
          )}
        </div>
      </DialogPanel>
    </Dialog>
  );
}
