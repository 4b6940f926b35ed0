// Which drives are connected: opening their folders, telling away from not yet permitted, and knowing a drive by its
// mark. Where it is plugged in says nothing: another mark is another drive, and no mark is no drive of ours until the
// person says so.

import { type DriveFile, markDrive, readDriveFile } from '../archive/archive-files';
import type { CatalogDatabase } from '../catalog/database';
import type { DriveRecord, ServedPlace, SourceRecord } from '../catalog/records';
import type { HostClient } from '../host/host-client';
import { HostDrive } from '../host/host-drive';
import type { ServedFolder } from '../host/protocol';
import { ARCHIVE_FOLDER, type Drive, DriveError } from '../drives/drive';
import { HandleDrive } from '../drives/handle-drive';
import { ListedDrive } from '../drives/listed-drive';
import { MarkedDrive } from '../archive/marked-drive';
import { type Relation, isSamePlace, relationOf, relationOfPaths } from '../drives/overlap';

export type Connection =
  | { state: 'connected'; drive: Drive; writable: boolean }
  /** The browser asks the person anew; one click on the drive does it. */
  | { state: 'needs-permission' }
  /** The host serves it, and does not know this page: it was not opened by the link of this start. */
  | { state: 'needs-link' }
  /**
   * Something is there, and it is not this drive: it bears another mark (`name` is its name), none, or one that cannot
   * be read. Nothing of it is read or written.
   */
  | { state: 'stranger'; why: 'other-drive' | 'no-mark' | 'mark-unreadable'; name: string | null }
  | { state: 'away' };

/**
 * A folder the person offered: with a handle, as a list of files where the browser has no handles, or on this machine,
 * served by the host.
 */
export type Folder =
  | { handle: FileSystemDirectoryHandle }
  | { listed: ListedDrive }
  | { served: Pick<ServedFolder, 'id' | 'path' | 'name' | 'above'>; host: HostClient };

/** A store elsewhere, and no folder of this machine. */
export const isStoreAddress = (path: string): boolean => /^https?:\/\//.test(path);

export const driveOf = (folder: Folder, id: string): Drive => {
  if ('handle' in folder) return new HandleDrive(folder.handle, id);
  return 'served' in folder ? new HostDrive(folder.host, folder.served.id, id) : folder.listed;
};
const nameOf = (folder: Folder): string => {
  if ('handle' in folder) return folder.handle.name;
  return 'served' in folder ? folder.served.name : folder.listed.name;
};

/** What of a folder is kept, so that it is found again. */
export const folderPlace = (folder: Folder): Required<Pick<DriveRecord, 'handle' | 'served'>> => ({
  handle: 'handle' in folder ? folder.handle : null,
  served: 'served' in folder ? { folder: folder.served.id, path: folder.served.path } : null,
});

/** Where practice drives lie in the browser's private file system. */
export const PRACTICE_FOLDER = 'practice-drives';

export async function practiceFolder(driveId: string, create = false): Promise<FileSystemDirectoryHandle> {
  const root = await navigator.storage.getDirectory();
  const all = await root.getDirectoryHandle(PRACTICE_FOLDER, { create });
  return all.getDirectoryHandle(driveId, { create });
}

type Connectable = Pick<DriveRecord | SourceRecord, 'id' | 'kind' | 'handle' | 'served' | 'access' | 'takenOut'> &
  Partial<Pick<DriveRecord, 'marked'>>;

/**
 * The state of a drive or a source now. Of a drive its mark is read; a source (a card) has none. With `ask`, the
 * browser may show its permission question; needs a click of the person's.
 * @param host `null` where the host does not know this page
 */
export async function connectionOf(
  record: Connectable,
  host: HostClient | null = null,
  ask = false,
): Promise<Connection> {
  if (record.takenOut) return { state: 'away' };
  try {
    if (record.served) return await servedConnection(record, record.served, host);
    const handle = record.kind === 'practice' ? await practiceFolder(record.id) : record.handle;
    if (!handle) return { state: 'away' };
    if (record.kind === 'folder') {
      const mode = record.access === 'write' ? 'readwrite' : 'read';
      const permission = ask ? await handle.requestPermission({ mode }) : await handle.queryPermission({ mode });
      if (permission !== 'granted') return { state: 'needs-permission' };
    }
    await handle.values().next(); // a folder whose drive is unplugged fails here
    return await meetMark(new HandleDrive(handle, record.id), record);
  } catch {
    return { state: 'away' };
  }
}

async function servedConnection(
  record: Connectable,
  { folder }: ServedPlace,
  host: HostClient | null,
): Promise<Connection> {
  const there = host ? await servedNow(host, folder) : 'closed';
  if (!host || there === 'closed') return { state: 'needs-link' };
  if (!there?.isThere) return { state: 'away' };
  const access = record.access === 'write' && there.isWritable ? 'write' : 'read';
  return meetMark(new HostDrive(host, folder, record.id), { ...record, access });
}

