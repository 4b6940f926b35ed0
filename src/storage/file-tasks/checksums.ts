import { createMD5, createSHA1, createSHA256, createSHA512 } from 'hash-wasm';
import type { BagAlgorithm } from '@/core/bagit/tag-files';
import { digestWhole } from '@/core/bytes/digest';
import type { ByteSource } from '@/core/bytes/source';

export type Checksums = Partial<Record<BagAlgorithm, string>>;

const HASHERS = { md5: createMD5, sha1: createSHA1, sha256: createSHA256, sha512: createSHA512 };

/** Of all bytes, read once, by each of the algorithms; lower-case hexadecimal. */
export async function checksumsOf(
  source: ByteSource,
  algorithms: readonly BagAlgorithm[],
  onBytes: (bytes: number) => void,
): Promise<Checksums> {
  const hashers = await Promise.all(
    algorithms.map(async (algorithm) => ({ algorithm, hasher: (await HASHERS[algorithm]()).init() })),
  );
  const all = { update: (bytes: Uint8Array) => hashers.forEach(({ hasher }) => hasher.update(bytes)), hex: () => '' };
  await digestWhole(source, all, onBytes);
  return Object.fromEntries(hashers.map(({ algorithm, hasher }) => [algorithm, hasher.digest('hex')]));
}
