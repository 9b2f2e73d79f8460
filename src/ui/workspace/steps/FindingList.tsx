import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/react';
import { Info, TriangleAlert } from 'lucide-react';
import { type Finding, groupFindings, remedyOf } from '@/core/checks';
import { useDesk, useSheet } from '../desk/desk';

interface Props {
  readonly findings: readonly Finding[];
  readonly onGoTo: (finding: Finding) => void;
}

/** What deserves a look in a step, severe first; findings of one kind are one, with the others folded below it. */
export function FindingList({ findings, onGoTo }: Props) {
  if (findings.length === 0) return null;
  return (
    <section>
      <h2 className="font-semibold">To look at</h2>
      <ul className="mt-1 divide-y divide-slip-deep">
        {groupFindings(findings).map(({ first, others }) => (
          <li key={`${first.code}/${first.severity}`} className="flex items-start gap-1.5 py-1.5">
            {first.severity === 'severe' ? (
              <TriangleAlert aria-label="severe" className="mt-0.5 size-4 shrink-0 text-clay" />
            ) : (
              <Info aria-label="notice" className="mt-0.5 size-4 shrink-0 text-quiet" />
            )}
            <div className="flex-1">
              {first.message} <span className="text-quiet">{first.remedy}</span>{' '}
              <GoThere finding={first} onGoTo={onGoTo} />
              <Mend finding={first} />
              {others.length > 0 && (
                <Disclosure>
                  <DisclosureButton className="block h-6 text-clay-deep underline">
                    {others.length} more of this kind
                  </DisclosureButton>
                  <DisclosurePanel as="ul" className="space-y-1">
                    {others.map((finding) => (
                      <li key={finding.message}>
                        {finding.message} <GoThere finding={finding} onGoTo={onGoTo} />
                        <Mend finding={finding} />
                      </li>
                    ))}
                  </DisclosurePanel>
                </Disclosure>
              )}
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Does what mends it, as one version that can be undone. */
function Mend({ finding }: { readonly finding: Finding }) {
  const sheet = useSheet();
  const change = useDesk((desk) => desk.change);
  const remedy = remedyOf(sheet, finding);
  if (!remedy) return null;
  return (
    <button type="button" className="plain-button mt-1 block" onClick={() => change(remedy.change)}>
      {remedy.label}
    </button>
  );
}

function GoThere({ finding, onGoTo }: { readonly finding: Finding; readonly onGoTo: Props['onGoTo'] }) {
  if (!finding.place && !finding.plateId) return null;
  return (
    <button type="button" className="text-clay-deep underline" onClick={() => onGoTo(finding)}>
      {finding.place ? 'go there' : 'show the plate'}
    </button>
  );
}
