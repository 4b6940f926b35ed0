// Writing so that an interruption at any byte leaves the old file or the new one: a part file beside it, read back and
// compared, then renamed over the old one in one step. Before the rename the old file must still be what it was.

import { sameBytes } from '@/core/bytes/join';
import type { ByteSource } from '@/core/bytes/source';
import { numbered } from '@/core/names/file-names';
import { DIGEST_CHUNK_BYTES, type RunningDigest, digestWhole } from '@/core/fixity/digest';
import { type Drive, DriveError } from './drive';

export const blobSource = (blob: Blob): ByteSource => ({
  size: blob.size,
  read: async (offset, lengthBytes) => new Uint8Array(await blob.slice(offset, offset + lengthBytes).arrayBuffer()),
});

export const bytesOf = async (blob: Blob): Promise<Uint8Array<ArrayBuffer>> => new Uint8Array(await blob.arrayBuffer());

/** The file's bytes, or `null` where there is none. */
export async function readIfThere(drive: Drive, path: string): Promise<Uint8Array<ArrayBuffer> | null> {
  try {
    return await bytesOf(await drive.open(path));
  } catch (error) {
    if (error instanceof DriveError && error.fault === 'not-found') return null;
    throw error;
  }
}

/**
 * Puts `bytes` in the place of what is at `path`, provided that is still `expected` (`null`: nothing there).
 * Rejects with `changed-meanwhile`, `read-back-differs`, or the drive's own fault; the old file then stands.
 */
export async function replaceFile(drive: Drive, path: string, bytes: Uint8Array<ArrayBuffer>, expected: Uint8Array | null): Promise<void> {
  try {
    await drive.createPart(path, once(bytes));
    if (!sameBytes(await bytesOf(await drive.openPart(path)), bytes)) throw new DriveError('read-back-differs', path);
    const now = await readIfThere(drive, path);
    const unchanged = now === null || expected === null ? now === expected : sameBytes(now, expected);
    if (!unchanged) throw new DriveError('changed-meanwhile', path);
    await drive.finishPart(path);
  } catch (error) {
    await drive.removePart(path).catch(() => undefined);
    throw error;
  }
}

export async function* once(bytes: Uint8Array<ArrayBuffer>): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  yield bytes;
}

export interface CopyResult {
  path: string;
  sha256: string;
  outcome: 'copied' | 'already-there';
}

export interface CopyTools {
  newDigest: () => Promise<RunningDigest>;
  onBytes: (bytes: number) => void;
  signal?: AbortSignal | undefined;
  /** The digest the source is known by. A source that reads otherwise is damaged, and its damage is not copied. */
  expected: string | null;
}

/**
 * Copies a file into a drive and proves it: digest while reading, part file, all bytes read back and digested again.
 * A file of that name with other content is never replaced: the copy goes beside it as `NAME-2.EXT`.
 * `onBytes` hears every byte twice, once written, once read back.
 */
export async function copyInto(drive: Drive, wanted: string, source: Blob, tools: CopyTools): Promise<CopyResult> {
  for (let attempt = 1; attempt < 1000; attempt++) {
    const path = attempt === 1 ? wanted : numbered(wanted, attempt);
    const there = await openIfThere(drive, path);
    if (!there) return copyPart(drive, path, source, tools);
    const sha256 = await sameContent(there, source, tools);
    if (sha256) return { path, sha256, outcome: 'already-there' };
  }
  throw new DriveError('exists', wanted);
}

/** The file, or `null` where there is none. */
export async function openIfThere(drive: Drive, path: string): Promise<File | null> {
  try {
    return await drive.open(path);
  } catch (error) {
    if (error instanceof DriveError && error.fault === 'not-found') return null;
    throw error;
  }
}

async function sameContent(there: Blob, source: Blob, { newDigest, onBytes }: CopyTools): Promise<string | null> {
  if (there.size !== source.size) return null;
  const [one, other] = [await digestWhole(blobSource(there), await newDigest(), onBytes), await digestWhole(blobSource(source), await newDigest(), onBytes)];
  return one === other ? one : null;
}

async function copyPart(drive: Drive, path: string, source: Blob, { newDigest, onBytes, signal, expected }: CopyTools): Promise<CopyResult> {
  try {
    const digest = await newDigest();
    await drive.createPart(path, chunks(source, digest, onBytes, signal));
    const sha256 = digest.hex();
    if (expected !== null && sha256 !== expected) throw new DriveError('source-damaged', path);
    const readBack = await digestWhole(blobSource(await drive.openPart(path)), await newDigest(), (bytes) => {
      signal?.throwIfAborted();
      onBytes(bytes);
    });
    if (readBack !== sha256) throw new DriveError('read-back-differs', path);
    await drive.finishPart(path);
    return { path, sha256, outcome: 'copied' };
  } catch (error) {
    await drive.removePart(path).catch(() => undefined);
    throw error;
  }
}

async function* chunks(source: Blob, digest: RunningDigest, onBytes: (bytes: number) => void, signal?: AbortSignal): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  for (let at = 0; at < source.size; at += DIGEST_CHUNK_BYTES) {
    signal?.throwIfAborted();
    const chunk = await bytesOf(source.slice(at, at + DIGEST_CHUNK_BYTES));
    digest.update(chunk);
    yield chunk;
    onBytes(chunk.length);
  }
}
