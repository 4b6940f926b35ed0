// The catalog's database. Dexie is imported here and in the other files of `storage/`, nowhere else.

import Dexie, { type EntityTable, type Table } from 'dexie';
import { type Shelves, photosOfChange } from '@/core/catalog/change';
import { positionText } from '@/core/geo/position';
import type {
  AccessionFileRecord,
  AccessionRecord,
  ArchiveTroubleRecord,
  ConflictRecord,
  DriveRecord,
  FileRecord,
  HistoryFileRecord,
  JobRecord,
  JournalRecord,
  LookRecord,
  OutboxRecord,
  OverlapRecord,
  PastRecord,
  PhotoRecord,
  PreviewRecord,
  RetiredRecord,
  SharpnessRecord,
  SourceRecord,
  TrackRecord,
  UnindexedRecord,
} from './records';
import { noteUnindexed } from './unindexed';

/** Of its tables and records. The browser counts in tenths of it. */
const CATALOG_VERSION = 10;

/** Begins with a letter, so that it is never taken for a number. */
const newCatalogId = (): string => `c${crypto.randomUUID().replaceAll('-', '').slice(0, 11)}`;

export class CatalogDatabase extends Dexie {
  drives!: Table<DriveRecord, string>;
  photos!: Table<PhotoRecord, string>;
  files!: Table<FileRecord, string>;
  previews!: Table<PreviewRecord, string>;
  largePreviews!: Table<PreviewRecord, string>;
  journal!: EntityTable<JournalRecord, 'seq'>;
  outbox!: Table<OutboxRecord, string>;
  retired!: Table<RetiredRecord, string>;
  conflicts!: Table<ConflictRecord, string>;
  collections!: Table<Shelves['collections'], string>;
  kits!: Table<Shelves['kits'], string>;
  patterns!: Table<Shelves['patterns'], string>;
  routines!: Table<Shelves['routines'], string>;
  ladder!: Table<Shelves['ladder'], string>;
  markers!: Table<Shelves['markers'], string>;
  rounds!: Table<Shelves['rounds'], string>;
  leftOut!: Table<Shelves['leftOut'], string>;
  vocabulary!: Table<Shelves['vocabulary'], string>;
  shorthand!: Table<Shelves['shorthand'], string>;
  learnt!: Table<Shelves['learnt'], string>;
  clocks!: Table<Shelves['clocks'], string>;
  spots!: Table<Shelves['spots'], string>;
  deliveries!: Table<Shelves['deliveries'], string>;
  tracks!: Table<TrackRecord, string>;
  overlaps!: Table<OverlapRecord, string>;
  sharpness!: Table<SharpnessRecord, string>;
  looks!: Table<LookRecord, string>;
  /** Photos that changed since the index was kept. */
  archiveTroubles!: Table<ArchiveTroubleRecord, string>;
  past!: Table<PastRecord, string>;
  historyFiles!: Table<HistoryFileRecord, string>;
  settings!: Table<Shelves['settings'], string>;
  private own!: Table<{ key: string; value: string }, string>;
  /** Who this catalog is among those that write the same drives; known once it is open. */
  catalogId = '';
  /** A newer version of Wembo has opened the catalog: this page is to write nothing any more. */
  onOutdated: () => void = () => undefined;
  unindexed!: EntityTable<UnindexedRecord, 'seq'>;
  sources!: Table<SourceRecord, string>;
  accessions!: Table<AccessionRecord, string>;
  accessionFiles!: Table<AccessionFileRecord, string>;
  jobs!: Table<JobRecord, string>;

