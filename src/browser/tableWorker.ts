import { type TextureSample, textureSamples } from '@/core/texture';
import * as Comlink from 'comlink';
import { type OuterMap } from '@/core/artwork';
import { type LinearRgb, linearFromRgb8, parseHexColour } from '@/core/colour';
import type { PlatePlanes } from '@/core/fit';
import { containsRect, expandRect } from '@/core/geometry';
import { type Kernels, PLAIN_KERNELS, createWasmKernels } from '@/core/kernels';
import {
  type AreaFound,
  AreaSurveyor,
  type ArtworkNeed,
  DifferencePainter,
  type DotsJudged,
  type EdgeFound,
  EdgeSurveyor,
  FilmTones,
  type Pixels,
  type PlateJob,
  PrintableColours,
  type Reading,
  ReasonFinder,
  type ShiftCost,
  type SurveyStep,
  type View,
  type ViewLevel,
  artworkLight,
  artworkNeed,
  clipToPrint,
  dotPlanes,
  drawDown,
  encodeRgba,
  evaluatePlates,
  gapsKey,
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
  preparePlateJob,
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
import { Arena, FRESH_MEMORY } from '@/core/raster';
import { type Arrangement, type GapSurvey, type MoirePoint, moireCurve } from '@/core/checks';
import { type Grating, ThresholdTiles } from '@/core/screening';
import { droppedGround } from '@/core/separation';
import {
  type JobSheet,
  artworkOf,
  droppedBackground,
  fullToneLayer,
  isSimulated,
  tonedGarments,
} from '@/core/sheet';
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
import { type Kept, LastEvaluated } from './lastEvaluated';
import { areaOutline, colourAt, labelOutline } from './places';
import { inWholeBytes, isNear, roomy } from './regions';
import { SolvedTables } from './solvedTables';
import { TileStore, fetchTexture } from './tileStore';
import { fillPixels, pastePixels, shadeBeyond } from './windowPixels';

/** Bytes of decoded artwork that are kept for views to come, and by a worker that goes over the whole print band by band. */
const VIEW_BUDGET = 20e6;
const SURVEY_BUDGET = 6e6;

const LOOK_AHEAD_MS = 200;

/** Lets messages that wait be heard: a newer request makes the running one void. */
function breathe(): Promise<void> {
  return new Promise((resolve) => {
    const channel = new MessageChannel();
    channel.port1.onmessage = () => {
      channel.port1.close();
      resolve();
    };
    channel.port2.postMessage(null);
  });
}

/** Evaluates what is visible, away from the page's own thread, by the same core that makes the films. */
class TableWorker {
  private readonly tiles = new TileStore(self.name === SURVEYOR ? SURVEY_BUDGET : VIEW_BUDGET, () =>
    this.loadKernels(),
  );
  private readonly thresholds = new ThresholdTiles();
  private readonly tones = new FilmTones();
  private readonly scratch = new Arena();
  /** Drafts and what follows them take turns while a hand drags: each goes on from its own last one. */
  private readonly drafts = new LastEvaluated(this.scratch);
  private readonly finished = new LastEvaluated(this.scratch);
  private readonly differences = new DifferencePainter();
  private readonly tables = new SolvedTables();
  private room = new ArrayBuffer(0);
  private latest = 0;
  private ahead: ReturnType<typeof setTimeout> | undefined;
  private held: PromiseWithResolvers<void> | null = null;
  /** A search for inks that the page waits for; surveys let it go first. */
  private awaited: Promise<unknown> | null = null;
  private job: Kept<PlateJob> | null = null;
  private gaps: Kept<GapSurvey | null> | null = null;
  private readonly inks = new InkAdviser({
    prepare: (sheet, hasOuterMap) => this.prepare(sheet, hasOuterMap),
    use: (sheet, need, add) => this.tiles.use(sheet, need, add),
    rest: async () => {
      await breathe();
      await this.held?.promise;
    },
  });
  private kernels: Promise<Kernels> | null = null;
  private outer: { sha256: string; map: Promise<OuterMap> } | null = null;

  /** Makes everything before this ticket void. */
  supersede(ticket: number): void {
    this.latest = Math.max(this.latest, ticket);
  }

  /** Surveys wait until `resume`. */
  hold(): void {
    this.held ??= Promise.withResolvers<void>();
  }

  resume(): void {
    this.held?.resolve();
    this.held = null;
  }

  /** Fetches what every drawing needs. */
  async warm(): Promise<void> {
    await this.loadKernels();
  }

  /** Draws a view; null when a newer request came meanwhile. */
  async draw(request: DrawRequest): Promise<DrawnBand | null> {
    this.supersede(request.ticket);
    await breathe();
    if (request.ticket < this.latest) return null;
    const { view, sheet, subject } = request;
    const bytes = view.width * view.height * 4;
    const { room } = request;
    const pixels = new Uint8ClampedArray(room?.byteLength === bytes ? room : new ArrayBuffer(bytes));
    fillPixels(pixels, groundOf(request));
    // Most of a window may be bare garment, which needs no evaluation.
    const part = clipToPrint(sheet, view, shiftReachMm(request.shifts, sheet));
    if (part) {
      const drawn = await this.part(request, part.view, subject);
      if (!drawn || request.ticket < this.latest) return null;
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
    const kernels = await this.loadKernels();
    const reach = shiftReach(request.shifts, level.grid);
    const made = await this.evaluate(request, { ...level, region: expandRect(level.region, reach) });
    // A newer drawing's planes may have taken these planes' place.
    if (!made || request.ticket < this.latest) return null;
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
      if (request.ticket < this.latest) return null;
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
    const job = await this.prepare(sheet, request.hasOuterMap);
    await this.tables.ready(
      tablesFor(sheet, request.subject === 'reasons' ? [request.garment] : []),
      () => request.ticket < this.latest,
    );
    if (request.ticket < this.latest) return null;
    const margin = labelsMargin(job, grid);
    const labelKey = `${labelsKey(sheet)}|${grid.pxPerMm}`;
    let labels = last.labels?.key === labelKey ? last.labels.value : null;
    if (!labels || !containsRect(labels.rect, expandRect(level.region, margin))) {
      const near = last.planes?.key === key && isNear(last.planes.valid, level.region);
      const wanted = inWholeBytes(expandRect(near ? roomy(sheet, level) : level.region, FIT_ROOM_PX), margin);
      const need = plateArtworkNeed(job, grid, wanted);
      labels = await this.tiles.use(sheet, need, (art) => {
        if (request.ticket < this.latest) return null;
        // Both are overwritten from here on.
        [last.labels, last.planes] = [null, null];
        return labelsForPlates({ ...job, memory: last.labelMemory.renew() }, grid, wanted, art);
      });
      if (!labels || request.ticket < this.latest) return null;
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
    const isOver = () => ticket < this.latest;
    this.ahead = setTimeout(() => {
      // It is asked for again when it is needed; only then does it matter that it cannot be had.
      if (!isOver()) void this.tiles.fetchAround(sheet, need, isOver).catch(() => undefined);
    }, LOOK_AHEAD_MS);
  }

  /** What stands at one place, at the film's resolution. */
  async read(request: ReadRequest): Promise<Reading> {
    const { sheet, garment } = request;
    const job = await this.prepare(sheet, request.hasOuterMap);
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
    return labelOutline(this.tiles, await this.prepare(request.sheet, request.hasOuterMap), request);
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
    const kernels = await this.loadKernels();
    return costsOfShift(...request)(this.thresholds, kernels);
  }

  /** How each arrangement of some plates' dots prints a job of tones. */
  async judgeDots(
    request: ArtworkRequest,
    ids: readonly string[],
    meet: readonly number[],
  ): Promise<[Arrangement, DotsJudged][]> {
    const kernels = await this.loadKernels();
    return this.inks.judgeDots(request, ids, meet, { tiles: this.thresholds, kernels });
  }

  /** Looks at the areas of the whole print; null when a newer survey was asked for meanwhile. */
  async surveyAreas(sheet: JobSheet, hasOuterMap: boolean, ticket: number): Promise<AreaFound | null> {
    const job = await this.prepareSurvey(sheet, hasOuterMap, ticket);
    // Narrow gaps change with few of a job's settings: they are kept until one of those does.
    const key = gapsKey(sheet);
    const surveyor = new AreaSurveyor(job, this.gaps?.key === key ? this.gaps.value : null);
    if (!(await this.runSteps(surveyor.steps(), sheet, ticket))) return null;
    this.gaps = { key, value: surveyor.gaps };
    return surveyor.result();
  }

  /** Looks at the edges of the whole print; null when a newer survey was asked for meanwhile. */
  async surveyEdges(sheet: JobSheet, hasOuterMap: boolean, ticket: number): Promise<EdgeFound | null> {
    const surveyor = new EdgeSurveyor(await this.prepareSurvey(sheet, hasOuterMap, ticket));
    return (await this.runSteps(surveyor.steps(), sheet, ticket)) ? surveyor.result() : null;
  }

  private async prepareSurvey(sheet: JobSheet, hasOuterMap: boolean, ticket: number): Promise<PlateJob> {
    this.supersede(ticket);
    const job = await this.prepare(sheet, hasOuterMap);
    await breathe();
    await this.held?.promise;
    await this.tables.ready(tablesFor(sheet, tonedGarments(sheet)), () => ticket < this.latest);
    return job;
  }

  /** @returns false when a newer survey was asked for meanwhile. */
  private async runSteps(steps: Iterable<SurveyStep>, sheet: JobSheet, ticket: number): Promise<boolean> {
    for (const { need, add } of steps) {
      await breathe();
      await this.held?.promise;
      await this.awaited;
      if (ticket < this.latest) return false;
      await this.tiles.use(sheet, need, add);
    }
    return true;
  }

  /** Looks for inks; false when a newer question came meanwhile. */
  async adviseInks(...asked: Parameters<InkAdviser['advise']>): Promise<boolean> {
    const advice = this.inks.advise(...asked);
    if (!asked[0].isAwaited) return advice;
    const over = advice.catch(() => undefined);
    this.awaited = over;
    try {
      return await advice;
    } finally {
      if (this.awaited === over) this.awaited = null;
    }
  }

  stopInks(ticket: number): void {
    this.inks.stop(ticket);
  }

  private async prepare(sheet: JobSheet, hasOuterMap: boolean): Promise<PlateJob> {
    const key = JSON.stringify(sheet);
    if (this.job?.key === key) return this.job.value;
    const map = droppedBackground(sheet) && hasOuterMap ? await this.loadOuter(sheet) : null;
    if (sheet.texture?.picture) await fetchTexture(sheet.texture.picture.sha256);
    const kernels = await this.loadKernels();
    const job = preparePlateJob(sheet, map, kernels, FRESH_MEMORY, this.job?.value);
    this.job = { key, value: job };
    return job;
  }

  private loadKernels(): Promise<Kernels> {
    this.kernels ??= (async () => {
      try {
        return createWasmKernels(await WebAssembly.compileStreaming(fetch('/kernels.wasm')));
      } catch {
        return PLAIN_KERNELS;
      }
    })();
    return this.kernels;
  }

  private loadOuter(sheet: JobSheet): Promise<OuterMap> {
    const { sha256 } = artworkOf(sheet);
    if (this.outer?.sha256 !== sha256) {
      const map = this.tiles.fetchOuterMap(sha256);
      map.catch(() => (this.outer = null));
      this.outer = { sha256, map };
    }
    return this.outer.map;
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
