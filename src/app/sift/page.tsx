import { SiftPlace } from '@/features/sift/sift-place';

export default function Page() {
  return <SiftPlace />;
}
