import { slug } from '@/core/separation';
import { sharedConnection } from '@/server/db/database';
import { answer, readId } from '@/server/http/respond';
import { bundleJob } from '@/server/jobs/jobBundle';
import { readJob } from '@/server/jobs/jobStore';

export const dynamic = 'force-dynamic';

/** The job as one zip. */
export function GET(request: Request, context: RouteContext<'/api/jobs/[id]/export'>): Promise<Response> {
  return answer(request, async () => {
    const { database } = sharedConnection();
    const { sheet } = await readJob(database, readId((await context.params).id));
    return new Response(await bundleJob(database, sheet), {
      headers: {
        'content-type': 'application/zip',
        'content-disposition': `attachment; filename="${slug(sheet.name)}.kerameus.zip"`,
      },
    });
  });
}
