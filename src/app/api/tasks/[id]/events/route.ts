import { setTimeout as wait } from 'node:timers/promises';
import { isFinished } from '@/protocol/tasks';
import { sharedConnection } from '@/server/db/database';
import { answer, readId } from '@/server/http/respond';
import { viewTask } from '@/server/tasks/taskStore';

export const dynamic = 'force-dynamic';

const LOOK_EVERY_MS = 120;
/** A comment now and then keeps the connection open and notices one that is gone. */
const BREATHE_EVERY = 80;

/** A task as it goes on: server-sent events, until it is finished. */
export function GET(request: Request, context: RouteContext<'/api/tasks/[id]/events'>): Promise<Response> {
  return answer(request, async () => {
    const id = readId((await context.params).id, 'task-not-found');
    const { database } = sharedConnection();
    const encoder = new TextEncoder();
    const stream = new ReadableStream<Uint8Array>({
      async start(controller) {
        let last = '';
        try {
          for (let look = 0; !request.signal.aborted; look++) {
            // While the database is away the stream stays open; it goes on when it is back.
            const task = await viewTask(database, id).catch(() => undefined);
            const text = JSON.stringify(task);
            if (task !== undefined && text !== last) {
              last = text;
              controller.enqueue(encoder.encode(`data: ${text}\n\n`));
            } else if (look % BREATHE_EVERY === 0) controller.enqueue(encoder.encode(': \n\n'));
            if (task === null || (task && isFinished(task.state))) break;
            await wait(LOOK_EVERY_MS);
          }
          controller.close();
        } catch {
          // The page went away in the middle of a write.
        }
      },
    });
    return new Response(stream, {
      headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-cache, no-transform' },
    });
  });
}
