// Whether a bag is complete and valid: what its tag files say is read first (core/bagit), then every file that is listed,
// and held against its checksums. Bags of anybody's making; nothing in one is changed.

import { type BagCheck, type BagFault, checkBag, isBagTagFile } from '@/core/bagit/bag-check';
import { joinedPath, nameIn } from '@/core/names/file-names';
import type { Drive, DriveEntry } from '../drives/drive';
import { bytesOf } from '../drives/safe-write';
import type { FileTasks } from '../file-tasks/file-tasks';
import type { ZipOrder } from '../file-tasks/zip';

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
  /** All that lies in it: tag files too. */
  paths: string[];
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
  return {
    check,
    isValid,
    wrong,
    unread,
    read: done.files - unread.length,
    paths: entries.map(({ path }) => path),
  };
}

/**
 * A bag that was just found valid as one file beside its folder (RFC 8493, section 4): a ZIP with that folder in it,
 * read back in full before it has its name.
 */
export async function packBag(
  drive: Drive,
  folder: string,
  { paths }: Pick<BagVerdict, 'paths'>,
  {
    fileTasks,
    signal,
    onBytes,
  }: { fileTasks: Pick<FileTasks, 'zip'>; signal: AbortSignal; onBytes: (bytes: number) => void },
): Promise<{ path: string; bytes: number }> {
  const entries: ZipOrder['entries'] = [];
  for (const path of paths) {
    signal.throwIfAborted();
    const file = await drive.open(joinedPath(folder, path));
    entries.push({ name: joinedPath(nameIn(folder), path), file, modifiedMs: file.lastModified });
  }
  const { path } = await fileTasks.zip({ drive, path: `${folder}.zip`, entries }, onBytes, signal);
  return { path, bytes: (await drive.open(path)).size };
}
