// Which drives are connected: opening their folders, telling away from not yet permitted, and knowing a drive again.

import { readDriveFile, writeDriveFile } from '../archive/archive-files';
import type { CatalogDatabase } from '../catalog/database';
import type { DriveRecord, SourceRecord } from '../catalog/records';
import type { Drive } from './drive';
import { HandleDrive } from './handle-drive';
import { ListedDrive } from './listed-drive';

export type Connection =
  | { state: 'connected'; drive: Drive; writable: boolean }
  /** The browser asks the person anew; one click on the drive does it. */
  | { state: 'needs-permission' }
  | { state: 'away' };

/** A folder the person offered: with a handle, or as a list of files where the browser has no handles. */
export type Folder = { handle: FileSystemDirectoryHandle } | { listed: ListedDrive };

const driveOf = (folder: Folder): Drive => ('handle' in folder ? new HandleDrive(folder.handle) : folder.listed);
const nameOf = (folder: Folder): string => ('handle' in folder ? folder.handle.name : folder.listed.name);

/** Where practice drives lie in the browser's private file system. */
export const PRACTICE_FOLDER = 'practice-drives';

export async function practiceFolder(driveId: string, create = false): Promise<FileSystemDirectoryHandle> {
  const root = await navigator.storage.getDirectory();
  const all = await root.getDirectoryHandle(PRACTICE_FOLDER, { create });
  return all.getDirectoryHandle(driveId, { create });
}

type Connectable = Pick<DriveRecord, 'id' | 'kind' | 'handle' | 'access' | 'takenOut'>;

/** The state of a drive or a source now. With `ask`, the browser may show its permission question; needs a click of the person's. */
export async function connectionOf(record: Connectable, ask = false): Promise<Connection> {
  if (record.takenOut) return { state: 'away' };
  try {
    const handle = record.kind === 'practice' ? await practiceFolder(record.id) : record.handle;
    if (!handle) return { state: 'away' };
    if (record.kind === 'folder') {
      const mode = record.access === 'write' ? 'readwrite' : 'read';
      const permission = ask ? await handle.requestPermission({ mode }) : await handle.queryPermission({ mode });
      if (permission !== 'granted') return { state: 'needs-permission' };
    }
    await handle.values().next(); // a folder whose drive is unplugged fails here
    return { state: 'connected', drive: new HandleDrive(handle), writable: record.access === 'write' };
  } catch {
    return { state: 'away' };
  }
}

/** Asks for leave to write where the browser can give it. */
export async function accessTo(folder: Folder): Promise<DriveRecord['access']> {
  if (!('handle' in folder)) return 'read';
  try {
    return (await folder.handle.requestPermission({ mode: 'readwrite' })) === 'granted' ? 'write' : 'read';
  } catch {
    return 'read';
  }
}

export type Recognised =
  | { state: 'new'; suggestedName: string }
  /** The folder is a drive the catalog has. */
  | { state: 'known-here'; record: DriveRecord }
  /** It bears the mark of a drive the catalog knows, which is not there at the moment: the same drive, plugged in elsewhere. */
  | { state: 'known-moved'; record: DriveRecord }
  /** It bears the mark of a drive that is connected too: one is a clone of the other. */
  | { state: 'clone'; record: DriveRecord }
  /** It bears a mark the catalog does not know: from an earlier catalog. Its name and id are kept. */
  | { state: 'returning'; id: string; name: string; createdAt: number };

/** Says what the catalog knows of a folder the person picked or dropped. */
export async function recognise(db: CatalogDatabase, folder: Folder): Promise<Recognised> {
  const records = await db.drives.toArray();
  for (const record of records) {
    if ('handle' in folder && record.handle && (await record.handle.isSameEntry(folder.handle))) return { state: 'known-here', record };
  }
  const mark = await readDriveFile(driveOf(folder));
  const unmarked = records.find((record) => record.kind === 'folder' && record.handle === null && record.name === nameOf(folder));
  if (!mark) return unmarked && 'listed' in folder ? { state: 'known-moved', record: unmarked } : { state: 'new', suggestedName: nameOf(folder) };
  const record = records.find(({ id }) => id === mark.id);
  if (!record) return { state: 'returning', id: mark.id, name: mark.name, createdAt: mark.createdAt };
  const connection = await connectionOf(record);
  return { state: connection.state === 'away' ? 'known-moved' : 'clone', record };
}

export interface NewDrive {
  id: string;
  name: string;
  folder: Folder;
  access: DriveRecord['access'];
  at: number;
}

/** Registers a drive; where it may be written, leaves its mark on it, by which it is known again anywhere. */
export async function addFolderDrive(db: CatalogDatabase, { id, name, folder, access, at }: NewDrive): Promise<DriveRecord> {
  const handle = 'handle' in folder ? folder.handle : null;
  const record: DriveRecord = { id, name, kind: 'folder', handle, access, takenOut: false, addedAt: at, scannedAt: null, bytes: 0, embeds: false };
  if (access === 'write') await writeDriveFile(driveOf(folder), { id, name, createdAt: at });
  await db.drives.put(record);
  return record;
}

/** Registers a card or folder that photos are taken in from, or finds it again. Nothing is written on it. */
export async function addFolderSource(db: CatalogDatabase, id: string, folder: Folder, at: number): Promise<SourceRecord> {
  const handle = 'handle' in folder ? folder.handle : null;
  for (const known of await db.sources.toArray()) {
    if (!handle || !known.handle || !(await known.handle.isSameEntry(handle))) continue;
    await db.sources.update(known.id, { handle, usedAt: at });
    return { ...known, handle, usedAt: at };
  }
  const record: SourceRecord = { id, name: nameOf(folder), kind: 'folder', handle, access: 'read', takenOut: false, usedAt: at };
  await db.sources.put(record);
  return record;
}
