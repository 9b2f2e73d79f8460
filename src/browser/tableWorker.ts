import { type TextureSample, textureSamples } from '@/core/texture';
import * as Comlink from 'comlink';
import { type LinearRgb, linearFromRgb8, parseHexColour } from '@/core/colour';
import type { PlatePlanes } from '@/core/fit';
import { containsRect, expandRect } from '@/core/geometry';
import type { Kernels } from '@/core/kernels';
import {
  type ArtworkNeed,
  DifferencePainter,
  type DotsJudged,
  FilmTones,
  type Pixels,
  PrintableColours,
  type Reading,
  ReasonFinder,
  type ShiftCost,
  type View,
  type ViewLevel,
  artworkLight,
  artworkNeed,
  clipToPrint,
  dotPlanes,
  drawDown,
  encodeRgba,
  evaluatePlates,
  shiftPlanes,
  shiftReach,
  shiftReachMm,
  labelsForPlates,
  labelsKey,
  labelsMargin,
  leftBare,
  makeReading,
  plateArtworkNeed,
  platesKey,
  platesOfLabels,
  predictFilm,
  predictPrint,
  heldPlanes,
  printedPlanes,
  readingView,
  stepBack,
  stepBackMargin,
  tablesFor,
  viewLevel,
  wantGarment,
  widerView,
} from '@/core/pipeline';
import { Arena } from '@/core/raster';
import { type Arrangement, type MoirePoint, moireCurve } from '@/core/checks';
import { type Grating, ThresholdTiles } from '@/core/screening';
import { droppedGround } from '@/core/separation';
import { type JobSheet, fullToneLayer, isSimulated } from '@/core/sheet';
import { costsOfShift, suggestedScreens } from './advice';
import { InkAdviser } from './inkAdviser';
import {
  type ArtworkRequest,
  type DrawnBand,
  type DrawRequest,
  type ReadRequest,
  SURVEYOR,
  type Subject,
  type AreaRequest,
  type PlaceRequest,
} from './requests';
import { checkerOf, groundOf } from './grounds';
import { LastEvaluated } from './lastEvaluated';
import { PreparedJobs } from './preparedJobs';
import { areaOutline, colourAt, labelOutline } from './places';
import { inWholeBytes, isNear, roomy } from './regions';
import { SolvedTables } from './solvedTables';
import { Surveys } from './surveys';
import { Turns, breathe } from './turns';
import { fillPixels, pastePixels, shadeBeyond } from './windowPixels';

/** Bytes of decoded artwork that are kept for views to come, and by a worker that goes over the whole print band by band. */
const VIEW_BUDGET = 20e6;
const SURVEY_BUDGET = 6e6;

const LOOK_AHEAD_MS = 200;

/** Evaluates what is visible, away from the page's own thread, by the same core that makes the films. */
class TableWorker {
  private readonly turns = new Turns();
  private readonly jobs = new PreparedJobs(self.name === SURVEYOR ? SURVEY_BUDGET : VIEW_BUDGET);
  private readonly tiles = this.jobs.tiles;
  private readonly thresholds = new ThresholdTiles();
  private readonly tones = new FilmTones();
  private readonly scratch = new Arena();
  /** Drafts and what follows them take turns while a hand drags: each goes on from its own last one. */
  private readonly drafts = new LastEvaluated(this.scratch);
  private readonly finished = new LastEvaluated(this.scratch);
  private readonly differences = new DifferencePainter();
  private readonly tables = new SolvedTables();
  private room = new ArrayBuffer(0);
  private ahead: ReturnType<typeof setTimeout> | undefined;
  private readonly inks = new InkAdviser({
    prepare: (sheet, hasOuterMap) => this.jobs.prepare(sheet, hasOuterMap),
    use: (sheet, need, add) => this.tiles.use(sheet, need, add),
    rest: () => this.turns.rest(),
  });
  private readonly surveys = new Surveys(this.jobs, this.tables, this.turns);

  /** Makes everything before this ticket void. */
  supersede(ticket: number): void {
    this.turns.supersede(ticket);
  }

  /** Surveys and searches wait until `resume`. */
  hold(): void {
    this.turns.hold();
  }

  resume(): void {
    this.turns.resume();
  }

