import { Approval } from '@/ui/approval/Approval';

export default async function Page({ params }: PageProps<'/jobs/[id]/approval'>) {
  const { id } = await params;
  return <Approval jobId={id} />;
}
