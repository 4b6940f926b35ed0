import { createHash } from 'node:crypto';
import type { RunningDigest } from '../src/core/bytes/digest';

/** A running SHA-256 by the platform. */
export async function newDigest(): Promise<RunningDigest> {
  const hash = createHash('sha256');
  return { update: (bytes) => void hash.update(bytes), hex: () => hash.digest('hex') };
}