  /** Fetches what every drawing needs. */
  async warm(): Promise<void> {
    await this.jobs.kernels();
  }

  /** Draws a view; null when a newer request came meanwhile. */
  async draw(request: DrawRequest): Promise<DrawnBand | null> {
    this.turns.supersede(request.ticket);
    await breathe();
    if (this.turns.isOver(request.ticket)) return null;
    const { view, sheet, subject } = request;
    const bytes = view.width * view.height * 4;
    const { room } = request;
    const pixels = new Uint8ClampedArray(room?.byteLength === bytes ? room : new ArrayBuffer(bytes));
    fillPixels(pixels, groundOf(request));
    // Most of a window may be bare garment, which needs no evaluation.
    const part = clipToPrint(sheet, view, shiftReachMm(request.shifts, sheet));
    if (part) {
      const drawn = await this.part(request, part.view, subject);
      if (!drawn || this.turns.isOver(request.ticket)) return null;
      pastePixels(drawn, part, pixels, view.width);
    }
    shadeBeyond(pixels, sheet, view, request.surround);
    return Comlink.transfer({ width: view.width, height: view.height, pixels }, [pixels.buffer]);
  }

  /** Whether a sheet's tones have to be solved before it is drawn, and a draft of them can be shown until then. */
  wantsDraft(sheet: JobSheet): Promise<boolean> {
    return this.tables.wantDraft(tablesFor(sheet));
  }

  private async part(request: DrawRequest, view: View, subject: Subject): Promise<Pixels | null> {
    const { sheet, awayM } = request;
    const away = subject === 'dots' && awayM > 0;
    const shown = away ? widerView(view, stepBackMargin(view, awayM)) : view;
    const level = viewLevel(sheet, shown, subject === 'dots');
    if (subject === 'artwork') return this.artwork(request, level, view, null);
    const kernels = await this.jobs.kernels();
    const reach = shiftReach(request.shifts, level.grid);
    const made = await this.evaluate(request, { ...level, region: expandRect(level.region, reach) });
    // A newer drawing's planes may have taken these planes' place.
    if (!made || this.turns.isOver(request.ticket)) return null;
    // A film shows its plate where it should lie.
    const planes = reach > 0 && subject !== 'film' ? shiftPlanes(made, level.grid, request.shifts) : made;
    const pixels = await this.picture(request, level, shown, planes, kernels);
    return pixels && away ? stepBack(pixels, view, awayM) : pixels;
  }

  private async picture(
    request: DrawRequest,
    wanted: ViewLevel,
    view: View,
    planes: PlatePlanes,
    kernels: Kernels,
  ): Promise<Pixels | null> {
    const { sheet, subject, plateId, garment } = request;
    const level = { ...wanted, region: planes.rect };
    const lifted = new Set([...request.lifted, ...garment.without]);
    if (subject === 'difference' || subject === 'reasons') {
      const printed = printedPlanes(planes, sheet, this.tones);
      const options = { lifted, passes: request.passes, garment: garment.colour };
      const print = predictPrint(printed, sheet, level, view, kernels, options);
      const ground = linearFromRgb8(parseHexColour(garment.colour));
      const artwork = await this.artwork(request, wanted, view, ground);
      if (!artwork) return null;
      wantDropped(request, print, artwork, view.width);
      if (subject === 'difference' || !isSimulated(sheet)) return this.differences.paint(print, artwork);
      const printable = new PrintableColours(sheet, garment).print(artwork);
      const lossy = heldPlanes(printed, sheet, this.tones);
      const held = lossy && predictPrint(lossy, sheet, level, view, kernels, options);
      return new ReasonFinder(parseHexColour(garment.colour)).paint({ print, artwork, printable, held });
    }
    if (subject === 'film' && plateId !== null) {
      const real = level.atFilm && planes.planes.some((plane) => plane.plate.id === plateId && plane.tone);
      const shown = real
        ? dotPlanes(planes, sheet, this.thresholds, this.tones, kernels, 'film', plateId)
        : planes;
      const shownLevel = { ...wanted, region: shown.rect };
      return predictFilm(shown, plateId, shownLevel, view, kernels, this.pixelsOf(view));
    }
    const shown =
      subject === 'dots'
        ? dotPlanes(planes, sheet, this.thresholds, this.tones, kernels, 'print')
        : printedPlanes(planes, sheet, this.tones);
    const { passes } = request;
    const shownLevel = { ...wanted, region: shown.rect };
    return predictPrint(shown, sheet, shownLevel, view, kernels, {
      lifted,
      passes,
      garment: garment.colour,
      out: this.pixelsOf(view),
    });
  }

