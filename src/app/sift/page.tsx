import { SiftPlace } from '@/features/places/sift/sift-place';

export default function Page() {
  return <SiftPlace />;
}
