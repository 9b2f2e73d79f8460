import { versionNameSchema } from '@/protocol/jobs';
import { sharedConnection } from '@/server/db/database';
import { answer, badRequest, readId, readJson } from '@/server/http/respond';
import { nameVersion, readVersion } from '@/server/jobs/jobStore';

export const dynamic = 'force-dynamic';

type Context = RouteContext<'/api/jobs/[id]/versions/[number]'>;

function readNumber(text: string): number {
  const number = Number(text);
  if (!Number.isInteger(number) || number < 1 || number >= 2 ** 31)
    throw badRequest('There is no such version.');
  return number;
}

/** The sheet of one version. */
export function GET(request: Request, context: Context): Promise<Response> {
  return answer(request, async () => {
    const { id, number } = await context.params;
    return Response.json(await readVersion(sharedConnection().database, readId(id), readNumber(number)));
  });
}

/** Names a version. */
export function PATCH(request: Request, context: Context): Promise<Response> {
  return answer(request, async () => {
    const { id, number } = await context.params;
    const change = versionNameSchema.safeParse(await readJson(request));
    if (!change.success) throw badRequest('A name has at most 60 letters.');
    await nameVersion(sharedConnection().database, readId(id), readNumber(number), change.data.name);
    return new Response(null, { status: 204 });
  });
}
