// Whether a bag is complete and valid: what its tag files say is read first (core/bagit), then every file that is listed,
// and held against its checksums. Bags of anybody's making; nothing in one is changed.

import { type BagCheck, type BagFault, checkBag, isBagTagFile } from '@/core/bagit/bag-check';
import { joinedPath } from '@/core/names/file-names';
import type { Drive, DriveEntry } from '../drives/drive';
import { bytesOf } from '../drives/safe-write';
import type { FileTasks } from '../file-tasks/file-tasks';

export interface BagVerdict {
  check: BagCheck;
  /** Every file that is listed was read and is what its checksums say, and nothing else is wrong. */
  isValid: boolean;
  /** Files whose bytes are not what a checksum says. */
  wrong: string[];
  /** Files that could not be read. */
  unread: string[];
  /** Files read. */
  read: number;
}

export interface BagCheckTools {
  fileTasks: Pick<FileTasks, 'checksums'>;
  signal: AbortSignal;
  onProgress: (done: { files: number; of: number; bytes: number; ofBytes: number }) => void;
}

/** No tag file is longer: a manifest of a million files is not. */
const TAG_FILE_LIMIT = 512 * 1024 * 1024;

/** @param folder of the drive that the bag is */
export async function checkBagOn(drive: Drive, folder: string, tools: BagCheckTools): Promise<BagVerdict> {
  const { fileTasks, signal, onProgress } = tools;
  const inside = (path: string) => (folder === '' ? path : path.slice(folder.length + 1));
  const entries: DriveEntry[] = [];
  const tagBytes = new Map<string, Uint8Array>();
  const unlisted: BagFault[] = [];
  for await (const entry of drive.list({
    signal,
    ...(folder !== '' && { below: folder }),
    onUnlisted: (path) => unlisted.push({ code: 'missing', path: inside(path) }),
  })) {
    entries.push({ ...entry, path: inside(entry.path) });
    if (isBagTagFile(inside(entry.path)) && entry.sizeBytes <= TAG_FILE_LIMIT)
      tagBytes.set(inside(entry.path), await bytesOf(await drive.open(entry.path)));
  }
  const check = checkBag(entries, tagBytes);
  check.faults.push(...unlisted);
  const sizes = new Map(entries.map(({ path, sizeBytes }) => [path, sizeBytes]));
  const done = {
    files: 0,
    of: check.listed.length,
    bytes: 0,
    ofBytes: check.listed.reduce((sum, { path }) => sum + (sizes.get(path) ?? 0), 0),
  };
  const [wrong, unread]: [string[], string[]] = [[], []];
  for (const { path, checksums } of check.listed) {
    signal.throwIfAborted();
    try {
      const file = await drive.open(joinedPath(folder, path));
      const onBytes = (bytes: number) => {
        done.bytes += bytes;
        onProgress({ ...done });
      };
      const found = await fileTasks.checksums(file, [...checksums.keys()], onBytes, signal);
      if ([...checksums].some(([algorithm, checksum]) => found[algorithm] !== checksum)) wrong.push(path);
    } catch {
      signal.throwIfAborted();
      unread.push(path);
    }
    done.files += 1;
    onProgress({ ...done });
  }
  const isValid = check.faults.length === 0 && wrong.length === 0 && unread.length === 0;
  return { check, isValid, wrong, unread, read: done.files - unread.length };
}
