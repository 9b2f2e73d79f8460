import type { RgbaPlane } from '../artwork';
import type { GapSurvey } from '../checks';
import { Arena } from '../raster';
import { DifferenceSurvey } from './differenceSurvey';
import { type PlateJob, plateArtworkNeed } from './evaluatePlates';
import { GapCounter, gapBands, gapGrid, hasGapSurvey } from './gapSurvey';
import type { ArtworkNeed } from './printGrid';
import { EdgeCounter, edgeBands, edgeGrid, hasEdgeSurvey } from './edgeMargins';
import { SmallPieceCounter } from './pieceSurvey';
import { ThinCounter } from './thinPlaces';
import { surveyWear } from './wearSurvey';
import { type Survey, SurveyCounter, surveyBands, surveyGrid } from './survey';

/** A part of the work: what it needs of the artwork, and what is done with that. */
export interface SurveyStep {
  readonly need: ArtworkNeed;
  /** @param art the plane that was needed; it is done with afterwards. */
  add(art: RgbaPlane): void;
}

/** Looks at the whole of a print, step by step, so that whoever runs it can wait, stop and fetch artwork between the steps. */
export class PrintSurveyor {
  private readonly job: PlateJob;
  private readonly memory = new Arena();
  private readonly counter: SurveyCounter;
  private readonly comparison: DifferenceSurvey;
  private readonly edges: EdgeCounter | null;
  private readonly thin: ThinCounter | null;
  private readonly pieces: SmallPieceCounter | null;
  private foundGaps: GapSurvey | null;

  /** @param gaps what an earlier survey found of gaps, where `gapsKey` is the same. */
  constructor(job: PlateJob, gaps: GapSurvey | null = null) {
    // A step's planes are done with once they are counted.
    this.job = { ...job, memory: this.memory };
    this.counter = new SurveyCounter(job.sheet, surveyGrid(job.sheet));
    this.comparison = new DifferenceSurvey(this.job);
    this.foundGaps = gaps;
    const fine = hasEdgeSurvey(job.sheet) ? edgeGrid(job.sheet) : null;
    this.edges = fine && new EdgeCounter(job.sheet, fine);
    this.thin = fine && new ThinCounter(job.sheet, fine, job.kernels);
    this.pieces = fine && new SmallPieceCounter(job.sheet, fine);
  }

  /** What was found of gaps; null where they were not looked for. */
  get gaps(): GapSurvey | null {
    return this.foundGaps;
  }

  *steps(): Generator<SurveyStep> {
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
    const { edges, thin, pieces } = this;
    for (const band of edges ? edgeBands(edgeGrid(job.sheet)) : []) {
      yield this.step(edges!.need(job, band), (art) => {
        const planes = edges!.planes(job, band, art);
        edges!.add(planes, band);
        thin!.add(planes, band);
        pieces!.add(planes, band);
      });
    }
    for (const band of comparison.bands()) yield this.step(band.need, (art) => comparison.add(band, art));
  }

  private step(need: ArtworkNeed, add: SurveyStep['add']): SurveyStep {
    return {
      need,
      add: (art) => {
        this.memory.reset();
        add(art);
      },
    };
  }

  /** After the last step. */
  result(): Survey {
    const { sheet, kernels } = this.job;
    return this.counter.result({
      gaps: this.foundGaps,
      edges: this.edges?.result() ?? null,
      thin: this.thin?.result() ?? null,
      pieces: this.pieces?.result() ?? null,
      wear: surveyWear(sheet, kernels),
      difference: this.comparison.result(),
    });
  }
}
