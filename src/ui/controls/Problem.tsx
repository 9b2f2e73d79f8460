import { CircleAlert, X } from 'lucide-react';
import type { ErrorReport } from '@/core/units';

interface Props {
  readonly report: ErrorReport;
  readonly onDismiss?: () => void;
}

/** What happened, and what to do. */
export function Problem({ report, onDismiss }: Props) {
  return (
    <div role="alert" className="flex items-start gap-2 border border-clay bg-white px-3 py-2">
      <CircleAlert aria-hidden className="mt-0.5 size-4 shrink-0 text-clay" />
      <p className="flex-1">
        <strong className="font-semibold">{report.message}</strong> {report.remedy}
      </p>
      {onDismiss && (
        <button type="button" aria-label="Dismiss" onClick={onDismiss} className="hit">
          <X aria-hidden className="size-4" />
        </button>
      )}
    </div>
  );
}
