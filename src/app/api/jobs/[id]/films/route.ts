import { gangsOf, layoutSheet } from '@/core/film';
import { filmsRequestSchema } from '@/protocol/jobs';
import { sharedConnection } from '@/server/db/database';
import { answer, badRequest, readId, readJson } from '@/server/http/respond';
import { readVersion } from '@/server/jobs/jobStore';
import { enqueue } from '@/server/tasks/queue';
import { createTask, doneFilms, latestFilms } from '@/server/tasks/taskStore';

export const dynamic = 'force-dynamic';

type Context = RouteContext<'/api/jobs/[id]/films'>;

/** Earlier sets that are told of. */
const MOST_EARLIER = 20;

/** The newest film set of a job, or null; with `all` those that are done, the newest first. */
export function GET(request: Request, context: Context): Promise<Response> {
  return answer(request, async () => {
    const id = readId((await context.params).id);
    if (new URL(request.url).searchParams.has('all')) {
      return Response.json(await doneFilms(sharedConnection().database, id, MOST_EARLIER));
    }
    return Response.json(await latestFilms(sharedConnection().database, id));
  });
}

/** Makes films of a version; what does not fit its sheet is refused at once. */
export function POST(request: Request, context: Context): Promise<Response> {
  return answer(request, async () => {
    const id = readId((await context.params).id);
    const wanted = filmsRequestSchema.safeParse(await readJson(request));
    if (!wanted.success) throw badRequest('The request names no version.');
    const { database } = sharedConnection();
    const { version, only } = wanted.data;
    const sheet = await readVersion(database, id, version);
    gangsOf(sheet, layoutSheet(sheet), sheet.plates.length);
    if (only !== undefined && !sheet.plates.some((plate) => plate.id === only)) {
      throw badRequest('The job has no such plate.');
    }
    const payload = { kind: 'films' as const, jobId: id, version, ...(only === undefined ? {} : { only }) };
    const taskId = await createTask(database, payload, id);
    await enqueue(payload, taskId);
    return Response.json({ taskId }, { status: 202 });
  });
}
