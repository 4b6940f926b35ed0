import { SafekeepPlace } from '@/features/safekeep/safekeep-place';

export default function Page() {
  return <SafekeepPlace />;
}
