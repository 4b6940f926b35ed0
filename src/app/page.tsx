import { OverviewPlace } from '@/features/overview/overview-place';

export default function Page() {
  return <OverviewPlace />;
}
