import { SendOutPlace } from '@/features/places/send-out/send-out-place';

export default function Page() {
  return <SendOutPlace />;
}
