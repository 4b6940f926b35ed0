// Drives, cards and folders: which of them are there, and may be read or written. A click asks the browser for leave
// where that is needed.

import { nameIn } from '@/core/names/file-names';
import { keepSetting } from '@/storage/catalog/changes';
import { driveSetting } from '@/storage/catalog/saved';
import type { CatalogDatabase } from '@/storage/catalog/database';
import { queueEmbedding } from '@/storage/catalog/embedding';
import { joinDrive, setAsideOn } from '@/storage/catalog/joining';
import type { DriveRecord, SourceRecord } from '@/storage/catalog/records';
import {
  type Connection,
  type Folder,
  type Recognised,
  addFolderDrive,
  accessTo,
  addFolderSource,
  connectionOf,
  markAgain,
  folderPlace,
  isStoreAddress,
  recognise,
  sharesPlace,
} from '@/storage/connections/connections';
import { type Drive, DriveError } from '@/storage/drives/drive';
import type { ListedDrive } from '@/storage/drives/listed-drive';
import type { HostClient } from '@/storage/host/host-client';
import type { FolderWatch } from './folder-watch';

const SEEN_EVERY_MS = 3_600_000;

export interface ConnectionPorts {
  db: CatalogDatabase;
  watch: Pick<FolderWatch, 'watch' | 'onFocus'>;
  /** A folder that the host serves is listened to. */
  watchServed: (driveId: string, folder: string) => void;
  /** `null` where the host does not know this page. */
  host: () => HostClient | null;
  /** What is known of each now, by id. */
  known: () => Record<string, Connection>;
  note: (id: string, connection: Connection) => void;
  /** A card that was not there, and is. */
  onArrival: (sourceId: string) => void;
  /** Something waits to be written, and may be now. */
  wake: () => void;
  startScan: (driveId: string) => Promise<unknown>;
  /** A drive more: the browser is asked to keep what it stores. */
  onAdded: () => void;
  /** A store that is a drive for the first time: what it is, and that it lies elsewhere, is said of it. */
  onNewStore: (driveId: string) => Promise<unknown>;
}

export class Connections {
  /** Folders given as lists of files: they last as long as the page. */
  private readonly listed = new Map<string, ListedDrive>();

  private channel: BroadcastChannel | null = null;

  constructor(private readonly ports: ConnectionPorts) {}

  /**
   * From now on a drive that is connected in another tab is at hand here too: its handle lies in the catalog, and the
   * browser's leave holds for all tabs.
   */
  listen(): void {
    this.channel = new BroadcastChannel(`${this.ports.db.name}-drives`);
    this.channel.onmessage = ({ data }) => void this.lookAgain(String(data));
  }

  private async lookAgain(id: string): Promise<void> {
    const { db, wake } = this.ports;
    const record = (await db.drives.get(id)) ?? (await db.sources.get(id));
    if (record && (await this.look(record, false)).state === 'connected') wake();
  }

  of(id: string): Connection {
    return this.ports.known()[id] ?? { state: 'away' };
  }

  /** Looks whether each is there; at the start. One that is slow to answer, as a store may be, holds up no other. */
  async openAll(): Promise<void> {
    const { db } = this.ports;
    const records = [...(await db.drives.toArray()), ...(await db.sources.toArray())];
    await Promise.all(records.map((record) => this.connect(record)));
  }

  /** Looks whether it is there, and tells the other tabs where that is not what it was. */
  async connect(record: DriveRecord | SourceRecord, ask = false): Promise<Connection> {
    const before = this.of(record.id).state;
    const connection = await this.look(record, ask);
    if (connection.state !== before || ask) this.channel?.postMessage(record.id);
    return connection;
  }

  private async look(record: DriveRecord | SourceRecord, ask: boolean): Promise<Connection> {
    const listed = this.listed.get(record.id);
    const connection: Connection = listed
      ? { state: 'connected', drive: listed, writable: false }
      : await connectionOf(record, this.ports.host(), ask);
    this.ports.note(record.id, connection);
    if (connection.state === 'connected' && 'scannedAt' in record) {
      await this.noteSeen(record);
      if (record.handle) void this.ports.watch.watch(record.id, record.handle);
      else if (record.served) this.ports.watchServed(record.id, record.served.folder);
    }
    return connection;
  }

