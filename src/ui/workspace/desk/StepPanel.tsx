'use client';

import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/react';
import { ChevronRight } from 'lucide-react';
import { memo } from 'react';
import type { Step } from '@/core/checks';
import { useStored } from '../../state/useStored';
import { FindingList } from '../steps/FindingList';
import { filmProblem } from '../steps/filmLayout';
import { useDesk } from './desk';
import { SECTIONS, type StepSection } from './sections';

/** A step of the work: its sections that apply to the job, and what deserves a look. */
export const StepPanel = memo(function StepPanel({ step }: { readonly step: Step }) {
  return (
    <div className="space-y-5">
      {SECTIONS.filter((section) => section.step === step).map((section) => (
        <Section key={section.id} section={section} />
      ))}
      <Findings step={step} />
    </div>
  );
});

function Section({ section }: { readonly section: StepSection }) {
  const { Title, Action, Body, title, frameless } = section;
  // Whoever opened a section finds it open.
  const [kept, keep] = useStored(`kerameus.section.${section.id}`, 'folded', ['folded', 'open']);
  const applies = useDesk((desk) => section.applies?.(desk) ?? true);
  const folded = useDesk((desk) => (applies ? (section.folded?.(desk) ?? null) : null));
  if (!applies) return null;
  if (frameless) return <Body />;
  if (folded !== null) {
    return (
      <Disclosure as="section" defaultOpen={kept === 'open'}>
        <DisclosureButton
          onClick={() => keep(kept === 'open' ? 'folded' : 'open')}
          className="group flex w-full items-baseline gap-1.5 text-left"
        >
          <ChevronRight
            aria-hidden
            className="size-4 shrink-0 translate-y-0.5 group-data-open:rotate-90 motion-safe:transition-transform"
          />
          <h2 className="shrink-0 font-semibold">{title}</h2>
          <span
            className="caption min-w-0 flex-1 truncate text-right group-data-open:invisible"
            title={folded}
          >
            {folded}
          </span>
        </DisclosureButton>
        <DisclosurePanel className="pl-[22px]">
          <Body />
        </DisclosurePanel>
      </Disclosure>
    );
  }
  return (
    <section>
      {Title || title ? (
        <div className="flex items-center justify-between">
          <h2 className="flex items-center gap-1.5 font-semibold">{Title ? <Title /> : title}</h2>
          {Action && <Action />}
        </div>
      ) : null}
      <Body />
    </section>
  );
}

function Findings({ step }: { readonly step: Step }) {
  const findings = useDesk((desk) => desk.findings[step]);
  const goTo = useDesk((desk) => desk.goTo);
  // What stands above the film already is not said again.
  const said = useDesk(({ sheet }) => (step === 'film' ? (filmProblem(sheet)?.code ?? null) : null));
  return (
    <>
      <FindingList findings={findings.filter(({ code }) => code !== said)} onGoTo={goTo} />
      <CheckLine />
    </>
  );
}

/** What is not in the list yet, or never will be: that nothing stands there does not mean that nothing was found. */
function CheckLine() {
  const { state, again } = useDesk((desk) => desk.check);
  if (state === 'done') return null;
  if (state === 'running') {
    return (
      <p className="caption" role="status">
        The whole print is being checked …
      </p>
    );
  }
  return (
    <p role="alert">
      The check of the whole print ended with an error: what it would have found is missing here.{' '}
      <button type="button" className="plain-button" onClick={again}>
        Check again
      </button>
    </p>
  );
}
