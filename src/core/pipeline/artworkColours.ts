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
/** Edges beside them. */
const FEW_EDGES = 4;
const MANY_EDGES = 32;

/** Colours that stand for artwork: a few, and more of them, then the sides of some of its edges. */
export interface ArtworkColours {
  readonly few: readonly WeighedColour[];
  readonly many: readonly WeighedColour[];
}

/** Equal for two jobs of tones whose artwork has the same colours. */
export function coloursKey(sheet: JobSheet): string {
  const setting = sourceSetting(sheet);
  const garment = setting.tones?.garment ?? null;
  return `${keyOf({ ...setting, tones: null })}|${JSON.stringify([garment, sheet.press.toleranceMm])}`;
}

/** Counts the colours that a job prints by its tones, step by step, at the resolution of a survey; each has the weight of its area. */
export class ColourSurveyor {
  private readonly job: PlateJob;
  private readonly memory = new Arena();
  private readonly count = new ColourCount();
  /** The press's tolerance in pixels of the artwork's level. */
  private part = 0;

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
          this.count.addEdges(colours, printing, need.rect.width);
          // A shift changes what is as wide as it is.
          this.part = (this.job.sheet.press.toleranceMm * need.levelWidth) / this.job.sheet.print.widthMm;
        },
      };
    }
  }

  /** After the last step. */
  result(): ArtworkColours {
    const { count, part } = this;
    const withEdges = (colours: WeighedColour[], edges: number) => [
      ...colours,
      ...count.weighEdges(edges, colours.length, part),
    ];
    return {
      few: withEdges(count.weigh(FEW), FEW_EDGES),
      many: withEdges(count.weigh(MANY), MANY_EDGES),
    };
  }
}
