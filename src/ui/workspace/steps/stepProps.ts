import type { Finding } from '@/core/checks';
import type { Survey } from '@/core/pipeline';
import type { JobSheet, Stock } from '@/core/sheet';
import type { ArtworkView } from '@/protocol/jobs';

/** What every step of the work is given. */
export interface StepProps {
  readonly sheet: JobSheet;
  readonly artwork: ArtworkView;
  readonly stock: Stock;
  readonly saveStock: (stock: Stock) => void;
  readonly survey: Survey | null;
  /** Findings of this step. */
  readonly findings: readonly Finding[];
  readonly onGoTo: (finding: Finding) => void;
  readonly selected: string | null;
  readonly onSelect: (plateId: string) => void;
  /** Takes a changed sheet over as a version of its own. */
  readonly commit: (sheet: JobSheet) => void;
  /** The same from the newest sheet; the function stays the same while the job changes. */
  readonly change: (make: (sheet: JobSheet) => JobSheet) => void;
}
