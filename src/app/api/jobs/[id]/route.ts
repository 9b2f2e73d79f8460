import { jobChangeSchema } from '@/protocol/jobs';
import { KerameusError } from '@/core/units';
import { sharedConnection } from '@/server/db/database';
import { answer, readId, readJson } from '@/server/http/respond';
import { answerStale, ringForPicture } from '@/server/http/jobChanges';
import { commitVersion, deleteJob, readJob } from '@/server/jobs/jobStore';

export const dynamic = 'force-dynamic';

type Context = RouteContext<'/api/jobs/[id]'>;

export function GET(request: Request, context: Context): Promise<Response> {
  return answer(request, async () => {
    const id = readId((await context.params).id);
    return Response.json(await readJob(sharedConnection().database, id));
  });
}

/** Adds a version; 409 with the newer state when the job has moved on. */
export function PATCH(request: Request, context: Context): Promise<Response> {
  return answer(request, async () => {
    const id = readId((await context.params).id);
    const change = jobChangeSchema.safeParse(await readJson(request));
    if (!change.success) {
      const issue = change.error.issues[0]!;
      throw new KerameusError({
        code: 'job-sheet',
        parameter: issue.path.join('.'),
        message: `The change is not valid: ${issue.path.slice(1).join('.')}: ${issue.message}.`,
        remedy: 'Correct that value.',
      });
    }
    const { database } = sharedConnection();
    return answerStale(database, id, async () => {
      const job = await commitVersion(database, id, change.data.base, change.data.sheet);
      await ringForPicture(database, id);
      return job;
    });
  });
}

export function DELETE(request: Request, context: Context): Promise<Response> {
  return answer(request, async () => {
    await deleteJob(sharedConnection().database, readId((await context.params).id));
    return new Response(null, { status: 204 });
  });
}