  /** Memory for a picture that goes on at once; the next one lies in the same place. */
  private pixelsOf({ width, height }: View): Pixels {
    const bytes = width * height * 4;
    if (this.room.byteLength < bytes) this.room = new ArrayBuffer(bytes);
    return new Uint8ClampedArray(this.room, 0, bytes);
  }

  private async artwork(
    request: DrawRequest,
    level: ViewLevel,
    view: View,
    ground: LinearRgb | null,
  ): Promise<Pixels | null> {
    const { sheet } = request;
    const need = artworkNeed(sheet, level.grid, level.region, 1);
    const checker = checkerOf(level.grid.pxPerMm);
    return this.tiles.use(sheet, need, (art) => {
      if (this.turns.isOver(request.ticket)) return null;
      const light = artworkLight(sheet, level.grid, level.region, need, art, ground ? () => ground : checker);
      return encodeRgba(drawDown(light, level, view));
    });
  }

  /**
   * The plates of a level's region, and a little beyond it while the view is moved, so that the next small move finds them
   * done; a change goes back only to the stage that it touches.
   */
  private async evaluate(request: DrawRequest, level: ViewLevel): Promise<PlatePlanes | null> {
    const { sheet } = request;
    const { grid } = level;
    const key = `${platesKey(sheet)}|${grid.pxPerMm}`;
    const last = fullToneLayer(sheet)?.draft ? this.drafts : this.finished;
    if (last.planes?.key === key && containsRect(last.planes.valid, level.region)) return last.planes.value;
    const job = await this.jobs.prepare(sheet, request.hasOuterMap);
    await this.tables.ready(tablesFor(sheet, request.subject === 'reasons' ? [request.garment] : []), () =>
      this.turns.isOver(request.ticket),
    );
    if (this.turns.isOver(request.ticket)) return null;
    const margin = labelsMargin(job, grid);
    const labelKey = `${labelsKey(sheet)}|${grid.pxPerMm}`;
    let labels = last.labels?.key === labelKey ? last.labels.value : null;
    if (!labels || !containsRect(labels.rect, expandRect(level.region, margin))) {
      const near = last.planes?.key === key && isNear(last.planes.valid, level.region);
      const wanted = inWholeBytes(expandRect(near ? roomy(sheet, level) : level.region, FIT_ROOM_PX), margin);
      const need = plateArtworkNeed(job, grid, wanted);
      labels = await this.tiles.use(sheet, need, (art) => {
        if (this.turns.isOver(request.ticket)) return null;
        // Both are overwritten from here on.
        [last.labels, last.planes] = [null, null];
        return labelsForPlates({ ...job, memory: last.labelMemory.renew() }, grid, wanted, art);
      });
      if (!labels || this.turns.isOver(request.ticket)) return null;
      last.labels = { key: labelKey, value: labels };
      this.lookAhead(request, need);
    }
    last.planes = null;
    const planes = platesOfLabels(job, grid, labels, { made: last.stages });
    last.planes = { key, value: planes, valid: expandRect(labels.rect, -margin) };
    return planes;
  }

  /** Once nothing else is wanted, the artwork beside what is in view is fetched, so that a move finds it there. */
  private lookAhead({ sheet, ticket }: DrawRequest, need: ArtworkNeed): void {
    clearTimeout(this.ahead);
    const isOver = () => this.turns.isOver(ticket);
    this.ahead = setTimeout(() => {
      // It is asked for again when it is needed; only then does it matter that it cannot be had.
      if (!isOver()) void this.tiles.fetchAround(sheet, need, isOver).catch(() => undefined);
    }, LOOK_AHEAD_MS);
  }