/** A folder as the host has it now; `null` where it is served no longer. Rejects where the host cannot be reached. */
async function servedNow(host: HostClient, folder: string): Promise<ServedFolder | null | 'closed'> {
  try {
    return (await host.ask('folders', {})).find(({ id }) => id === folder) ?? null;
  } catch (error) {
    if (error instanceof DriveError && error.problem === 'host-closed') return 'closed';
    throw error;
  }
}

/** What is there, as the drive it is to be: by its mark. @param record without `marked`: a source, which has no mark */
export async function meetMark(
  drive: Drive,
  { id, access, marked }: Pick<Connectable, 'id' | 'access' | 'marked'>,
): Promise<Connection> {
  const writable = access === 'write';
  if (marked === undefined) return { state: 'connected', drive, writable };
  const mark = await readMark(drive);
  if (mark.state === 'unreadable') return { state: 'stranger', why: 'mark-unreadable', name: null };
  if (mark.state === 'read' && mark.mark.id !== id)
    return { state: 'stranger', why: 'other-drive', name: mark.mark.name };
  if (mark.state === 'absent')
    return marked ? { state: 'stranger', why: 'no-mark', name: null } : { state: 'connected', drive, writable };
  return { state: 'connected', drive: new MarkedDrive(drive, id), writable };
}

type Mark = { state: 'read'; mark: DriveFile } | { state: 'absent' } | { state: 'unreadable'; reason: string };

/** A drive that cannot be read at all is away, and rejects. */
async function readMark(drive: Drive): Promise<Mark> {
  try {
    const mark = await readDriveFile(drive);
    return mark ? { state: 'read', mark } : { state: 'absent' };
  } catch (error) {
    if (error instanceof DriveError) throw error;
    return { state: 'unreadable', reason: error instanceof Error ? error.message : String(error) };
  }
}

/** Asks for leave to write where the browser can give it. */
export async function accessTo(folder: Folder): Promise<DriveRecord['access']> {
  if ('listed' in folder) return 'read';
  try {
    if ('served' in folder) {
      const there = await servedNow(folder.host, folder.served.id);
      return there !== null && there !== 'closed' && there.isWritable ? 'write' : 'read';
    }
    return (await folder.handle.requestPermission({ mode: 'readwrite' })) === 'granted' ? 'write' : 'read';
  } catch {
    return 'read';
  }
}

export type Recognised =
  | { state: 'new'; suggestedName: string }
  /** The folder is a drive the catalog has, whatever path leads there. */
  | { state: 'known-here'; record: DriveRecord }
  /**
   * It bears the mark of a drive the catalog knows, which is not there at the moment: the same drive, plugged in
   * elsewhere.
   */
  | { state: 'known-moved'; record: DriveRecord }
  /** It bears the mark of a drive that is connected too, in another place: one is a clone of the other. */
  | { state: 'clone'; record: DriveRecord }
  /** It bears a mark the catalog does not know: from an earlier catalog. Its name and id are kept. */
  | { state: 'returning'; id: string; name: string; createdAt: number }
  /**
   * It lies where a drive of the catalog lay, and bears no mark: an empty mount point, another disk, or the mark was
   * deleted.
   */
  | { state: 'lost-mark'; record: DriveRecord }
  /** It bears a mark that cannot be read: damaged, or from a later version. */
  | { state: 'strange-mark'; reason: string }
  /** It lies in a drive of the catalog, at `path` there: its photos are in the catalog with that drive. */
  | { state: 'inside'; record: DriveRecord; path: string }
  /** Drives of the catalog lie in it, each at its path: they can only be joined. */
  | { state: 'around'; suggestedName: string; inner: { record: DriveRecord; path: string }[] };

/** Says what the catalog knows of a folder the person picked or dropped. */
export async function recognise(
  db: CatalogDatabase,
  folder: Folder,
  host: HostClient | null = null,
): Promise<Recognised> {
  const records = await db.drives.toArray();
  const found = await readMark(driveOf(folder, 'offered'));
  if (found.state === 'unreadable') return { state: 'strange-mark', reason: found.reason };
  const here = await atSamePlace(records, folder);
  if (found.state === 'read') {
    const record = records.find(({ id }) => id === found.mark.id);
    if (record) return recogniseMarked(record, here?.id === record.id, folder, host);
  } else if (here) return { state: here.marked ? 'lost-mark' : 'known-here', record: here };
  const nested = await nestedIn(records, folder);
  if (nested) return nested;
  if (found.state === 'read')
    return { state: 'returning', id: found.mark.id, name: found.mark.name, createdAt: found.mark.createdAt };
  const unmarked = records.find(
    (record) => record.kind === 'folder' && record.handle === null && record.name === nameOf(folder),
  );
  return unmarked && 'listed' in folder
    ? { state: 'known-moved', record: unmarked }
    : { state: 'new', suggestedName: nameOf(folder) };
}

