import {
  type DotsJudged,
  type Reading,
  type ShiftCost,
  type Survey,
  type colourArea,
  hasEdgeSurvey,
  type outlineAt,
} from '@/core/pipeline';
import type { Arrangement, MoirePoint, moireCurve } from '@/core/checks';
import type { Grating } from '@/core/screening';
import type { TextureSample } from '@/core/texture';
import { type JobSheet, type Plate, asDraft, fullToneLayer } from '@/core/sheet';
import * as Comlink from 'comlink';
import { Helper } from './helper';
import { PoolMember } from './poolMember';
import {
  type ArtworkRequest,
  type Drawing,
  type DrawRequest,
  type InkAdviceRequest,
  type InkPart,
  type AreaRequest,
  type PlaceRequest,
  type ReadRequest,
} from './requests';

export type DrawOrder = Omit<DrawRequest, 'ticket' | 'room'>;

/** What takes longer goes on when nothing was drawn for so long: between the drawings of a drag it would make the next one late. */
const CALM_MS = 250;

/** Buffers that are kept for drawings to come. */
const MOST_ROOM = 8;

/**
 * After so many drawings a worker is replaced: what a browser sets aside for a worker's short-lived objects grows while it works and is
 * given back only when it rests for long, or ends.
 */
const RENEW_AFTER = 400;

function workerCount(): number {
  return Math.max(1, Math.min(4, navigator.hardwareConcurrency || 2));
}

/** Draws views on web workers, each a band of it; newer requests make older ones void. Two others do what takes longer. */
export class TablePool {
  private started: readonly PoolMember[] | null = null;
  private readonly aside = new Helper();
  /** Looks at edges while the other looks at areas. */
  private readonly edgesAside = new Helper();
  private calm: ReturnType<typeof setTimeout> | undefined;
  private ticket = 0;
  /** Drawings under way. */
  private drawing = 0;
  private last: { readonly key: string; readonly drawings: Promise<Drawing[] | null> } | null = null;
  /** Memory of earlier drawings, for the next ones: the browser frees large buffers late. */
  private readonly room: ArrayBuffer[] = [];
  private surveyTicket = 0;
  private inkTicket = 0;
  private nextRead: { request: ReadRequest; answer: (reading: Reading | null) => void } | null = null;
  private isReading = false;

  /** The key of what was drawn last. */
  private drawn: string | null = null;
  /** Told drafts of what is being drawn. */
  private onDraft: ((orders: readonly DrawOrder[], drawings: readonly Drawing[]) => void) | null = null;

  /** They are made once. */
  private samples: Promise<TextureSample[]> | null = null;

  private isRenewing = false;
  private readonly renewAfter: number;

  /** @param options.renewAfter drawings after which a worker is replaced. */
  constructor(options: { readonly renewAfter?: number } = {}) {
    this.renewAfter = options.renewAfter ?? RENEW_AFTER;
  }

  /** Workers start when they are first needed, also after the pool was closed. */
  private get drawers(): readonly PoolMember[] {
    const count = workerCount();
    this.started ??= Array.from(
      { length: count },
      (_, k) => new PoolMember('drawer', Math.round((k * this.renewAfter) / count)),
    );
    return this.started;
  }

  /** Replaces the worker that drew most, if it drew enough, by one that has the last drawing at hand. */
  private async renew(): Promise<void> {
    const { started } = this;
    if (!started || this.isRenewing) return;
    const old = started.reduce((most, each) => (each.drawn > most.drawn ? each : most));
    if (old.drawn < this.renewAfter || !old.last) return;
    this.isRenewing = true;
    const fresh = new PoolMember('drawer');
    try {
      const drawn = await fresh.draw({ ...old.last, ticket: this.ticket }, null);
      if (drawn) this.keepRoom(drawn.pixels.buffer);
      if (this.started?.includes(old)) {
        this.started = this.started.map((each) => (each === old ? fresh : each));
        old.retire();
      } else fresh.end();
    } catch {
      // The old one goes on, and is tried again after as many drawings.
      fresh.end();
      old.drawn = 0;
    } finally {
      this.isRenewing = false;
    }
  }

  /**
   * The views, one after another in `orders`, or null when newer ones were asked for meanwhile. What is being drawn already, or was
   * drawn last, is not drawn again.
   */
  draw(orders: readonly DrawOrder[]): Promise<Drawing[] | null> {
    const key = JSON.stringify(orders);
    if (this.last?.key === key) return this.last.drawings;
    const drawings = this.drawAll(orders);
    const last = { key, drawings };
    this.last = last;
    const forget = () => {
      if (this.last === last) this.last = null;
    };
    drawings.then((drawn) => drawn ?? forget(), forget);
    return drawings;
  }

