// Drives and files on their way to a worker, which opens them again: what the browser gave as it is, what lies on the
// host by its name there.

import { MarkedDrive } from '@/storage/archive/marked-drive';
import { type Drive, DriveError, type LazyBytes, type OpenedFile } from '@/storage/drives/drive';
import { HandleDrive } from '@/storage/drives/handle-drive';
import { type HostAccess, HostClient } from '@/storage/host/host-client';
import { HostDrive, HostFile, type HostFileFacts } from '@/storage/host/host-drive';

/** Known by its mark, or not (a card). */
export type HandedDrive = { id: string; marked: boolean } & (
  { root: FileSystemDirectoryHandle } | { host: HostAccess; folder: string }
);

export type HandedFile = Blob | { host: HostAccess; facts: HostFileFacts };

export function handed(drive: Drive, path: string): HandedDrive {
  const folder = drive instanceof MarkedDrive ? drive.inner : drive;
  const marked = drive instanceof MarkedDrive;
  if (folder instanceof HandleDrive) return { root: folder.root, id: folder.id, marked };
  if (folder instanceof HostDrive) return { host: folder.client.access, folder: folder.folder, id: folder.id, marked };
  throw new DriveError('failed', path);
}

export function openedDrive(drive: HandedDrive): Drive {
  const folder =
    'root' in drive
      ? new HandleDrive(drive.root, drive.id)
      : new HostDrive(clientOf(drive.host), drive.folder, drive.id);
  return drive.marked ? new MarkedDrive(folder, drive.id) : folder;
}

/** @throws DriveError of a kind of file that no worker can open */
export function handedFile(file: LazyBytes): HandedFile {
  if (file instanceof Blob) return file;
  if (file instanceof HostFile) return { host: file.client.access, facts: file.facts };
  throw new DriveError('failed', '');
}

export const openedFile = (file: HandedFile): LazyBytes =>
  file instanceof Blob ? file : new HostFile(clientOf(file.host), file.facts);

/** What was handed as a whole file: with its name and time. */
export const openedWhole = (file: HandedFile): OpenedFile => openedFile(file) as OpenedFile;

const clients = new Map<string, HostClient>();

/** One a worker, so that what is asked at the same time goes together. */
function clientOf(access: HostAccess): HostClient {
  const key = `${access.origin} ${access.token}`;
  const client = clients.get(key) ?? new HostClient(access);
  clients.set(key, client);
  return client;
}
