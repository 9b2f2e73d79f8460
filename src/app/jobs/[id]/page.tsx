import { sharedConnection } from '@/server/db/database';
import { readId } from '@/server/http/respond';
import { readJob } from '@/server/jobs/jobStore';
import type { JobView } from '@/protocol/jobs';
import { Workspace } from '@/ui/workspace/Workspace';

export const dynamic = 'force-dynamic';

/** The job comes with the page; where it cannot be had the page asks for it and says why. */
async function firstState(id: string): Promise<JobView | null> {
  try {
    return await readJob(sharedConnection().database, readId(id));
  } catch {
    return null;
  }
}

export default async function Page({ params }: PageProps<'/jobs/[id]'>) {
  const { id } = await params;
  return (
    <>
      <link rel="preload" as="fetch" href="/kernels.wasm" crossOrigin="anonymous" />
      <Workspace jobId={id} initial={await firstState(id)} />
    </>
  );
}
