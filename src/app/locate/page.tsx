import { LocatePlace } from '@/features/places/locate/locate-place';

export default function Page() {
  return <LocatePlace />;
}
