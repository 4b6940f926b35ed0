import { OverviewPlace } from '@/features/places/overview/overview-place';

export default function Page() {
  return <OverviewPlace />;
}
