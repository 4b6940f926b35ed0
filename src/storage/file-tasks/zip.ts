// Files packed into a ZIP (PKWARE APPNOTE 6.3; with its 64-bit form where needed) as a stream: nothing of it is held.
// Stored, not deflated: pictures have no air in them. Written as a part, read back and compared, then named.

import { makeZip } from 'client-zip';
import { type RunningDigest, digestWhole } from '@/core/bytes/digest';
import { type Drive, DriveError, type LazyBytes } from '../drives/drive';
import { blobSource, freePath, withPart } from '../drives/safe-write';
import { piecesOf } from '../drives/stream-of';

export interface ZipOrder {
  drive: Drive;
  path: string;
  entries: { name: string; file: LazyBytes; modifiedMs: number }[];
}

export interface ZipTools {
  newDigest: () => Promise<RunningDigest>;
  onBytes: (bytes: number) => void;
  signal?: AbortSignal | undefined;
}

/** Answers with the path it got: a name that is taken gets a number. */
export async function packZip({ drive, path, entries }: ZipOrder, tools: ZipTools): Promise<{ path: string }> {
  const written = await tools.newDigest();
  const part = await drive.createPart(path, packedPieces(entries, written, tools));
  return withPart(part, async () => {
    const read = await digestWhole(blobSource(await part.open()), await tools.newDigest(), () =>
      tools.signal?.throwIfAborted(),
    );
    if (read !== written.hex()) throw new DriveError('read-back-differs', path);
    return drive.alone(async () => {
      const free = await freePath(drive, path);
      await part.finish(free, 'free');
      return { path: free };
    });
  });
}

async function* packedPieces(
  entries: ZipOrder['entries'],
  written: RunningDigest,
  { onBytes, signal }: ZipTools,
): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  const files = entries.map(({ name, file, modifiedMs }) => ({
    name,
    input: piecesOf(file),
    size: file.size,
    lastModified: new Date(modifiedMs),
  }));
  const reader = makeZip(files).getReader();
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    signal?.throwIfAborted();
    const bytes = new Uint8Array(value);
    written.update(bytes);
    onBytes(bytes.length);
    yield bytes;
  }
}
