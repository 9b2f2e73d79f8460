import { PressSheet } from '@/ui/press/PressSheet';

export default async function Page({ params }: PageProps<'/jobs/[id]/press'>) {
  const { id } = await params;
  return <PressSheet jobId={id} />;
}