  private async drawAll(orders: readonly DrawOrder[]): Promise<Drawing[] | null> {
    // A survey lets the table go first: two of them on few processors would both be late.
    clearTimeout(this.calm);
    if (this.drawing++ === 0) for (const helper of this.helpers) helper.hold();
    try {
      return await this.drawNow(orders);
    } catch (thrown) {
      // A worker that broke down is replaced with the next drawing; the others answer for themselves.
      if (thrown instanceof Error && /worker stopped/.test(thrown.message)) this.close();
      throw thrown;
    } finally {
      this.drawing = Math.max(0, this.drawing - 1);
      if (this.drawing === 0) {
        this.calm = setTimeout(() => {
          for (const helper of this.helpers) helper.resume();
        }, CALM_MS);
        void this.renew();
      }
    }
  }

  private async drawNow(orders: readonly DrawOrder[]): Promise<Drawing[] | null> {
    const ticket = ++this.ticket;
    for (const member of this.drawers) member.tell((api) => api.supersede(ticket));
    const first = orders.find(({ subject }) => subject !== 'artwork');
    const layer = first && fullToneLayer(first.sheet);
    const drafts = layer && !layer.draft ? await this.draftsOf(orders, first.sheet) : null;
    if (ticket !== this.ticket) return null;
    if (drafts && JSON.stringify(drafts) !== this.drawn) {
      const drawn = await this.drawEach(drafts, ticket);
      if (!drawn) return null;
      if (this.onDraft) this.onDraft(orders, drawn);
      else this.recycle(drawn);
    }
    return this.drawEach(orders, ticket);
  }

  /** The same as drafts, where tones have to be solved first, which takes a second or several; null where nothing has to be waited for, or no draft can be made. */
  private async draftsOf(
    orders: readonly DrawOrder[],
    sheet: JobSheet,
  ): Promise<readonly DrawOrder[] | null> {
    const isWanted = await this.drawers[0]!.ask((api) => api.wantsDraft(sheet));
    return isWanted ? orders.map((order) => ({ ...order, sheet: asDraft(order.sheet) })) : null;
  }

  private async drawEach(orders: readonly DrawOrder[], ticket: number): Promise<Drawing[] | null> {
    const drawings: Drawing[] = [];
    for (const order of orders) {
      const drawing = await this.drawBands(order, ticket);
      if (!drawing || ticket !== this.ticket) return null;
      drawings.push(drawing);
    }
    this.drawn = JSON.stringify(orders);
    return drawings;
  }

  private async drawBands(order: DrawOrder, ticket: number): Promise<Drawing | null> {
    const { view } = order;
    const { drawers } = this;
    const rows = Math.ceil(view.height / drawers.length);
    const bands = await Promise.all(
      drawers.map((member, k) => {
        const top = k * rows;
        const height = Math.min(rows, view.height - top);
        if (height <= 0) return null;
        const band = { ...view, yMm: view.yMm + top / view.scale, height };
        const request: DrawRequest = { ...order, ticket, view: band };
        const bytes = view.width * height * 4;
        const at = this.room.findIndex((each) => each.byteLength === bytes);
        const room = at < 0 ? null : this.room.splice(at, 1)[0]!;
        return member.draw(request, room);
      }),
    );
    const drawn: Drawing['bands'][number][] = [];
    for (const [k, band] of bands.entries()) {
      if (band) drawn.push({ ...band, y: k * rows });
      else if (k * rows < view.height) return null;
    }
    return { width: view.width, height: view.height, bands: drawn };
  }

  /** @param listen told drafts of what is being drawn; the drawings are its own. Null: nobody. */
  hearDrafts(listen: typeof this.onDraft): void {
    this.onDraft = listen;
  }

  /** Takes back the memory of drawings that nobody shows any more. */
  recycle(drawings: readonly Drawing[]): void {
    for (const { bands } of drawings) this.keepRoom(...bands.map(({ pixels }) => pixels.buffer));
  }

  private keepRoom(...buffers: ArrayBuffer[]): void {
    this.room.push(...buffers);
    this.room.splice(0, Math.max(0, this.room.length - MOST_ROOM));
  }

  /** Readings do not wait for a survey; they share a worker with drawings, which are short. */
  private get reader(): PoolMember {
    return this.drawers.at(-1)!;
  }

  private get helpers(): readonly Helper[] {
    return [this.aside, this.edgesAside];
  }

  /** A reading; null when another was asked for before this one was begun. */
  read(request: ReadRequest): Promise<Reading | null> {
    return new Promise((answer) => {
      this.nextRead?.answer(null);
      this.nextRead = { request, answer };
      if (!this.isReading) void this.readAll();
    });
  }

