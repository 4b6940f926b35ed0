// Where a store is, and what opens it: an S3-compatible bucket, or a folder in one. This lies on the server's side
// alone; the page sends it once and never gets it back.

import { createHash } from 'node:crypto';
import { z } from 'zod';
import { storeAddress } from '@/storage/host/protocol';

export const storePlace = storeAddress.extend({
  /** An age identity (`AGE-SECRET-KEY-1…`) where everything is sealed before it leaves; `null` where nothing is. */
  identity: z
    .string()
    .regex(/^AGE-SECRET-KEY-1[0-9A-Z]{58}$/)
    .nullable(),
  /** Whether names of files and folders are sealed, too. */
  sealsNames: z.boolean(),
});
export type StorePlace = z.infer<typeof storePlace>;

/** The same bucket and folder have the same id at every start, whoever opens them. */
export const storeId = ({ endpoint, bucket, prefix }: Pick<StorePlace, 'endpoint' | 'bucket' | 'prefix'>): string =>
  createHash('sha256')
    .update(JSON.stringify([endpoint, bucket, prefix]))
    .digest('hex')
    .slice(0, 16);

/** One that lies in another has an address below it. */
export const storeAddressOf = ({
  endpoint,
  bucket,
  prefix,
}: Pick<StorePlace, 'endpoint' | 'bucket' | 'prefix'>): string => [endpoint, bucket, prefix].filter(Boolean).join('/');
