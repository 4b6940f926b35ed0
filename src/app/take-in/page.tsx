import { TakeInPlace } from '@/features/places/take-in/take-in-place';

export default function Page() {
  return <TakeInPlace />;
}