  /** Not at every look: a write is heard by all tabs. */
  private async noteSeen({ id, seenAt = 0 }: DriveRecord): Promise<void> {
    const at = Date.now();
    if (Math.abs(at - seenAt) >= SEEN_EVERY_MS) await this.ports.db.drives.update(id, { seenAt: at });
  }

  /** A drive or source that is there, for a job. @throws DriveError where it is away */
  async connected(id: string): Promise<Connection & { state: 'connected' }> {
    const { db } = this.ports;
    const record = (await db.drives.get(id)) ?? (await db.sources.get(id));
    const connection = record ? await this.connect(record) : null;
    if (connection?.state !== 'connected') throw new DriveError('not-found', record?.name ?? id);
    return connection;
  }

  /** A drive or source that is there now, without looking. */
  driveNow(id: string): Drive | null {
    const connection = this.of(id);
    return connection.state === 'connected' ? connection.drive : null;
  }

  /**
   * Drives that are there now and do not share their place with a card: the same folder, one in it, or one around it.
   */
  async apartFrom(sourceId: string): Promise<(driveId: string) => Drive | null> {
    const { db } = this.ports;
    const source = await db.sources.get(sourceId);
    const sharing = new Set<string>([sourceId]);
    for (const drive of await db.drives.toArray())
      if (source && (await sharesPlace(source, drive))) sharing.add(drive.id);
    return (driveId) => (sharing.has(driveId) ? null : this.driveNow(driveId));
  }

  /**
   * A click on a drive: asks the browser for permission where that is needed, looks whether it is there, writes what
   * waits.
   */
  async reconnect(driveId: string): Promise<Connection['state']> {
    const record = await this.ports.db.drives.get(driveId);
    if (!record) return 'away';
    const connection = await this.connect(record, true);
    if (connection.state === 'connected') this.ports.wake();
    return connection.state;
  }

  async setTakenOut(id: string, takenOut: boolean): Promise<void> {
    const { db } = this.ports;
    if (await db.sources.update(id, { takenOut })) return this.checkSource(id);
    await db.drives.update(id, { takenOut });
    await this.reconnect(id);
  }

  /**
   * Whether drives and cards that can be plugged are still where they were; for when the person comes back to the
   * window.
   */
  async checkConnections(): Promise<void> {
    const { db, watch, wake } = this.ports;
    for (const { id } of await db.sources.toArray()) await this.checkSource(id);
    const drives = (await db.drives.toArray()).filter(({ handle, served }) => handle !== null || served);
    await Promise.all(drives.map((record) => this.connect(record)));
    await watch.onFocus(drives.filter(({ id }) => this.of(id).state === 'connected').map(({ id }) => id));
    wake();
  }

  // --- drives ---

  recognise(folder: Folder): Promise<Recognised> {
    return recognise(this.ports.db, folder, this.ports.host());
  }

  /** Where a drive or a source was found last; `null` for a practice drive, and for files that were given as a list. */
  folderOf({ handle, served }: Pick<DriveRecord, 'handle' | 'served'>): Folder | null {
    const host = this.ports.host();
    if (handle) return { handle };
    if (!served || !host) return null;
    const { folder: id, path } = served;
    return { served: { id, path, name: nameIn(path), above: [] }, host };
  }

  /** Folders that were named when the server was started, and are no drives of this catalog yet. */
  async foldersAtStart(): Promise<Folder[]> {
    const host = this.ports.host();
    const served = (await host?.ask('folders', {}).catch(() => [])) ?? [];
    const known = new Set((await this.ports.db.drives.toArray()).map((drive) => drive.served?.folder));
    return served.flatMap((one) => (host && one.isAtStart && !known.has(one.id) ? [{ served: one, host }] : []));
  }

  /** Registers a folder as a drive and starts to catalog it. */
  async addDrive(
    folder: Folder,
    mark: { id: string; name: string; createdAt: number } | { name: string; over: string | null },
    access: DriveRecord['access'],
  ): Promise<void> {
    const id = 'id' in mark ? mark.id : crypto.randomUUID();
    const isStore = 'served' in folder && isStoreAddress(folder.served.path);
    const record = await addFolderDrive(this.ports.db, {
      id,
      name: mark.name,
      folder,
      access,
      at: 'createdAt' in mark ? mark.createdAt : Date.now(),
      over: 'over' in mark ? mark.over : null,
    });
    if ('listed' in folder) this.listed.set(id, folder.listed);
    if (isStore && !('id' in mark)) await this.ports.onNewStore(id);
    await this.connect(record);
    await this.ports.startScan(id);
    this.ports.onAdded();
  }

