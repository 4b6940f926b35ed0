import { SafekeepPlace } from '@/features/places/safekeep/safekeep-place';

export default function Page() {
  return <SafekeepPlace />;
}
