import { TakeInPlace } from '@/features/take-in/take-in-place';

export default function Page() {
  return <TakeInPlace />;
}
