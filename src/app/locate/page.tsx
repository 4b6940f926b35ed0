import { LocatePlace } from '@/features/locate/locate-place';

export default function Page() {
  return <LocatePlace />;
}
