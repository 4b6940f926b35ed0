// Writing so that an interruption at any byte leaves the old file or the new one: a part file beside it, read back and
// compared, then renamed over the old one in one step. Before the rename the old file must still be what it was.

import { sameBytes } from '@/core/bytes/join';
import type { ByteSource } from '@/core/bytes/source';
import { nthPath } from '@/core/names/file-names';
import { type Drive, DriveError, type OpenedFile, type LazyBytes, type PartFile } from './drive';

export const blobSource = (bytes: LazyBytes): ByteSource => ({
  size: bytes.size,
  read: async (offset, lengthBytes) => new Uint8Array(await bytes.slice(offset, offset + lengthBytes).arrayBuffer()),
});

export const bytesOf = async (bytes: LazyBytes): Promise<Uint8Array<ArrayBuffer>> =>
  new Uint8Array(await bytes.arrayBuffer());

/** All bytes as a `Blob`, for what of the browser takes nothing else. */
export const blobOf = async (bytes: LazyBytes): Promise<Blob> =>
  bytes instanceof Blob ? bytes : bytes.blob ? bytes.blob() : new Blob([await bytes.arrayBuffer()]);

/** The file, or `null` where there is none. */
export async function openIfThere(drive: Drive, path: string): Promise<OpenedFile | null> {
  try {
    return await drive.open(path);
  } catch (error) {
    if (error instanceof DriveError && error.problem === 'not-found') return null;
    throw error;
  }
}

/** The file's bytes, or `null` where there is none. */
export async function readIfThere(drive: Drive, path: string): Promise<Uint8Array<ArrayBuffer> | null> {
  const file = await openIfThere(drive, path);
  return file && bytesOf(file);
}

/**
 * The path, or the first numbered one that nothing has. What was free may be taken a moment later: it is given under
 * `alone`, or to `move`, which refuses.
 */
export async function freePath(drive: Drive, path: string): Promise<string> {
  let number = 1;
  while (await openIfThere(drive, nthPath(path, number))) number += 1;
  return nthPath(path, number);
}

/** Works on a part, and takes it away again where that does not come to its end. */
export async function withPart<T>(part: PartFile, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    await part.remove().catch(() => undefined);
    throw error;
  }
}

/**
 * Puts `bytes` in the place of what is at `path`, provided that is still `expected` (`null`: nothing there).
 * Rejects with `changed-meanwhile`, `read-back-differs`, or the drive's own problem; the old file then stands.
 */
export async function replaceFile(
  drive: Drive,
  path: string,
  bytes: Uint8Array<ArrayBuffer>,
  expected: Uint8Array | null,
): Promise<void> {
  if ((await drive.replace?.(path, bytes, expected, null)) === 'replaced') return;
  const [error] = await replaceFiles(drive, [{ path, bytes, expected }]);
  if (error) throw error;
}

export interface Replacement {
  path: string;
  bytes: Uint8Array<ArrayBuffer>;
  expected: Uint8Array | null;
}

/** The same of several files, whose names are given in one go. What became of each; `null` where it was replaced. */
export async function replaceFiles(drive: Drive, files: readonly Replacement[]): Promise<(Error | null)[]> {
  const parts = new Map<Replacement, PartFile>();
  const failed = new Map<Replacement, Error>();
  const trying = async (file: Replacement, act: () => Promise<void>) => {
    try {
      await act();
    } catch (error) {
      failed.set(file, error instanceof Error ? error : new Error(String(error)));
    }
  };
  for (const file of files)
    await trying(file, async () => {
      const part = await drive.createPart(file.path, once(file.bytes));
      parts.set(file, part);
      if (!sameBytes(await bytesOf(await part.open()), file.bytes))
        throw new DriveError('read-back-differs', file.path);
    });
  const good = [...parts].filter(([file]) => !failed.has(file));
  try {
    if (good.length > 0)
      await drive.alone(async () => {
        for (const [file, part] of good) await trying(file, () => finishUnchanged(drive, file, part));
      });
  } catch (error) {
    for (const [file] of good) await trying(file, () => Promise.reject(error as Error));
  }
  for (const [file, part] of parts) if (failed.has(file)) await part.remove().catch(() => undefined);
  return files.map((file) => failed.get(file) ?? null);
}

async function finishUnchanged(drive: Drive, { path, expected }: Replacement, part: PartFile): Promise<void> {
  const now = await readIfThere(drive, path);
  const unchanged = now === null || expected === null ? now === expected : sameBytes(now, expected);
  if (!unchanged) throw new DriveError('changed-meanwhile', path);
  await part.finish(path, expected === null ? 'free' : 'old');
}

export async function* once(bytes: Uint8Array<ArrayBuffer>): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  yield bytes;
}
