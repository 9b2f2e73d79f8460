import PgBoss from 'pg-boss';
import type { TaskPayload } from '@/protocol/tasks';
import { databaseUrl } from '../db/database';

/**
 * Queues, and how many tasks of each a worker does at once. Films, their printing and pictures have queues of their own, so that an import never waits
 * behind them; large files have one, so that small ones never wait behind those.
 */
export const QUEUES = { films: 1, pictures: 1, prints: 1, desk: 2, large: 1 } as const;
export type QueueName = keyof typeof QUEUES;

/** An upload from this size on is a large one. */
const LARGE_BYTES = 12e6;

export function queueOf(payload: TaskPayload): QueueName {
  if (payload.kind === 'films') return 'films';
  if (payload.kind === 'print') return 'prints';
  if (payload.kind === 'picture') return 'pictures';
  const brings = payload.kind === 'import' || payload.kind === 'revise' || payload.kind === 'texture';
  return brings && (payload.bytes ?? 0) >= LARGE_BYTES ? 'large' : 'desk';
}

export interface QueuedTask {
  readonly taskId: string;
}

const DEADLOCK = '40P01';
const TRIES = 4;

/** Starts the queue; a page server only sends, a worker also keeps the queue in order. */
export async function startQueue(role: 'sender' | 'worker'): Promise<PgBoss> {
  for (let tries = 1; ; tries++) {
    try {
      return await openQueue(role);
    } catch (thrown) {
      // Two programs that make the queues' tables at once: one of them is told to try again.
      if ((thrown as { code?: string }).code !== DEADLOCK || tries === TRIES) throw thrown;
    }
  }
}

async function openQueue(role: 'sender' | 'worker'): Promise<PgBoss> {
  const boss = new PgBoss({
    connectionString: databaseUrl(),
    max: 3,
    supervise: role === 'worker',
    schedule: false,
  });
  boss.on('error', () => undefined);
  try {
    await boss.start();
    for (const name of Object.keys(QUEUES)) await boss.createQueue(name);
    return boss;
  } catch (thrown) {
    await boss.stop({ graceful: false, timeout: 1000 }).catch(() => undefined);
    throw thrown;
  }
}

const globalSlot = globalThis as unknown as { kerameusQueue?: Promise<PgBoss> };

/** Puts a task where a worker finds it. The row of the task is the truth; this is only the bell. */
export async function enqueue(
  payload: TaskPayload,
  taskId: string,
  options: { readonly boss?: PgBoss; readonly afterSeconds?: number } = {},
): Promise<void> {
  const { boss } = options;
  if (!boss && !globalSlot.kerameusQueue) {
    globalSlot.kerameusQueue = startQueue('sender');
    // A failed start is tried again on the next use.
    globalSlot.kerameusQueue.catch(() => (globalSlot.kerameusQueue = undefined));
  }
  const queue = boss ?? (await globalSlot.kerameusQueue!);
  await queue.send(queueOf(payload), { taskId } satisfies QueuedTask, {
    retryLimit: 0,
    ...(options.afterSeconds ? { startAfter: options.afterSeconds } : {}),
  });
}
