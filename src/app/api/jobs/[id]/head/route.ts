import { jobMoveSchema } from '@/protocol/jobs';
import { sharedConnection } from '@/server/db/database';
import { answerStale, ringForPicture } from '@/server/http/jobChanges';
import { answer, badRequest, readId, readJson } from '@/server/http/respond';
import { moveHead } from '@/server/jobs/jobStore';

export const dynamic = 'force-dynamic';

/** Undo and redo. */
export function POST(request: Request, context: RouteContext<'/api/jobs/[id]/head'>): Promise<Response> {
  return answer(request, async () => {
    const id = readId((await context.params).id);
    const move = jobMoveSchema.safeParse(await readJson(request));
    if (!move.success) throw badRequest('This is neither undo nor redo.');
    const { database } = sharedConnection();
    return answerStale(database, id, async () => {
      const job = await moveHead(database, id, move.data.base, move.data.move);
      await ringForPicture(database, id);
      return job;
    });
  });
}
