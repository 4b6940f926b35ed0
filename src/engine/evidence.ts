// The evidence beside a file that is not what it was: what was expected and found, where the bytes differ from a good
// copy, and how both look.

import { type Differences, findDifferences } from '@/core/fixity/differences';
import type { FileRecord } from '@/storage/catalog/records';
import type { OpenedFile } from '@/storage/drives/drive';
import { blobSource } from '@/storage/drives/safe-write';
import type { FileTasks } from '@/storage/file-tasks/file-tasks';

export interface Side {
  file: FileRecord;
  sizeBytes: number;
  modifiedMs: number;
  /** The picture as it can be drawn; `null` where it cannot. */
  picture: Blob | null;
}

export interface Evidence {
  damaged: Side;
  good: Side;
  differences: Differences;
}

/** @throws DriveError where one of them cannot be read */
export async function gatherEvidence(
  fileTasks: Pick<FileTasks, 'read' | 'preview'>,
  open: (file: FileRecord) => Promise<OpenedFile>,
  damaged: FileRecord,
  good: FileRecord,
  signal: AbortSignal,
): Promise<Evidence> {
  const [a, b] = await Promise.all([open(damaged), open(good)]);
  const side = async (file: FileRecord, opened: OpenedFile): Promise<Side> => ({
    file,
    sizeBytes: opened.size,
    modifiedMs: opened.lastModified,
    picture: await pictureOf(fileTasks, opened, file.path, signal),
  });
  const differences = await findDifferences(blobSource(a), blobSource(b), signal);
  return { damaged: await side(damaged, a), good: await side(good, b), differences };
}

/** A file that is damaged enough has none. */
async function pictureOf(
  fileTasks: Pick<FileTasks, 'read' | 'preview'>,
  opened: OpenedFile,
  name: string,
  signal: AbortSignal,
): Promise<Blob | null> {
  try {
    const { reading } = await fileTasks.read(opened, name, signal);
    return (await fileTasks.preview(opened, reading, 'large', signal)).blob;
  } catch {
    signal.throwIfAborted();
    return null;
  }
}
