/** The pool of drawing workers with workers that only answer, held to what it promises: nothing is lost when one of them is replaced. */
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import * as Comlink from 'comlink';
import { type DrawOrder, TablePool } from '@/browser';
import { type DrawRequest, type PlaceRequest, type ReadRequest, SURVEYOR } from '@/browser/requests';
import type { JobSheet } from '@/core/sheet';

/** Stands for a worker: its answers are those of a channel's other end. */
class StandIn {
  static all: StandIn[] = [];
  readonly drawn: DrawRequest[] = [];
  isSlow = false;
  /** Whether it was told last to hold, or to go on. */
  readonly told: string[] = [];
  readonly reads: PromiseWithResolvers<string>[] = [];
  hasEnded = false;
  private latest = 0;
  private readonly channel = new MessageChannel();
  private readonly listeners: ((event: Event) => void)[] = [];
  readonly name: string;

  constructor(_url: URL, { name }: { name: string }) {
    this.name = name;
    StandIn.all.push(this);
    Comlink.expose(
      {
        supersede: (ticket: number) => void (this.latest = Math.max(this.latest, ticket)),
        draw: async (request: DrawRequest) => {
          await new Promise((resolve) => setTimeout(resolve, 2));
          if (request.ticket < this.latest) return null;
          this.drawn.push(request);
          const { width, height } = request.view;
          const bytes = width * height * 4;
          const pixels = new Uint8ClampedArray(request.room ?? new ArrayBuffer(bytes));
          return Comlink.transfer({ width, height, pixels }, [pixels.buffer]);
        },
        wantsDraft: () => this.isSlow,
        hold: () => void this.told.push('hold'),
        resume: () => void this.told.push('resume'),
        sample: () => null,
        surveyAreas: (_sheet: unknown, _map: boolean, ticket: number) =>
          this.surveyed(ticket, { areas: true }),
        surveyEdges: (_sheet: unknown, _map: boolean, ticket: number) =>
          this.surveyed(ticket, { edges: true }),
        read: (_request: ReadRequest) => {
          const answer = withResolvers<string>();
          this.reads.push(answer);
          return answer.promise;
        },
      },
      this.channel.port2 as unknown as Comlink.Endpoint,
    );
  }

  /** Answers when `goOn` is called, null where a newer survey was asked for meanwhile. */
  private async surveyed<T>(ticket: number, found: T): Promise<T | null> {
    const { promise, resolve } = withResolvers<string>();
    this.reads.push({ promise, resolve, reject: () => undefined });
    await promise;
    return ticket < this.latest ? null : found;
  }

  postMessage(message: unknown, transfer: ArrayBuffer[]): void {
    this.channel.port1.postMessage(message, transfer);
  }

  addEventListener(kind: string, listener: (event: Event) => void): void {
    if (kind === 'error') this.listeners.push(listener);
    else this.channel.port1.addEventListener('message', listener);
    this.channel.port1.start();
  }

  removeEventListener(_kind: string, listener: (event: Event) => void): void {
    this.channel.port1.removeEventListener('message', listener);
  }

  breakDown(): void {
    for (const listener of this.listeners) listener(new Event('error'));
  }

  terminate(): void {
    this.hasEnded = true;
    this.channel.port1.close();
  }
}

function withResolvers<T>(): PromiseWithResolvers<T> {
  let [resolve, reject]: [(value: T | PromiseLike<T>) => void, (reason?: unknown) => void] = [
    () => undefined,
    () => undefined,
  ];
  const promise = new Promise<T>((done, failed) => ([resolve, reject] = [done, failed]));
  return { promise, resolve, reject };
}

const before = {
  Worker: globalThis.Worker,
  navigator: Object.getOwnPropertyDescriptor(globalThis, 'navigator'),
};
let pool: TablePool;

beforeEach(() => {
  StandIn.all = [];
  globalThis.Worker = StandIn as unknown as typeof Worker;
  Object.defineProperty(globalThis, 'navigator', { value: { hardwareConcurrency: 2 }, configurable: true });
});

