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
    this.version(2)
      .stores({ photos: 'id, imageSha256', files: 'id, driveId, photoId, state, fingerprint, [driveId+state], [driveId+provenAt]' })
      .upgrade(async (transaction) => {
        await transaction.table('drives').toCollection().modify({ embeds: false });
        await transaction.table('photos').toCollection().modify({ imageSha256: null, disagreements: [], profile: null, seconds: null, gpsTime: null, shutterCount: null });
        // digests are read anew, so that pictures get theirs too
        await transaction.table<FileRecord>('files').toCollection().modify((file) => {
          Object.assign(file, { fingerprint: file.photoId, imageSha256: null, embedded: null, sha256: null, provenAt: null });
        });
      });
  }
}