async function recogniseMarked(
  record: DriveRecord,
  isHere: boolean,
  folder: Folder,
  host: HostClient | null,
): Promise<Recognised> {
  if (isHere) return { state: 'known-here', record };
  const connection = await connectionOf(record, host);
  if (connection.state !== 'connected') return { state: 'known-moved', record };
  const probe = `${ARCHIVE_FOLDER}/drive.json`;
  const isSame = await isSamePlace(driveOf(folder, 'offered'), probe, connection.drive, probe).catch(() => false);
  return { state: isSame ? 'known-here' : 'clone', record };
}

async function atSamePlace<T extends DriveRecord | SourceRecord>(
  records: readonly T[],
  folder: Folder,
): Promise<T | null> {
  for (const record of records) {
    if ('served' in folder && record.served?.path === folder.served.path) return record;
    if ('handle' in folder && record.handle && (await record.handle.isSameEntry(folder.handle))) return record;
  }
  return null;
}

/** How a folder that was offered, or a known one, lies to a known one. Unknown ways to a folder tell nothing. */
async function relationBetween(
  a: Pick<DriveRecord, 'handle' | 'served'>,
  b: Pick<DriveRecord, 'handle' | 'served'>,
): Promise<Relation> {
  if (a.handle && b.handle) return relationOf(a.handle, b.handle);
  return a.served && b.served ? relationOfPaths(a.served.path, b.served.path) : { how: 'apart' };
}

async function nestedIn(
  records: readonly DriveRecord[],
  folder: Folder,
): Promise<Extract<Recognised, { state: 'inside' | 'around' }> | null> {
  const inner: { record: DriveRecord; path: string }[] = [];
  for (const record of records) {
    const above = 'served' in folder ? folder.served.above.find(({ id }) => id === record.id) : undefined;
    if (above) return { state: 'inside', record, path: above.path };
    const relation = await relationBetween(folderPlace(folder), record);
    if (relation.how === 'inside') return { state: 'inside', record, path: relation.path };
    if (relation.how === 'around') inner.push({ record, path: relation.path });
  }
  return inner.length > 0 ? { state: 'around', suggestedName: nameOf(folder), inner } : null;
}

export interface NewDrive {
  id: string;
  name: string;
  folder: Folder;
  access: DriveRecord['access'];
  at: number;
  /** The mark it is to bear no longer: of the drive it was cloned from. */
  over?: string | null;
}

/** Registers a drive; where it may be written, leaves its mark on it, by which it is known again anywhere. */
export async function addFolderDrive(
  db: CatalogDatabase,
  { id, name, folder, access, at, over = null }: NewDrive,
): Promise<DriveRecord> {
  const drive = driveOf(folder, id);
  if (access === 'write') await markDrive(drive, { id, name, createdAt: at }, over);
  const marked = access === 'write' || (await readDriveFile(drive))?.id === id;
  const record: DriveRecord = {
    id,
    name,
    kind: 'folder',
    ...folderPlace(folder),
    access,
    takenOut: false,
    addedAt: at,
    scannedAt: null,
    bytes: 0,
    embeds: false,
    marked,
  };
  await db.drives.put(record);
  return record;
}

/** The person says that a folder without a mark is a drive the catalog knows: it gets its mark again. */
export async function markAgain(record: DriveRecord, folder: Folder): Promise<void> {
  const drive = driveOf(folder, record.id);
  if ((await readMark(drive)).state !== 'absent') throw new DriveError('other-drive', '');
  await markDrive(drive, { id: record.id, name: record.name, createdAt: record.addedAt }, null);
}

/**
 * Whether a card or folder shares its place with a drive: then what lies on that drive is no copy of what lies on the
 * card.
 */
export async function sharesPlace(
  source: Pick<SourceRecord, 'handle' | 'served'>,
  drive: Pick<DriveRecord, 'handle' | 'served'>,
): Promise<boolean> {
  return (await relationBetween(source, drive)).how !== 'apart';
}

/** Registers a card or folder that photos are taken in from, or finds it again. Nothing is written on it. */
export async function addFolderSource(
  db: CatalogDatabase,
  id: string,
  folder: Folder,
  at: number,
): Promise<SourceRecord> {
  const known = await atSamePlace(await db.sources.toArray(), folder);
  if (known) {
    await db.sources.update(known.id, { ...folderPlace(folder), usedAt: at });
    return { ...known, ...folderPlace(folder), usedAt: at };
  }
  const record: SourceRecord = {
    id,
    name: nameOf(folder),
    kind: 'folder',
    ...folderPlace(folder),
    access: 'read',
    takenOut: false,
    usedAt: at,
  };
  await db.sources.put(record);
  return record;
}
