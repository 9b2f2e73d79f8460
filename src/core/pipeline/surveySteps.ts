import type { RgbaPlane } from '../artwork';
import type { GapSurvey } from '../checks';
import { Arena } from '../raster';
import { DifferenceSurvey } from './differenceSurvey';
import { type PlateJob, plateArtworkNeed } from './evaluatePlates';
import { GapCounter, gapBands, gapGrid, hasGapSurvey } from './gapSurvey';
import type { ArtworkNeed } from './printGrid';
import { EdgeSearch, hasEdgeSurvey } from './edgeSurvey';
import { surveyWear } from './wearSurvey';
import { type AreaFound, type EdgeFound, SurveyCounter, surveyBands, surveyGrid } from './survey';

/** A part of the work: what it needs of the artwork, and what is done with that. */
export interface SurveyStep {
  readonly need: ArtworkNeed;
  /** @param art the plane that was needed; it is done with afterwards. */
  add(art: RgbaPlane): void;
}

/** Looks at the whole of a print, step by step, so that whoever runs it can wait, stop and fetch artwork between the steps. */
abstract class Surveyor<Found> {
  /** A step's planes are done with once they are counted. */
  protected readonly job: PlateJob;
  private readonly memory = new Arena();

  constructor(job: PlateJob) {
    this.job = { ...job, memory: this.memory };
  }

  abstract steps(): Generator<SurveyStep>;

  /** After the last step. */
  abstract result(): Found;

  protected step(need: ArtworkNeed, add: SurveyStep['add']): SurveyStep {
    return {
      need,
      add: (art) => {
        this.memory.reset();
        add(art);
      },
    };
  }
}

/** What plates cover, and how far the print is from its artwork. */
export class AreaSurveyor extends Surveyor<AreaFound> {
  private readonly counter: SurveyCounter;
  private readonly comparison: DifferenceSurvey;
  private foundGaps: GapSurvey | null;

  /** @param gaps what an earlier survey found of gaps, where `gapsKey` is the same. */
  constructor(job: PlateJob, gaps: GapSurvey | null = null) {
    super(job);
    this.counter = new SurveyCounter(job.sheet, surveyGrid(job.sheet));
    this.comparison = new DifferenceSurvey(this.job);
    this.foundGaps = gaps;
  }

  /** What was found of gaps; null where they were not looked for. */
  get gaps(): GapSurvey | null {
    return this.foundGaps;
  }

  override *steps(): Generator<SurveyStep> {
    const { job, counter, comparison } = this;
    const grid = surveyGrid(job.sheet);
    for (const band of surveyBands(grid)) {
      yield this.step(plateArtworkNeed(job, grid, band), (art) => counter.addBand(job, band, art));
    }
    if (!this.foundGaps && hasGapSurvey(job.sheet)) {
      const fine = gapGrid(job.sheet);
      const gaps = new GapCounter(fine);
      for (const band of gapBands(fine)) {
        yield this.step(gaps.need(job.sheet, band), (art) => gaps.addBand(job, band, art));
      }
      this.foundGaps = gaps.result();
    }
    for (const band of comparison.bands()) yield this.step(band.need, (art) => comparison.add(band, art));
  }

  override result(): AreaFound {
    return this.counter.result({
      gaps: this.foundGaps,
      wear: surveyWear(this.job.sheet, this.job.kernels),
      difference: this.comparison.result(),
    });
  }
}

/** What is found on the finer grid of edges: as much work as all areas, and apart from them so that both can be done at once. */
export class EdgeSurveyor extends Surveyor<EdgeFound> {
  private readonly search: EdgeSearch | null;

  constructor(job: PlateJob) {
    super(job);
    this.search = hasEdgeSurvey(job.sheet) ? new EdgeSearch(this.job) : null;
  }

  override *steps(): Generator<SurveyStep> {
    for (const { need, add } of this.search?.bands() ?? []) yield this.step(need, add);
  }

  override result(): EdgeFound {
    return this.search?.result() ?? { edges: null, thin: null, pieces: null };
  }
}
