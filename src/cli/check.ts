import type { Finding } from '@/core/checks';
import { trimNumber } from '@/core/units';
import { analyseArtwork, notesOf, openArtwork } from '@/server/artwork';
import { outerMapFor } from '@/server/films';
import { type Options, readChoice } from './arguments';
import { openJob } from './openJob';
import { Stopwatch, judge } from './produce';
import { withWorkFolder } from './workFiles';

/** What a press would find, and how it is to be said. */
export interface Checked {
  readonly findings: readonly Finding[];
  readonly text: string;
}

/** `check JOB.json`: everything that is to be said of a job before its films are burnt, the worst first; no file is written. */
export function check(jobFile: string, options: Options): Promise<Checked> {
  const form = readChoice(options, 'as', ['text', 'json']) ?? 'text';
  const watch = new Stopwatch();
  return withWorkFolder(async (folder) => {
    const { sheet, facts, files } = await openJob(jobFile, options, folder, watch);
    const source = openArtwork(files);
    try {
      const notes = notesOf(facts, await watch.time('analyse', () => analyseArtwork(source, facts)));
      const { findings } = await judge({
        sheet,
        notes,
        source,
        outer: outerMapFor(source, sheet),
        watch,
      });
      const sorted = [...findings].sort((p, q) => RANK[p.severity] - RANK[q.severity]);
      return { findings: sorted, text: form === 'json' ? jsonOf(sorted) : textOf(sorted) };
    } finally {
      source.close();
    }
  });
}

const RANK: Readonly<Record<Finding['severity'], number>> = { severe: 0, notice: 1 };

function jsonOf(findings: readonly Finding[]): string {
  const severe = findings.filter(({ severity }) => severity === 'severe').length;
  return JSON.stringify({ severe, findings }, null, 2) + '\n';
}

function textOf(findings: readonly Finding[]): string {
  if (findings.length === 0) return 'Nothing was found.\n';
  return findings.map((finding) => `${lineOf(finding)}\n`).join('');
}

function lineOf({ severity, message, remedy, place }: Finding): string {
  const at = place ? ` [${trimNumber(place.xMm, 1)}, ${trimNumber(place.yMm, 1)} mm]` : '';
  return `${severity}: ${message} ${remedy}${at}`;
}