  /** What stands at one place, at the film's resolution. */
  async read(request: ReadRequest): Promise<Reading> {
    const { sheet, garment } = request;
    const job = await this.jobs.prepare(sheet, request.hasOuterMap);
    await this.tables.ready(tablesFor(sheet), () => false);
    const { view, level } = readingView(sheet, request.xMm, request.yMm);
    const planes = await this.tiles.use(sheet, plateArtworkNeed(job, level.grid, level.region), (art) =>
      evaluatePlates(job, level.grid, level.region, art),
    );
    const print = predictPrint(printedPlanes(planes, sheet, this.tones), sheet, level, view, job.kernels, {
      garment: garment.colour,
      lifted: new Set(garment.without),
    });
    const need = artworkNeed(sheet, level.grid, level.region, 1);
    const ground = linearFromRgb8(parseHexColour(garment.colour));
    const light = await this.tiles.use(sheet, need, (art) =>
      artworkLight(sheet, level.grid, level.region, need, art, () => ground),
    );
    const artwork = encodeRgba(drawDown(light, level, view));
    wantDropped(request, print, artwork, view.width);
    return makeReading(planes, print, artwork);
  }

  /** The artwork's colour at one place; null where it is transparent. */
  sample(request: PlaceRequest): ReturnType<typeof colourAt> {
    return colourAt(this.tiles, request);
  }

  /** The area of one colour that a place belongs to: the colour's index and an outline; null where no colour stands. */
  async outline(request: PlaceRequest): ReturnType<typeof labelOutline> {
    return labelOutline(this.tiles, await this.jobs.prepare(request.sheet, request.hasOuterMap), request);
  }

  /** The outline of the area of like colours that a place of the artwork belongs to; null beyond the print. */
  area(request: AreaRequest): ReturnType<typeof areaOutline> {
    return areaOutline(this.tiles, request);
  }

  /** Small pictures of all textures. */
  textureSamples(): TextureSample[] {
    return textureSamples();
  }

  /** How the beats of a plate change with its angle or its frequency. */
  moire(...request: Parameters<typeof moireCurve>): MoirePoint[] {
    return moireCurve(...request);
  }

  /** Screens for plates with dots. */
  suggest(...request: Parameters<typeof suggestedScreens>): [string, Grating][] {
    return suggestedScreens(...request);
  }

  /** What each arrangement of some plates' dots costs when one of them lies off. */
  async shiftCosts(...request: Parameters<typeof costsOfShift>): Promise<[Arrangement, ShiftCost][]> {
    const kernels = await this.jobs.kernels();
    return costsOfShift(...request)(this.thresholds, kernels);
  }

  /** How each arrangement of some plates' dots prints a job of tones. */
  async judgeDots(
    request: ArtworkRequest,
    ids: readonly string[],
    meet: readonly number[],
  ): Promise<[Arrangement, DotsJudged][]> {
    const kernels = await this.jobs.kernels();
    return this.inks.judgeDots(request, ids, meet, { tiles: this.thresholds, kernels });
  }

  surveyAreas(...asked: Parameters<Surveys['areas']>): ReturnType<Surveys['areas']> {
    return this.surveys.areas(...asked);
  }

  surveyEdges(...asked: Parameters<Surveys['edges']>): ReturnType<Surveys['edges']> {
    return this.surveys.edges(...asked);
  }

  /** Looks for inks; false when a newer question came meanwhile. */
  adviseInks(...asked: Parameters<InkAdviser['advise']>): Promise<boolean> {
    const advice = this.inks.advise(...asked);
    return asked[0].isAwaited ? this.turns.goFirst(advice) : advice;
  }

  stopInks(ticket: number): void {
    this.inks.stop(ticket);
  }
}

/** Pixels that labels reach further than fit needs, so that larger distances find them done. */
const FIT_ROOM_PX = 12;

export type TableWorkerApi = TableWorker;

const table = new TableWorker();
// While the page asks the server for its job, the kernels can be had already.
void table.warm();
Comlink.expose(table);

/** Where a background that the garment may stand for was dropped, the artwork takes the garment's colour. */
function wantDropped(
  { sheet, garment: worn }: Pick<ReadRequest, 'sheet' | 'garment'>,
  print: Uint8ClampedArray,
  artwork: Uint8ClampedArray,
  width: number,
): void {
  const dropped = droppedGround(sheet, worn.colour);
  if (!dropped || dropped.counted) return;
  const garment = parseHexColour(worn.colour);
  wantGarment(artwork, leftBare(print, artwork, width, garment, dropped.rgb), garment);
}
