import type { GapSurvey } from '@/core/checks';
import {
  type AreaFound,
  AreaSurveyor,
  type EdgeFound,
  EdgeSurveyor,
  type PlateJob,
  type SurveyStep,
  gapsKey,
  tablesFor,
} from '@/core/pipeline';
import { type JobSheet, tonedGarments } from '@/core/sheet';
import type { Kept } from './lastEvaluated';
import type { PreparedJobs } from './preparedJobs';
import type { SolvedTables } from './solvedTables';
import type { Turns } from './turns';

/** Surveys of the whole print, step by step, so that what the page waits for goes first. */
export class Surveys {
  private readonly jobs: PreparedJobs;
  private readonly tables: SolvedTables;
  private readonly turns: Turns;
  private gaps: Kept<GapSurvey | null> | null = null;

  constructor(jobs: PreparedJobs, tables: SolvedTables, turns: Turns) {
    this.jobs = jobs;
    this.tables = tables;
    this.turns = turns;
  }

  /** Looks at the areas of the whole print; null when a newer survey was asked for meanwhile. */
  async areas(sheet: JobSheet, hasOuterMap: boolean, ticket: number): Promise<AreaFound | null> {
    const job = await this.prepare(sheet, hasOuterMap, ticket);
    // Narrow gaps change with few of a job's settings: they are kept until one of those does.
    const key = gapsKey(sheet);
    const surveyor = new AreaSurveyor(job, this.gaps?.key === key ? this.gaps.value : null);
    if (!(await this.run(surveyor.steps(), sheet, ticket))) return null;
    this.gaps = { key, value: surveyor.gaps };
    return surveyor.result();
  }

  /** Looks at the edges of the whole print; null when a newer survey was asked for meanwhile. */
  async edges(sheet: JobSheet, hasOuterMap: boolean, ticket: number): Promise<EdgeFound | null> {
    const surveyor = new EdgeSurveyor(await this.prepare(sheet, hasOuterMap, ticket));
    return (await this.run(surveyor.steps(), sheet, ticket)) ? surveyor.result() : null;
  }

  private async prepare(sheet: JobSheet, hasOuterMap: boolean, ticket: number): Promise<PlateJob> {
    this.turns.supersede(ticket);
    const job = await this.jobs.prepare(sheet, hasOuterMap);
    await this.turns.rest();
    const isOver = () => this.turns.isOver(ticket);
    await this.tables.ready(tablesFor(sheet, tonedGarments(sheet)), isOver);
    return job;
  }

  /** @returns false when a newer survey was asked for meanwhile. */
  private async run(steps: Iterable<SurveyStep>, sheet: JobSheet, ticket: number): Promise<boolean> {
    for (const { need, add } of steps) {
      await this.turns.restBehindAwaited();
      if (this.turns.isOver(ticket)) return false;
      await this.jobs.tiles.use(sheet, need, add);
    }
    return true;
  }
}
