import { FindPlace } from '@/features/find/find-place';

export default function Page() {
  return <FindPlace />;
}
