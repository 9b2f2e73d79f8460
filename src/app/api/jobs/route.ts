import { sharedConnection } from '@/server/db/database';
import { answer } from '@/server/http/respond';
import { listJobs } from '@/server/jobs/jobStore';

export const dynamic = 'force-dynamic';

export function GET(request: Request): Promise<Response> {
  return answer(request, async () => Response.json(await listJobs(sharedConnection().database)));
}