afterEach(() => {
  pool.close();
  for (const each of StandIn.all) each.terminate();
  globalThis.Worker = before.Worker;
  if (before.navigator) Object.defineProperty(globalThis, 'navigator', before.navigator);
  else Reflect.deleteProperty(globalThis, 'navigator');
});

const order = (xMm: number): DrawOrder =>
  ({
    view: { xMm, yMm: 0, scale: 1, width: 8, height: 6 },
    sheet: { layers: [{ kind: 'flat' }] },
    lifted: [],
  }) as unknown as DrawOrder;

async function until(condition: () => boolean): Promise<void> {
  for (let k = 0; k < 500 && !condition(); k++) await new Promise((resolve) => setTimeout(resolve, 5));
  expect(condition()).toBe(true);
}

test('a view is drawn in bands, one for each worker, from top to bottom', async () => {
  pool = new TablePool();
  const [drawing] = (await pool.draw([order(1)]))!;
  expect(StandIn.all.map((each) => each.drawn.length)).toEqual([1, 1]);
  expect(drawing!.bands.map(({ y, height }) => [y, height])).toEqual([
    [0, 3],
    [3, 3],
  ]);
  expect(StandIn.all[1]!.drawn[0]!.view.yMm).toBe(3);
});

test('where tones have to be solved first a draft is shown until then, unless it is shown already', async () => {
  pool = new TablePool();
  const toned = (draft?: true): DrawOrder =>
    ({
      ...order(1),
      sheet: { layers: [{ kind: 'full-tone', ...(draft && { draft }) }] },
    }) as unknown as DrawOrder;
  const drafts: DrawOrder[] = [];
  pool.hearDrafts((orders, drawings) => {
    expect(drawings).toHaveLength(1);
    drafts.push(...orders);
  });
  const isDraft = () => StandIn.all[0]!.drawn.map(({ sheet }) => 'draft' in sheet.layers[0]!);
  expect(await pool.draw([toned()])).toHaveLength(1);
  expect([isDraft(), drafts]).toEqual([[false], []]);
  StandIn.all[0]!.isSlow = true;
  const other = { ...toned(), passes: 2 };
  expect(await pool.draw([other])).toHaveLength(1);
  expect([isDraft(), drafts]).toEqual([[false, true, false], [other]]);
  // What the artwork looks like waits for no tones.
  await pool.draw([{ ...toned(), subject: 'artwork' }]);
  expect(drafts).toEqual([other]);
  // A hand that lets go: what it dragged last is on the table.
  await pool.draw([toned(true)]);
  expect(await pool.draw([toned()])).toHaveLength(1);
  expect([isDraft(), drafts]).toEqual([[false, true, false, false, true, false], [other]]);
});

test('what takes longer rests from the first drawing of a drag to its last', async () => {
  pool = new TablePool();
  await pool.sample({} as PlaceRequest);
  const aside = StandIn.all.find(({ name }) => name === SURVEYOR)!;
  for (let k = 0; k < 5; k++) {
    await pool.draw([order(k)]);
    await new Promise((resolve) => setTimeout(resolve, 30));
    expect(aside.told).not.toContain('resume');
  }
  await until(() => aside.told.at(-1) === 'resume');
  expect(aside.told.filter((each) => each === 'resume')).toHaveLength(1);
});

test('a newer drawing makes an older one void', async () => {
  pool = new TablePool();
  const [older, newer] = await Promise.all([pool.draw([order(1)]), pool.draw([order(2)])]);
  expect(older).toBeNull();
  expect(newer).toHaveLength(1);
});