  private async readAll(): Promise<void> {
    this.isReading = true;
    while (this.nextRead) {
      const { request, answer } = this.nextRead;
      this.nextRead = null;
      // A reading that cannot be had is none; the table itself says when artwork cannot be fetched.
      answer(await this.reader.ask((api) => api.read(request)).catch(() => null));
    }
    this.isReading = false;
  }

  /** A reading that is never passed over. */
  readPinned(request: ReadRequest): Promise<Reading> {
    return this.reader.ask((api) => api.read(request));
  }

  /** Starts the workers before they are needed. */
  warm(): void {
    void this.drawers;
  }

  /** The outline of the area of like colours round a place, as fractions of the artwork; null beyond the print. */
  area(request: AreaRequest): Promise<ReturnType<typeof colourArea>> {
    return this.aside.ask((api) => api.area(request));
  }

  /** The area of one colour that a place belongs to; null where no colour stands. */
  outline(request: PlaceRequest): Promise<ReturnType<typeof outlineAt>> {
    return this.aside.ask((api) => api.outline(request));
  }

  /** The artwork's colour at one place; null where it is transparent. */
  sample(request: PlaceRequest): Promise<string | null> {
    return this.aside.ask((api) => api.sample(request));
  }

  /** Small pictures of all textures. */
  textureSamples(): Promise<TextureSample[]> {
    this.samples ??= this.aside.ask((api) => api.textureSamples());
    return this.samples;
  }

  /** How the beats of a plate change with its angle or its frequency. */
  moire(...request: Parameters<typeof moireCurve>): Promise<MoirePoint[]> {
    return this.aside.ask((api) => api.moire(...request));
  }

  /** Angles and frequencies for plates with dots, by plate. */
  async suggest(
    plates: readonly Plate[],
    dpi: number,
    meet: readonly number[],
  ): Promise<ReadonlyMap<string, Grating>> {
    return new Map(await this.aside.ask((api) => api.suggest(plates, dpi, meet)));
  }

  /** What each arrangement of some plates' dots costs when one of them lies off. */
  async shiftCosts(
    sheet: JobSheet,
    ids: readonly string[],
    meet: readonly number[],
  ): Promise<ReadonlyMap<Arrangement, ShiftCost>> {
    return new Map(await this.aside.ask((api) => api.shiftCosts(sheet, ids, meet)));
  }

  /** How each arrangement of some plates' dots prints a job of tones. */
  async judgeDots(
    request: ArtworkRequest,
    ids: readonly string[],
    meet: readonly number[],
  ): Promise<ReadonlyMap<Arrangement, DotsJudged>> {
    return new Map(await this.aside.ask((api) => api.judgeDots(request, ids, meet)));
  }

  /** Coverage, small pictures and overlaps of the whole print; null when a newer survey was asked for meanwhile. */
  async survey(sheet: JobSheet, hasOuterMap: boolean): Promise<Survey | null> {
    const ticket = ++this.surveyTicket;
    // Told at once, so that what is older stops.
    for (const helper of this.helpers) helper.tell((api) => api.supersede(ticket));
    const [areas, edges] = await Promise.all([
      this.aside.ask((api) => api.surveyAreas(sheet, hasOuterMap, ticket)),
      hasEdgeSurvey(sheet)
        ? this.edgesAside.ask((api) => api.surveyEdges(sheet, hasOuterMap, ticket))
        : { edges: null, thin: null, pieces: null },
    ]);
    return areas && edges && { ...areas, ...edges };
  }

  /**
   * Looks for inks of a job of tones; a newer question makes an older one void.
   *
   * @param heard told each part of the answer when it is found.
   * @returns whether all of it was found.
   */
  async adviseInks(request: InkAdviceRequest, heard: (part: InkPart) => void): Promise<boolean> {
    const ticket = ++this.inkTicket;
    const current = (part: InkPart) => {
      if (ticket === this.inkTicket) heard(part);
    };
    return this.aside.ask((api) => api.adviseInks(request, ticket, Comlink.proxy(current)));
  }

  /** Ends the search for inks that is under way. */
  stopInks(): void {
    const ticket = ++this.inkTicket;
    this.aside.tell((api) => api.stopInks(ticket));
  }

  /** Stops a survey that is under way: what it looks at has changed, or the table needs the machine. */
  stopSurvey(): void {
    const ticket = ++this.surveyTicket;
    for (const helper of this.helpers) helper.tell((api) => api.supersede(ticket));
  }

  close(): void {
    for (const member of this.started ?? []) member.end();
    clearTimeout(this.calm);
    for (const helper of this.helpers) helper.close();
    this.drawing = 0;
    this.started = null;
    this.last = null;
    this.isReading = false;
  }
}
