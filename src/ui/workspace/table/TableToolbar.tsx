'use client';

import type { Subject } from '@/browser';
import { Choice } from '../../controls/Choice';
import type { ViewState } from '../../state/viewState';
import { SUBJECT_NAMES } from './subjects';

/** Distances from which dots are looked at. */
const DISTANCES_M = [0, 0.5, 1, 2, 4];

interface Props {
  readonly view: ViewState;
  readonly subject: Subject;
  readonly subjects: readonly Subject[];
  readonly onView: (change: Partial<ViewState>) => void;
  readonly across: boolean;
}

/** What the table shows, and what it is held against. */
export function TableToolbar({ view, subject, subjects, onView, across }: Props) {
  const { against, wipe } = view;
  return (
    <div className="absolute top-3 left-3 flex flex-wrap items-start gap-1.5">
      <div className="flex border border-line bg-white" role="radiogroup" aria-label="What the table shows">
        {subjects.map((each) => (
          <button
            key={each}
            type="button"
            role="radio"
            aria-checked={subject === each}
            onClick={() => onView({ subject: each })}
            className={`px-2.5 py-1 ${subject === each ? 'bg-ink text-white' : 'hover:bg-slip-deep'}`}
          >
            {SUBJECT_NAMES[each]}
          </button>
        ))}
      </div>
      {subject === 'dots' && (
        <Choice
          label="Dots seen from"
          className="w-32"
          value={String(view.awayM)}
          options={DISTANCES_M.map((each) => ({
            value: String(each),
            label: each === 0 ? 'close up' : `from ${each} m`,
          }))}
          onChange={(value) => onView({ awayM: Number(value) })}
        />
      )}
      <div className="flex">
        <button
          type="button"
          aria-pressed={wipe !== null}
          onClick={() => onView({ wipe: wipe === null ? 0.5 : null })}
          className={`border border-line px-2.5 py-1 ${wipe === null ? 'bg-white hover:bg-slip-deep' : 'bg-ink text-white'}`}
        >
          Wipe {across ? '↕' : '↔'}
        </button>
        {wipe !== null && (
          <Choice
            label="What the wipe uncovers"
            className="w-28 rounded-none border-l-0"
            value={against}
            options={subjects
              .filter((each) => each !== subject)
              .map((each) => ({ value: each, label: SUBJECT_NAMES[each] }))}
            onChange={(value) => onView({ against: value as Subject })}
          />
        )}
      </div>
    </div>
  );
}
