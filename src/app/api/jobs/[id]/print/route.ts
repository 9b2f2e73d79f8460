import { printRequestSchema } from '@/protocol/jobs';
import { sharedConnection } from '@/server/db/database';
import { answer, badRequest, readId, readJson } from '@/server/http/respond';
import { enqueue } from '@/server/tasks/queue';
import { createTask, viewTask } from '@/server/tasks/taskStore';
import { readStock } from '@/server/stock/stockStore';

export const dynamic = 'force-dynamic';

/** Sends finished films to a film printer of the stock. */
export function POST(request: Request, context: RouteContext<'/api/jobs/[id]/print'>): Promise<Response> {
  return answer(request, async () => {
    const id = readId((await context.params).id);
    const wanted = printRequestSchema.safeParse(await readJson(request));
    if (!wanted.success) throw badRequest('The request names no films and printer.');
    const { database } = sharedConnection();
    const films = await viewTask(database, wanted.data.filmsTaskId);
    if (!films || films.kind !== 'films' || films.state !== 'done')
      throw badRequest('There are no such films.');
    const { stock } = await readStock(database);
    const printer = stock.printers.find((each) => each.name === wanted.data.printer);
    if (!printer?.uri) throw badRequest('The stock has no such printer with an address.');
    const payload = {
      kind: 'print' as const,
      jobId: id,
      filmsTaskId: wanted.data.filmsTaskId,
      printer: printer.name,
      uri: printer.uri,
    };
    const taskId = await createTask(database, payload, id);
    await enqueue(payload, taskId);
    return Response.json({ taskId }, { status: 202 });
  });
}
