// The catalog's database. Dexie is imported here and in the other files of `storage/`, nowhere else.

import Dexie, { type EntityTable, type Table } from 'dexie';
import type { SavedItems } from '@/core/catalog/change';
import { MIGRATIONS } from './migrations';
import type {
  AccessionFileRecord,
  AccessionRecord,
  ArchiveProblemRecord,
  ConflictRecord,
  DeliveryItemRecord,
  DeliveryRunRecord,
  DriveRecord,
  FileRecord,
  HistoryFileRecord,
  JobRecord,
  LeftBehindRecord,
  MapFileRecord,
  JournalRecord,
  LargePreviewRecord,
  PictureMeasuresRecord,
  OutboxRecord,
  OverlapRecord,
  PastRecord,
  PhotoRecord,
  PreviewRecord,
  RetiredRecord,
  SharpnessRecord,
  SourceRecord,
  TrackRecord,
  UndrawnRecord,
  UnindexedRecord,
} from './records';
import { noteUnindexed } from './unindexed';

/** Of its tables and records. The browser counts in tenths of it. */
const CATALOG_VERSION = Math.max(...MIGRATIONS.map(({ version }) => version));

/** Begins with a letter, so that it is never taken for a number. */
const newCatalogId = (): string => `c${crypto.randomUUID().replaceAll('-', '').slice(0, 11)}`;

export class CatalogDatabase extends Dexie {
  drives!: Table<DriveRecord, string>;
  photos!: Table<PhotoRecord, string>;
  files!: Table<FileRecord, string>;
  previews!: Table<PreviewRecord, string>;
  largePreviews!: Table<LargePreviewRecord, string>;
  undrawn!: Table<UndrawnRecord, string>;
  journal!: EntityTable<JournalRecord, 'seq'>;
  outbox!: Table<OutboxRecord, string>;
  retired!: Table<RetiredRecord, string>;
  conflicts!: Table<ConflictRecord, string>;
  collections!: Table<SavedItems['collections'], string>;
  kits!: Table<SavedItems['kits'], string>;
  patterns!: Table<SavedItems['patterns'], string>;
  routines!: Table<SavedItems['routines'], string>;
  ladder!: Table<SavedItems['ladder'], string>;
  markers!: Table<SavedItems['markers'], string>;
  rounds!: Table<SavedItems['rounds'], string>;
  leftOut!: Table<SavedItems['leftOut'], string>;
  vocabulary!: Table<SavedItems['vocabulary'], string>;
  shorthand!: Table<SavedItems['shorthand'], string>;
  learnt!: Table<SavedItems['learnt'], string>;
  clocks!: Table<SavedItems['clocks'], string>;
  spots!: Table<SavedItems['spots'], string>;
  deliveries!: Table<SavedItems['deliveries'], string>;
  deliveryProfiles!: Table<SavedItems['deliveryProfiles'], string>;
  deliveryRuns!: Table<DeliveryRunRecord, string>;
  deliveryItems!: Table<DeliveryItemRecord, string>;
  tracks!: Table<TrackRecord, string>;
  overlaps!: Table<OverlapRecord, string>;
  sharpness!: Table<SharpnessRecord, string>;
  measures!: Table<PictureMeasuresRecord, string>;
  /** Photos that changed since the index was kept. */
  archiveProblems!: Table<ArchiveProblemRecord, string>;
  leftBehind!: Table<LeftBehindRecord, string>;
  past!: Table<PastRecord, string>;
  historyFiles!: Table<HistoryFileRecord, string>;
  settings!: Table<SavedItems['settings'], string>;
  private own!: Table<{ key: string; value: string }, string>;
  /** Who this catalog is among those that write the same drives; known once it is open. */
  catalogId = '';
  /** A newer version of Wembo has opened the catalog: this page is to write nothing any more. */
  onOutdated: () => void = () => undefined;
  unindexed!: EntityTable<UnindexedRecord, 'seq'>;
  sources!: Table<SourceRecord, string>;
  mapFiles!: Table<MapFileRecord, string>;
  accessions!: Table<AccessionRecord, string>;
  accessionFiles!: Table<AccessionFileRecord, string>;
  jobs!: Table<JobRecord, string>;

  constructor(name = 'wembo') {
    super(name);
    for (const { version, stores, upgrade } of MIGRATIONS) {
      const step = this.version(version).stores(stores);
      if (upgrade) step.upgrade(upgrade);
    }
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
