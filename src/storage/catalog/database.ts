// The catalog's database. Dexie is imported here and in the other files of `storage/`, nowhere else.

import Dexie, { type EntityTable, type Table } from 'dexie';
import type { CollectionRecord, ConflictRecord, DriveRecord, FileRecord, JobRecord, JournalRecord, OutboxRecord, PhotoRecord, PreviewRecord } from './records';

export class CatalogDatabase extends Dexie {
  drives!: Table<DriveRecord, string>;
  photos!: Table<PhotoRecord, string>;
  files!: Table<FileRecord, string>;
  previews!: Table<PreviewRecord, string>;
  journal!: EntityTable<JournalRecord, 'seq'>;
  outbox!: Table<OutboxRecord, string>;
  conflicts!: Table<ConflictRecord, string>;
  collections!: Table<CollectionRecord, string>;
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
  }
}
