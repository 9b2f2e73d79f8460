import { versionNumber } from '@/protocol/jobs';
import { answer, badRequest, readId } from '@/server/http/respond';
import { takeInFile } from '@/server/http/takeInFile';
import { readVersion } from '@/server/jobs/jobStore';

export const dynamic = 'force-dynamic';

/** Takes a revised artwork as the body of the request and has it compared with the job's; the job stays as it is. */
export function POST(request: Request, context: RouteContext<'/api/jobs/[id]/artwork'>): Promise<Response> {
  return answer(request, async () => {
    const jobId = readId((await context.params).id);
    const { data: version } = versionNumber.safeParse(Number(request.headers.get('x-job-version') ?? NaN));
    if (version === undefined) throw badRequest('The upload names no version of the job.');
    return takeInFile(request, {
      jobId,
      check: (database) => readVersion(database, jobId, version),
      taskOf: ({ fileId, fileName, bytes }) => ({
        kind: 'revise',
        jobId,
        version,
        from: { kind: 'file', fileId, fileName },
        bytes,
      }),
    });
  });
}
