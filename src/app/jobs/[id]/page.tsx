import { Workspace } from '@/ui/workspace/Workspace';

export default async function Page({ params }: PageProps<'/jobs/[id]'>) {
  const { id } = await params;
  return <Workspace jobId={id} />;
}
