import type { JobSheet } from '@/core/sheet';
import type { ArtworkView } from '@/protocol/jobs';

/** What every step of the work is given. */
export interface StepProps {
  readonly sheet: JobSheet;
  readonly artwork: ArtworkView;
  readonly selected: string | null;
  readonly onSelect: (plateId: string) => void;
  /** Takes a changed sheet over as a version of its own. */
  readonly commit: (sheet: JobSheet) => void;
}
