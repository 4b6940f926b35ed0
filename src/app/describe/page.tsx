import { DescribePlace } from '@/features/describe/describe-place';

export default function Page() {
  return <DescribePlace />;
}
