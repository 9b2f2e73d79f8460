import { tableName } from '@/protocol/tables';
import {
  type TableWish,
  ToneTable,
  canBeDraft,
  keepTable,
  knownTable,
  tableKey,
  tableOf,
} from '@/core/solving';

/** Tables of half a megabyte that the browser keeps for another day. */
const MOST_KEPT = 40;
const CACHE = 'kerameus-tables';

/**
 * Tables of tones that the workers and pages of this browser share: the first that needs one solves it, the others wait for it, and the browser keeps it.
 * Where the browser shares or keeps nothing, every worker solves its own.
 */
export class SolvedTables {
  private readonly cache: Promise<Cache | null> = openCache();
  /** Only what a page is opened with may be at the server: what it changes later is new to both. */
  private mayBeAtServer = true;

  /**
   * Has tables at hand for all that is drawn with them.
   *
   * @param wishes those first that others are made from.
   * @param isOver told when nobody waits for them any more.
   */
  async ready(wishes: readonly TableWish[], isOver: () => boolean): Promise<void> {
    // Drafts are found where they are shown: that is as quick as asking for them.
    const missing = wishes.filter((wish) => !wish.stack.draft && !knownTable(wish));
    const [first, ...others] = missing;
    if (!first) return;
    await this.get(first, isOver);
    // What another worker is at is left to it while there is something that nobody is at.
    const taken: TableWish[] = [];
    for (const wish of others) if (!(await this.tryToGet(wish, isOver))) taken.push(wish);
    for (const wish of taken) await this.get(wish, isOver);
  }

  /** Whether some of what is drawn with these has to be solved first, and drafts can be shown until then. */
  async wantDraft(wishes: readonly TableWish[]): Promise<boolean> {
    const missing = wishes.filter((wish) => !knownTable(wish));
    if (missing.length === 0 || !missing.every(canBeDraft)) return false;
    const cache = await this.cache;
    for (const wish of missing)
      if (!(await cache?.match(await addressOf(wish)).catch(() => undefined))) return true;
    return false;
  }

  private async get(wish: TableWish, isOver: () => boolean): Promise<void> {
    if (isOver()) return;
    const locks = lockManager();
    if (!locks) tableOf(wish);
    else await locks.request(lockName(wish), () => this.takeOrSolve(wish, isOver));
  }

  /** False when another worker is at it. */
  private async tryToGet(wish: TableWish, isOver: () => boolean): Promise<boolean> {
    const locks = lockManager();
    if (!locks || isOver()) return false;
    return locks.request(lockName(wish), { ifAvailable: true }, async (lock) => {
      if (lock) await this.takeOrSolve(wish, isOver);
      return lock !== null;
    });
  }

  private async takeOrSolve(wish: TableWish, isOver: () => boolean): Promise<void> {
    if (isOver() || knownTable(wish)) return;
    const kept = await this.take(wish);
    if (kept) return keepTable(wish, kept);
    const solved = await this.askServer(wish);
    if (solved) keepTable(wish, solved);
    await this.give(wish, (solved ?? tableOf(wish)).entries);
  }

  private async take(wish: TableWish): Promise<ToneTable | null> {
    const found = await (await this.cache)?.match(await addressOf(wish)).catch(() => undefined);
    return found ? readTable(wish, found) : null;
  }

  /** The table of a new job, which a worker began to solve before the page was there; null where none did. */
  private async askServer(wish: TableWish): Promise<ToneTable | null> {
    if (!this.mayBeAtServer) return null;
    this.mayBeAtServer = false;
    try {
      const response = await fetch(`/api/tables/${await tableName(wish, process.env.SOLVER_HASH)}`);
      return response.status === 200 ? await readTable(wish, response) : null;
    } catch {
      return null;
    }
  }

  private async give(wish: TableWish, entries: Uint16Array): Promise<void> {
    const cache = await this.cache;
    if (!cache) return;
    try {
      await cache.put(await addressOf(wish), new Response(entries.slice()));
      const kept = await cache.keys();
      // The oldest stand first.
      for (const request of kept.slice(0, Math.max(0, kept.length - MOST_KEPT))) await cache.delete(request);
    } catch {
      // A browser without room keeps none: the table is solved again another day.
    }
  }
}

/** Null where what was kept is damaged: it is solved anew and kept in its place. */
async function readTable({ stack }: TableWish, response: Response): Promise<ToneTable | null> {
  try {
    return new ToneTable(stack.inks.length, new Uint16Array(await response.arrayBuffer()));
  } catch {
    return null;
  }
}

async function openCache(): Promise<Cache | null> {
  // While the application is developed, the code that solves changes without a new build.
  if (process.env.NODE_ENV !== 'production' || !('caches' in self)) return null;
  return caches.open(CACHE).catch(() => null);
}

/** Null where the page came over a connection that the browser does not trust. */
function lockManager(): LockManager | null {
  return 'locks' in navigator ? navigator.locks : null;
}

function lockName(wish: TableWish): string {
  return `kerameus table ${tableKey(wish)}`;
}

async function addressOf(wish: TableWish): Promise<string> {
  return `/solved-tables/${await tableName(wish, process.env.SOLVER_HASH)}`;
}
