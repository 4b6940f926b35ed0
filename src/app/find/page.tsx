import { FindPlace } from '@/features/places/find/find-place';

export default function Page() {
  return <FindPlace />;
}