  /** A known drive is back, perhaps in another place. */
  async returnDrive(driveId: string, folder: Folder): Promise<void> {
    if ('listed' in folder) this.listed.set(driveId, folder.listed);
    else await this.ports.db.drives.update(driveId, folderPlace(folder));
    if ('served' in folder) await this.openToHost(driveId, folder);
    await this.reconnect(driveId);
    await this.ports.startScan(driveId);
  }

  /** What the browser could only read the host may write: then the drive gets its mark, too. */
  private async openToHost(driveId: string, folder: Folder): Promise<void> {
    const { db } = this.ports;
    const record = await db.drives.get(driveId);
    if (!record || (await accessTo(folder)) === 'read') return;
    if (!record.marked) await markAgain(record, folder);
    await db.drives.update(driveId, { access: 'write', marked: true });
  }

  /** The person says that a folder without a mark is this drive: it is marked again, and scanned. */
  async markAgain(driveId: string, folder: Folder): Promise<void> {
    const record = await this.ports.db.drives.get(driveId);
    if (!record) return;
    await markAgain(record, folder);
    await this.returnDrive(driveId, folder);
  }

  /** Connects a folder in which drives of the catalog lie: they become a part of it. */
  async joinDrives(
    folder: Folder,
    name: string,
    access: DriveRecord['access'],
    inner: readonly { record: DriveRecord; path: string }[],
  ): Promise<void> {
    const { db } = this.ports;
    for (const {
      record: { id, name: innerName },
    } of inner)
      if ((await setAsideOn(db, id)) > 0)
        throw new Error(`on “${innerName}” files are set aside; bring them back or erase them first`);
    const record = await addFolderDrive(db, { id: crypto.randomUUID(), name, folder, access, at: Date.now() });
    for (const {
      record: { id },
      path,
    } of inner)
      await joinDrive(db, { innerId: id, outerId: record.id, path }, Date.now());
    await this.connect(record);
    await this.ports.startScan(record.id);
    this.ports.onAdded();
  }

  /** It is no drive of the catalog any more. */
  forgotten(driveId: string): void {
    this.listed.delete(driveId);
    this.ports.note(driveId, { state: 'away' });
  }

  /** From now on, or no longer, fields are written into the image files of a drive as well. */
  async setEmbeds(driveId: string, embeds: boolean): Promise<number> {
    const { db, wake } = this.ports;
    await db.drives.update(driveId, { embeds });
    await keepSetting(db, driveSetting(driveId), { embeds }, Date.now());
    const waiting = embeds ? await queueEmbedding(db, driveId, Date.now()) : 0;
    wake();
    return waiting;
  }

  // --- cards and folders that photos are taken in from ---

  /** Looks whether a source is there; one that was not and is has arrived. */
  private async checkSource(id: string): Promise<void> {
    const record = await this.ports.db.sources.get(id);
    if (!record) return;
    const before = this.of(id).state;
    if ((await this.connect(record)).state === 'connected' && before === 'away') this.ports.onArrival(id);
  }

  /** Registers a card, a folder, or dropped files as something to take in from. */
  async addSource(folder: Folder): Promise<SourceRecord> {
    const record = await addFolderSource(this.ports.db, crypto.randomUUID(), folder, Date.now());
    if ('listed' in folder) this.listed.set(record.id, folder.listed);
    await this.connect(record, true);
    return record;
  }

  /** Asks the browser for leave to read or, for emptying a card, to write. */
  async openSource(id: string, access: 'read' | 'write'): Promise<Connection> {
    const { db } = this.ports;
    const record = await db.sources.get(id);
    if (!record) return { state: 'away' };
    if (access === 'write' && record.access !== 'write') await db.sources.update(id, { access });
    const connection = await this.connect({ ...record, access: access === 'write' ? 'write' : record.access }, true);
    if (access === 'write' && connection.state !== 'connected') {
      await db.sources.update(id, { access: record.access });
      await this.connect(record);
    }
    return connection;
  }

  async forgetSource(id: string): Promise<void> {
    await this.ports.db.sources.delete(id);
    this.listed.delete(id);
  }
}
