import { createSHA256 } from 'hash-wasm';
import type { RunningDigest } from '@/core/bytes/digest';
import { toHex } from '@/core/bytes/hex';

/** SHA-256 in steps. The platform's own digest wants the whole file in memory; this one does not. */
export async function newSha256(): Promise<RunningDigest> {
  const hasher = await createSHA256();
  hasher.init();
  return { update: (bytes) => void hasher.update(bytes), hex: () => hasher.digest('hex') };
}

/** SHA-256 of something small, by the platform. */
export const sha256 = async (bytes: Uint8Array): Promise<Uint8Array> =>
  new Uint8Array(await crypto.subtle.digest('SHA-256', bytes.slice()));

export const sha256Hex = async (bytes: Uint8Array): Promise<string> => toHex(await sha256(bytes));