test('after many drawings workers are replaced one after another, each ready with the last view', async () => {
  pool = new TablePool({ renewAfter: 6 });
  for (let k = 0; k < 24; k++) {
    expect(await pool.draw([order(k)])).toHaveLength(1);
    // Never more than one beside those that draw.
    expect(StandIn.all.filter((each) => !each.hasEnded).length).toBeLessThanOrEqual(3);
    await new Promise((resolve) => setTimeout(resolve, 10));
  }
  await until(() => StandIn.all.filter((each) => !each.hasEnded).length === 2);
  expect(StandIn.all.length).toBeGreaterThanOrEqual(6);
  const firsts = StandIn.all.slice(2).map((each) => each.drawn[0]!.view.xMm);
  expect(firsts).toEqual([...firsts].sort((p, q) => p - q));
  // Every view was drawn whole, whoever drew it.
  for (let k = 0; k < 24; k++) {
    const tops = new Set(
      StandIn.all.flatMap(({ drawn }) =>
        drawn.filter(({ view }) => view.xMm === k).map(({ view }) => view.yMm),
      ),
    );
    expect([k, tops]).toEqual([k, new Set([0, 3])]);
  }
});

test('a worker that is to go answers first what it was asked', async () => {
  pool = new TablePool({ renewAfter: 4 });
  await pool.draw([order(0)]);
  const asked = StandIn.all[1]!;
  const reading = pool.readPinned({ xMm: 1, yMm: 1 } as ReadRequest);
  await until(() => asked.reads.length === 1);
  for (let k = 1; k < 12; k++) {
    await pool.draw([order(k)]);
    await new Promise((resolve) => setTimeout(resolve, 10));
  }
  expect(StandIn.all.length).toBeGreaterThan(3);
  expect(asked.hasEnded).toBe(false);
  asked.reads[0]!.resolve('read');
  expect(await reading).toBe('read');
  await until(() => asked.hasEnded);
});

test('a worker that breaks down fails the drawing, and the next one has new workers', async () => {
  pool = new TablePool();
  await pool.draw([order(0)]);
  const drawing = pool.draw([order(1)]);
  StandIn.all[0]!.breakDown();
  await expect(drawing).rejects.toThrow('worker stopped');
  expect(StandIn.all.every((each) => each.hasEnded)).toBe(true);
  expect(await pool.draw([order(2)])).toHaveLength(1);
  expect(StandIn.all).toHaveLength(4);
});

const flat = { layers: [{ kind: 'flat' }], plates: [{}] } as unknown as JobSheet;
const surveyors = () => StandIn.all.filter(({ name, hasEnded }) => name === SURVEYOR && !hasEnded);
/** Lets all that surveyors were asked for be answered. */
const answer = () => {
  for (const each of surveyors()) for (const { resolve } of each.reads) resolve('');
};

test('areas and edges of a print are surveyed by two workers at once, and of tones there are no edges', async () => {
  pool = new TablePool();
  const both = pool.survey(flat, false);
  await until(() => surveyors().length === 2 && surveyors().every(({ reads }) => reads.length === 1));
  answer();
  expect(await both).toEqual({ areas: true, edges: true });
  const tones = pool.survey({ ...flat, layers: [{ kind: 'full-tone' }] } as unknown as JobSheet, false);
  await until(() => surveyors()[0]!.reads.length === 2);
  answer();
  expect(await tones).toEqual({ areas: true, edges: null, thin: null, pieces: null });
});

test('a newer survey makes both parts of an older one void', async () => {
  pool = new TablePool();
  const older = pool.survey(flat, false);
  await until(() => surveyors().every(({ reads }) => reads.length === 1) && surveyors().length === 2);
  const newer = pool.survey(flat, false);
  await until(() => surveyors().every(({ reads }) => reads.length === 2));
  answer();
  expect(await older).toBeNull();
  expect(await newer).toEqual({ areas: true, edges: true });
});

test('a surveyor that breaks down fails its survey, and the next survey has a new one', async () => {
  pool = new TablePool();
  const failing = pool.survey(flat, false);
  await until(() => surveyors().length === 2);
  StandIn.all.find(({ name }) => name === SURVEYOR)!.breakDown();
  await expect(failing).rejects.toThrow('worker stopped');
  const again = pool.survey(flat, false);
  await until(() => StandIn.all.filter(({ name }) => name === SURVEYOR).length === 3);
  await until(() => surveyors().every(({ reads }) => reads.length > 0));
  answer();
  expect(await again).toEqual({ areas: true, edges: true });
});