  constructor(name = 'wembo') {
    super(name);
    this.version(1).stores({
      drives: 'id',
      photos: 'id',
      files: 'id, driveId, photoId, state, [driveId+state], [driveId+provenAt]',
      previews: 'photoId',
      journal: '++seq, state',
      outbox: 'id, driveId',
      conflicts: 'fileId, photoId',
      collections: 'id',
      jobs: 'id, state',
    });
    this.version(2)
      .stores({
        photos: 'id, imageSha256',
        files: 'id, driveId, photoId, state, fingerprint, [driveId+state], [driveId+provenAt]',
      })
      .upgrade(async (transaction) => {
        await transaction.table('drives').toCollection().modify({ embeds: false });
        await transaction.table('photos').toCollection().modify({
          imageSha256: null,
          disagreements: [],
          profile: null,
          seconds: null,
          gpsTime: null,
          shutterCount: null,
        });
        // digests are read anew, so that pictures get theirs too
        await transaction
          .table<FileRecord>('files')
          .toCollection()
          .modify((file) => {
            Object.assign(file, {
              fingerprint: file.photoId,
              imageSha256: null,
              embedded: null,
              sha256: null,
              provenAt: null,
            });
          });
      });
    this.version(3)
      .stores({
        largePreviews: 'photoId',
        kits: 'id',
        patterns: 'id',
        routines: 'id',
        sources: 'id',
        accessions: 'id, number',
        accessionFiles: 'id, accessionId, photoId, from',
      })
      .upgrade(async (transaction) => {
        await transaction.table('files').toCollection().modify({ wantedPath: null });
        await transaction
          .table('jobs')
          .toCollection()
          .modify({ accessionId: null, sourceId: null, agreed: null, byNight: false, noticed: false });
        await transaction
          .table('outbox')
          .toCollection()
          .modify((item) => {
            item.task = item.fileId === null ? { kind: 'archive' } : { kind: 'sidecar', fileId: item.fileId };
            delete item.fileId;
          });
        await transaction
          .table('journal')
          .toCollection()
          .modify((entry) => {
            if (entry.change.kind === 'collection')
              entry.change = { ...entry.change, kind: 'kept', shelf: 'collections' };
          });
      });
    this.version(4).stores({
      ladder: 'id',
      markers: 'id',
      rounds: 'id',
      leftOut: 'id',
      overlaps: 'id, a',
      sharpness: 'photoId',
    });
    this.version(5).stores({ vocabulary: 'id', shorthand: 'id', learnt: 'id' });
    this.version(6)
      .stores({ clocks: 'id', spots: 'id', tracks: 'id' })
      .upgrade(async (transaction) => {
        // a position is a field now; what the image file said of it is still what the image file says
        await transaction
          .table('photos')
          .toCollection()
          .modify((photo) => {
            const position = photo.gps ? positionText(photo.gps) : null;
            const said = {
              ...(position !== null && { position }),
              ...(photo.gpsTime && { positionTime: photo.gpsTime }),
            };
            photo.fields = { ...said, ...photo.fields };
            photo.embedded = { ...said, ...photo.embedded };
            delete photo.gps;
            delete photo.gpsTime;
          });
      });
    this.version(7)
      .stores({ deliveries: 'id', looks: 'photoId, version', unindexed: '++seq' })
      .upgrade(async (transaction) => {
        const asCollection = (one: object) => ({
          kind: 'smart',
          parentId: null,
          photoIds: [],
          pinned: false,
          order: 0,
          ...one,
        });
        await transaction
          .table('collections')
          .toCollection()
          .modify((one, ref) => {
            ref.value = asCollection(one);
          });
        await transaction
          .table('journal')
          .toCollection()
          .modify((entry) => {
            const { change } = entry;
            if (change.kind === 'kept' && change.shelf === 'collections')
              entry.change = {
                ...change,
                before: change.before && asCollection(change.before),
                after: asCollection(change.after),
              };
          });
      });
    this.version(8).stores({ outbox: 'id, driveId, queuedAt' });
    this.version(9)
      .stores({
        files: 'id, driveId, photoId, state, fingerprint, sha256, [driveId+state], [driveId+verifiedAt]',
        retired: 'id, driveId',
      })
      .upgrade(async (transaction) => {
        await transaction
          .table('drives')
          .toCollection()
          .modify((drive) => {
            drive.marked = drive.access === 'write' || drive.kind === 'practice';
          });
        await transaction
          .table('files')
          .toCollection()
          .modify((file) => {
            Object.assign(file, {
              verifiedAt: file.provenAt,
              measuredFrom: file.sha256 === null ? null : 'reading',
              foundSha256: null,
              movingTo: null,
            });
            delete file.provenAt;
          });
        // every drive gets its records anew, in the form that is kept now
        await transaction.table('outbox').bulkPut(
          (await transaction.table('drives').toArray()).map(({ id }) => ({
            id: `manifest:${id}`,
            driveId: id,
            task: { kind: 'manifest', restMs: 0 },
            queuedAt: 0,
            trouble: null,
          })),
        );
      });
    this.version(CATALOG_VERSION)
      .stores({
        journal: '++seq, state, *photoIds',
        own: 'key',
        settings: 'id',
        archiveTroubles: 'id',
        past: 'id, catalog, [catalog+seq], *photoIds',
        historyFiles: 'id, driveId',
      })
      .upgrade(async (transaction) => {
        await transaction
          .table('journal')
          .toCollection()
          .modify((entry: JournalRecord) => {
            entry.photoIds = photosOfChange(entry.change);
          });
        const addedAt = new Map<string, number>();
        await transaction.table<PhotoRecord>('photos').each((photo) => void addedAt.set(photo.id, photo.addedAt));
        await transaction
          .table<FileRecord>('files')
          .toCollection()
          .modify((file) => {
            const at = addedAt.get(file.photoId ?? '');
            if (at !== undefined) file.addedAt = at;
          });
        // what was said before versions were stays as it is; who says it is known from here on, and so is what was
        // changed
        const ids = (await transaction.table<DriveRecord>('drives').toArray()).map(({ id }) => id);
        await transaction.table('outbox').bulkPut(
          ids.map((id) => ({
            id: `history:${id}`,
            driveId: id,
            task: { kind: 'history', restMs: 0 },
            queuedAt: 0,
            trouble: null,
          })),
        );
      });
    this.on('ready', () => this.begin(), true);
    this.on('versionchange', ({ newVersion }) => {
      // closed for good: left to itself it would open again, and write in the old form
      this.close({ disableAutoOpen: true });
      if (newVersion !== null) this.onOutdated();
      return false;
    });
    noteUnindexed(this);
  }

  /** Refuses a catalog that a newer version has opened before; else learns who it is. */
  private async begin(): Promise<void> {
    if (this.backendDB().version > CATALOG_VERSION * 10) {
      this.close({ disableAutoOpen: true });
      this.onOutdated();
      throw new Error('a newer version of Wembo has opened this catalog; reload the page');
    }
    await this.own.add({ key: 'catalog', value: newCatalogId() }).catch(() => undefined); // it has one already
    this.catalogId = (await this.own.get('catalog'))?.value ?? '';
  }
}
