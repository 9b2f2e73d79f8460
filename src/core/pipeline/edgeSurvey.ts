import type { RgbaPlane } from '../artwork';
import { type Rect, byteColumns, expandRect } from '../geometry';
import { BARE, type LabelMap, cellKinds } from '../separation';
import { type JobSheet, isSimulated, isSupplied } from '../sheet';
import { crispPlanes, withFaint } from './crispPlanes';
import { EdgeCounter } from './edgeMargins';
import { type PlateJob, labelsOfShares, plateArtworkNeed, platesOfLabels } from './evaluatePlates';
import { SmallPieceCounter } from './pieceSurvey';
import { type ArtworkNeed, type PrintGrid, isDrawnAtPrint, printGrid } from './printGrid';
import { evaluateShares } from './regionShares';
import type { EdgeFound } from './survey';
import { ThinCounter } from './thinPlaces';

/** Edges are looked at with at least so many pixels an inch. */
const EDGE_DPI = 300;
/** Sides of what is made at a time: what lies round it does not weigh much, and it stays in a processor's cache. */
const BAND_ROWS = 512;
const COLUMNS = 512;

/** Whether a job's edges are surveyed: those of flat colours are, and those of plates that the file brings. */
export function hasEdgeSurvey(sheet: JobSheet): boolean {
  return !isSimulated(sheet) && sheet.plates.length > 0;
}

/** The film's resolution, halved until just above what edges need. */
export function edgeGrid(sheet: JobSheet): PrintGrid {
  let { dpi } = sheet.film;
  while (dpi / 2 >= EDGE_DPI) dpi /= 2;
  return printGrid(sheet, dpi);
}

/** A part of the print that is looked at, and what it needs of the artwork. */
interface EdgeBand {
  readonly need: ArtworkNeed;
  add(art: RgbaPlane): void;
}

/**
 * Looks at edges, thin places and small pieces of all plates, block by block. A texture is left out: its holes are drawn back from like garment.
 */
export class EdgeSearch {
  private readonly grid: PrintGrid;
  private readonly edges: EdgeCounter;
  private readonly thin: ThinCounter;
  private readonly pieces: SmallPieceCounter;

  constructor(private readonly job: PlateJob) {
    const { sheet, kernels } = job;
    this.grid = edgeGrid(sheet);
    this.edges = new EdgeCounter(sheet, this.grid);
    this.thin = new ThinCounter(sheet, this.grid, kernels);
    this.pieces = new SmallPieceCounter(sheet, this.grid);
  }

  *bands(): Generator<EdgeBand> {
    const { widthPx, heightPx } = this.grid;
    for (let y = 0; y < heightPx; y += BAND_ROWS) {
      const band = { x: 0, y, width: widthPx, height: Math.min(BAND_ROWS, heightPx - y) };
      const need = plateArtworkNeed(this.job, this.grid, this.around(band));
      yield { need, add: (art) => this.add(band, need, art) };
    }
  }

  /** A region and as far round it as is looked at. */
  private around(region: Rect): Rect {
    return expandRect(region, Math.max(this.edges.halo, this.thin.halo));
  }

  private add(band: Rect, need: ArtworkNeed, art: RgbaPlane): void {
    const { job, grid, edges, thin } = this;
    const { memory, kernels, sheet } = job;
    // Pieces are joined over whole rows.
    const rows = sheet.plates.map(() => memory.bytes(band.width * band.height));
    const region = evaluateShares(job, grid, need, art);
    const kinds = isDrawnAtPrint(sheet) ? undefined : cellKinds(region.shares, kernels, memory);
    for (const block of byteColumns(band, COLUMNS)) {
      memory.scratch(() => {
        const around = this.around(block);
        const labels = labelsOfShares(job, grid, around, region, kinds);
        const even = evenLabel(labels);
        if (even === BARE) return;
        if (even !== null) {
          // One pixel tells what all of them print, and nothing ends here.
          const one = {
            rect: { ...block, width: 1, height: 1 },
            label: labels.label.subarray(0, 1),
            tones: null,
          };
          platesOfLabels(job, grid, one, { unworn: true }).planes.forEach(({ shape }, k) =>
            forEachRow(block, band, (to) => rows[k]!.fill(shape[0]!, to, to + block.width)),
          );
          return;
        }
        const planes = platesOfLabels(job, grid, labels, { region: around, unworn: true });
        const { rect } = planes;
        const copy = (shape: Uint8Array, k: number) =>
          forEachRow(block, band, (to, y) => {
            const from = (y - rect.y) * rect.width + block.x - rect.x;
            rows[k]!.set(shape.subarray(from, from + block.width), to);
          });
        if (isSupplied(sheet)) {
          const crisp = crispPlanes(planes, memory);
          edges.add(crisp.planes, block, crisp.strong);
          thin.add(crisp.planes, block, crisp.strong);
          crisp.planes.planes.forEach(({ shape }, k) => copy(withFaint(shape, crisp.strong[k]!, memory), k));
          return;
        }
        edges.add(planes, block);
        thin.add(planes, block);
        planes.planes.forEach(({ shape }, k) => copy(shape, k));
      });
    }
    this.pieces.add(rows, band.width);
  }

  result(): EdgeFound {
    return { edges: this.edges.result(), thin: this.thin.result(), pieces: this.pieces.result() };
  }
}

/** The label of all pixels of a map; null where they differ, or some are tones. */
function evenLabel({ label, tones }: LabelMap): number | null {
  if (tones) return null;
  const first = label[0]!;
  for (let i = 1; i < label.length; i++) if (label[i] !== first) return null;
  return first;
}

/** @param visit told where a row of the block begins in the band, and which row of the print it is. */
function forEachRow(block: Rect, band: Rect, visit: (at: number, y: number) => void): void {
  for (let y = block.y; y < block.y + block.height; y++)
    visit((y - band.y) * band.width + block.x - band.x, y);
}
