import type { RgbaPlane } from '../artwork';
import { Arena } from '../raster';
import { ColourCount, type WeighedColour } from '../solving';
import type { JobSheet } from '../sheet';
import { type PlateJob, plateArtworkNeed } from './evaluatePlates';
import { evaluateColours } from './regionShares';
import { keyOf, sourceSetting } from './sourceSetting';
import { surveyBands, surveyGrid } from './survey';
import type { SurveyStep } from './surveySteps';

/** The artwork's colours while sets of inks are compared, and when one is measured. */
const FEW = 96;
const MANY = 256;

/** Colours that stand for artwork: a few, and more of them. */
export interface ArtworkColours {
  readonly few: readonly WeighedColour[];
  readonly many: readonly WeighedColour[];
}

/** Equal for two jobs of tones whose artwork has the same colours. */
export function coloursKey(sheet: JobSheet): string {
  const setting = sourceSetting(sheet);
  return `${keyOf({ ...setting, tones: null })}|${JSON.stringify(setting.tones?.garment ?? null)}`;
}

/** Counts the colours that a job prints by its tones, step by step, at the resolution of a survey; each has the weight of its area. */
export class ColourSurveyor {
  private readonly job: PlateJob;
  private readonly memory = new Arena();
  private readonly count = new ColourCount();

  /** @param job one that is printed by tones. */
  constructor(job: PlateJob) {
    this.job = { ...job, memory: this.memory };
  }

  *steps(): Generator<SurveyStep> {
    const grid = surveyGrid(this.job.sheet);
    for (const band of surveyBands(grid)) {
      const need = plateArtworkNeed(this.job, grid, band);
      yield {
        need,
        add: (art: RgbaPlane) => {
          this.memory.reset();
          if (need.rect.width === 0 || need.rect.height === 0) return;
          const { colours, printing } = evaluateColours(this.job, grid, need, art);
          this.count.add(colours, printing);
        },
      };
    }
  }

  /** After the last step. */
  result(): ArtworkColours {
    return { few: this.count.weigh(FEW), many: this.count.weigh(MANY) };
  }
}
