import { DescribePlace } from '@/features/places/describe/describe-place';

export default function Page() {
  return <DescribePlace />;
}
