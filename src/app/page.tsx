import { JobsScreen } from '@/ui/jobs/JobsScreen';

export default function Page() {
  return <JobsScreen />;
}
