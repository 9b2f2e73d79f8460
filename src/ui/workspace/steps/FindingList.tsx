import { Info, TriangleAlert } from 'lucide-react';
import type { Finding } from '@/core/checks';

interface Props {
  readonly findings: readonly Finding[];
  readonly onGoTo: (finding: Finding) => void;
}

/** What deserves a look in a step, severe first. */
export function FindingList({ findings, onGoTo }: Props) {
  if (findings.length === 0) return null;
  const sorted = [...findings].sort(
    (p, q) => Number(q.severity === 'severe') - Number(p.severity === 'severe'),
  );
  return (
    <section>
      <h2 className="font-semibold">To look at</h2>
      <ul className="mt-1 divide-y divide-slip-deep">
        {sorted.map((finding) => (
          <li key={`${finding.code}/${finding.message}`} className="flex items-start gap-1.5 py-1.5">
            {finding.severity === 'severe' ? (
              <TriangleAlert aria-label="severe" className="mt-0.5 size-4 shrink-0 text-clay" />
            ) : (
              <Info aria-label="notice" className="mt-0.5 size-4 shrink-0 text-quiet" />
            )}
            <span className="flex-1">
              {finding.message} <span className="text-quiet">{finding.remedy}</span>{' '}
              {(finding.place || finding.plateId) && (
                <button type="button" className="text-clay-deep underline" onClick={() => onGoTo(finding)}>
                  {finding.place ? 'go there' : 'show the plate'}
                </button>
              )}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
