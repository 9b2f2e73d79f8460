'use client';

import type { JobGarment } from '@/core/sheet';
import type { ViewState } from '../../state/viewState';
import { SUBJECT_NAMES } from './subjects';

interface Props {
  readonly garment: JobGarment;
  /** Whether the films are found for all garments of the job. */
  readonly together: boolean;
  readonly view: ViewState;
  readonly onView: (change: Partial<ViewState>) => void;
  /** Whether what the table is held against is shown alone. */
  readonly comparing: boolean;
  readonly passesTotal: number;
  readonly dotsFar: boolean;
  readonly onDots: () => void;
}

/** What the table must say of itself, so that nothing on it is taken for what it is not. */
export function TableNotices(props: Props) {
  const { garment, together, view, onView, comparing, passesTotal, dotsFar, onDots } = props;
  const half = view.passes !== null && view.passes < passesTotal;
  const shifted = Object.keys(view.shifts).length;
  const line = 'flex items-center gap-3 border border-ink bg-white px-3 py-1';
  return (
    <div
      className="absolute bottom-3 left-1/2 flex -translate-x-1/2 flex-col items-center gap-1.5"
      role="status"
    >
      {comparing && <p className={line}>{SUBJECT_NAMES[view.against]}, while the key is held</p>}
      {half && view.subject !== 'film' && view.subject !== 'artwork' && (
        <p className={line}>
          The print after {view.passes} of {passesTotal} screens
          <button type="button" className="underline" onClick={() => onView({ passes: null })}>
            print all
          </button>
        </p>
      )}
      {view.lifted.length > 0 && (view.subject === 'print' || view.subject === 'dots') && (
        <p className={line}>
          {view.lifted.length === 1 ? '1 plate is lifted' : `${view.lifted.length} plates are lifted`}
          <button type="button" className="underline" onClick={() => onView({ lifted: [] })}>
            lay all down
          </button>
        </p>
      )}
      {shifted > 0 && view.subject !== 'film' && view.subject !== 'artwork' && (
        <p className={line}>
          {shifted === 1 ? '1 screen lies off' : `${shifted} screens lie off`}
          <button type="button" className="underline" onClick={() => onView({ shifts: {} })}>
            put back
          </button>
        </p>
      )}
      {view.shownGarment !== null && (
        <p className={line}>
          Shown on {garment.name};{' '}
          {together ? 'the films are found for it as well' : 'the plates are made for another garment'}
          {garment.without.length > 0 &&
            `, and ${garment.without.length} of them ${garment.without.length === 1 ? 'does' : 'do'} not run here`}
        </p>
      )}
      {dotsFar && (
        <p className={line}>
          From here dots blend into tone
          <button type="button" className="underline" onClick={onDots}>
            go to the dots
          </button>
        </p>
      )}
    </div>
  );
}
