import { mkdtempSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { findingsOf } from '@/core/checks';
import type { NewJob } from '@/core/separation';
import { analyseArtwork, notesOf, openArtwork, takeInArtwork } from '@/server/artwork';
import { outerMapFor, surveyPrint } from '@/server/films';
import { sheetFor } from './evaluate';

/** Separates the artwork of `cases.json` in a folder and prints what came out, as JSON: a program of its own, since it is slow inside of Jest. */
interface Case {
  readonly name: string;
  readonly file: string;
  readonly change: Partial<NewJob>;
}

const folder = process.argv[2]!;
const cases = JSON.parse(readFileSync(path.join(folder, 'cases.json'), 'utf8')) as Case[];
const results: Record<string, unknown> = {};
for (const { name, file, change } of cases) {
  const own = mkdtempSync(path.join(folder, 'own-'));
  const { facts, files } = await takeInArtwork(path.join(folder, file), file, own);
  const source = openArtwork(files);
  const analysis = analyseArtwork(source, facts);
  const sheet = sheetFor(facts, analysis, { name: 'Navy', colour: '#16233f' }, change);
  const survey = await surveyPrint(sheet, source, outerMapFor(source, sheet));
  source.close();
  const { plates, colours, difference } = survey;
  const findings = findingsOf(sheet, notesOf(facts, analysis), survey);
  results[name] = { sheet, analysis, findings, survey: { plates, colours, difference } };
}
process.stdout.write(JSON.stringify(results));
