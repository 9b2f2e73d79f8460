import type { Finding } from './findings';

/** Findings of one kind: the same fault, at several plates or places. */
export interface FindingGroup {
  /** The first of them. */
  readonly first: Finding;
  readonly others: readonly Finding[];
}

/** Findings by their kind, severe kinds first, else in the order in which they come. */
export function groupFindings(findings: readonly Finding[]): FindingGroup[] {
  const kinds = new Map<string, Finding[]>();
  for (const finding of findings) {
    const kind = `${finding.step}/${finding.code}/${finding.severity}`;
    kinds.set(kind, [...(kinds.get(kind) ?? []), finding]);
  }
  const groups = [...kinds.values()].map(([first, ...others]) => ({ first: first!, others }));
  const rank = ({ first }: FindingGroup) => (first.severity === 'severe' ? 0 : 1);
  return groups.sort((p, q) => rank(p) - rank(q));
}
