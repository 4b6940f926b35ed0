import type { ByteSource } from './source';
import { toHex } from './hex';

/** A running SHA-256; the platform's, or WebAssembly's where only that can run in steps. */
export interface RunningDigest {
  update(bytes: Uint8Array): void;
  /** Lower-case hexadecimal, 64 characters. */
  hex(): string;
}

export type DigestOf = (bytes: Uint8Array) => Promise<Uint8Array>;

/** Large enough that the cost of a read is small against its bytes, small enough that several files fit in memory. */
export const DIGEST_CHUNK_BYTES = 4 * 1024 * 1024;

const EDGE_BYTES = 16 * 1024;

/**
 * The fingerprint of a file: SHA-256 over its length, its first and its last 16 KiB, first 32 hexadecimal characters.
 * Two reads instead of the whole file; it says which photo this most likely is. Only the digest of all bytes proves it.
 */
export async function fingerprint(source: ByteSource, sha256: DigestOf): Promise<string> {
  const head = await source.read(0, EDGE_BYTES);
  const tail =
    source.size > EDGE_BYTES
      ? await source.read(Math.max(EDGE_BYTES, source.size - EDGE_BYTES), EDGE_BYTES)
      : new Uint8Array();
  const bytes = new Uint8Array(8 + head.length + tail.length);
  new DataView(bytes.buffer).setBigUint64(0, BigInt(source.size));
  bytes.set(head, 8);
  bytes.set(tail, 8 + head.length);
  return toHex(await sha256(bytes)).slice(0, 32);
}

/** SHA-256 of all bytes, in chunks; `onBytes` hears after each. Rejects when the source ends before its stated size. */
export async function digestWhole(
  source: ByteSource,
  digest: RunningDigest,
  onBytes: (bytes: number) => void,
): Promise<string> {
  let at = 0;
  while (at < source.size) {
    const chunk = await source.read(at, DIGEST_CHUNK_BYTES);
    if (chunk.length === 0) throw new Error(`ends at ${at} of ${source.size} bytes`);
    digest.update(chunk);
    at += chunk.length;
    onBytes(chunk.length);
  }
  return digest.hex();
}
