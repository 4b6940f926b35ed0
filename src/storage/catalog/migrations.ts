// What the catalog's tables were like, version by version, and how the records of each are brought to the next. A
// version that was released is never changed.

import type { Transaction } from 'dexie';
import { photosOfChange } from '@/core/catalog/change';
import { positionText } from '@/core/geo/position';
import type { DriveRecord, FileRecord, JournalRecord, PhotoRecord } from './records';

interface Migration {
  version: number;
  stores: Record<string, string | null>;
  upgrade?: (transaction: Transaction) => Promise<void>;
}

export const MIGRATIONS: readonly Migration[] = [
  {
    version: 1,
    stores: {
      drives: 'id',
      photos: 'id',
      files: 'id, driveId, photoId, state, [driveId+state], [driveId+provenAt]',
      previews: 'photoId',
      journal: '++seq, state',
      outbox: 'id, driveId',
      conflicts: 'fileId, photoId',
      collections: 'id',
      jobs: 'id, state',
    },
  },
  {
    version: 2,
    stores: {
      photos: 'id, imageSha256',
      files: 'id, driveId, photoId, state, fingerprint, [driveId+state], [driveId+provenAt]',
    },
    upgrade: async (transaction) => {
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
    },
  },
  {
    version: 3,
    stores: {
      largePreviews: 'photoId',
      kits: 'id',
      patterns: 'id',
      routines: 'id',
      sources: 'id',
      accessions: 'id, number',
      accessionFiles: 'id, accessionId, photoId, from',
    },
    upgrade: async (transaction) => {
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
    },
  },
  {
    version: 4,
    stores: {
      ladder: 'id',
      markers: 'id',
      rounds: 'id',
      leftOut: 'id',
      overlaps: 'id, a',
      sharpness: 'photoId',
    },
  },
  { version: 5, stores: { vocabulary: 'id', shorthand: 'id', learnt: 'id' } },
  {
    version: 6,
    stores: { clocks: 'id', spots: 'id', tracks: 'id' },
    upgrade: async (transaction) => {
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
    },
  },
  {
    version: 7,
    stores: { deliveries: 'id', looks: 'photoId, version', unindexed: '++seq' },
    upgrade: async (transaction) => {
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
    },
  },
  { version: 8, stores: { outbox: 'id, driveId, queuedAt' } },
  {
    version: 9,
    stores: {
      files: 'id, driveId, photoId, state, fingerprint, sha256, [driveId+state], [driveId+verifiedAt]',
      retired: 'id, driveId',
    },
    upgrade: async (transaction) => {
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
    },
  },
  {
    version: 10,
    stores: {
      journal: '++seq, state, *photoIds',
      own: 'key',
      settings: 'id',
      archiveProblems: 'id',
      past: 'id, catalog, [catalog+seq], *photoIds',
      historyFiles: 'id, driveId',
    },
    upgrade: async (transaction) => {
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
    },
  },
  {
    version: 11,
    stores: {},
    // what was called a film is a video
    upgrade: async (transaction) => {
      const asVideo = <T>(word: T) => (word === 'film' ? 'video' : word);
      await transaction
        .table('photos')
        .toCollection()
        .modify((photo) => {
          photo.format = asVideo(photo.format);
          for (const key of Object.keys(photo.sources ?? {})) photo.sources[key] = asVideo(photo.sources[key]);
        });
      const sheetOf = ({ withFilms, ...sheet }: { withFilms: boolean }) => ({ withVideos: withFilms, ...sheet });
      for (const table of ['accessions', 'routines'])
        await transaction
          .table(table)
          .toCollection()
          .modify((one) => {
            one.sheet = sheetOf(one.sheet);
          });
      await transaction
        .table('journal')
        .toCollection()
        .modify((entry) => {
          const { change } = entry;
          if (change.kind !== 'kept' || change.shelf !== 'routines') return;
          for (const side of ['before', 'after'])
            if (change[side]) change[side] = { ...change[side], sheet: sheetOf(change[side].sheet) };
        });
    },
  },
  {
    version: 12,
    stores: { measures: 'photoId, version' },
    // what was called a picture's look are its measures
    upgrade: async (transaction) => {
      const rows: { photoId: string; look: unknown; version: number }[] = await transaction.table('looks').toArray();
      await transaction.table('measures').bulkPut(rows.map(({ look, ...rest }) => ({ ...rest, measures: look })));
    },
  },
  { version: 13, stores: { looks: null } },
  {
    version: 14,
    stores: {},
    // what was called fault or trouble is a problem, and what is kept under a name is of a saved kind, not on a shelf
    upgrade: async (transaction) => {
      const change = (name: string, to: (row: Row) => void) => transaction.table(name).toCollection().modify(to);
      await change('outbox', (item) => rename(item, 'trouble', 'problem'));
      await change('tracks', (track) => rename(track, 'fault', 'problem'));
      await change('jobs', (job) => {
        rename(job, 'failure', 'problem');
        if (job.problem) rename(job.problem as Row, 'fault', 'reason');
        const report = job.report as Row | null;
        if (!report) return;
        rename(report, 'troubles', 'problems');
        for (const { problem } of report.problems as { problem: Row }[]) {
          if (problem.code !== 'drive/fault' && problem.code !== 'track/fault') continue;
          problem.code = String(problem.code).replace('fault', 'problem');
          rename(problem, 'fault', 'reason');
        }
      });
      const savedIn = (one: Row): void => {
        rename(one, 'shelf', 'savedKind');
        for (const part of (one.changes ?? []) as Row[]) savedIn(part);
      };
      await change('journal', (entry) => savedIn(entry.change as Row));
    },
  },
  { version: 15, stores: { undrawn: 'photoId, version' } },
  { version: 16, stores: { deliveryProfiles: 'id', deliveryRuns: 'id', deliveryItems: 'id, runId' } },
  { version: 17, stores: { leftBehind: 'id, driveId' } },
  { version: 18, stores: { mapFiles: 'id' } },
  { version: 19, stores: { photos: 'id, imageSha256, fields.corrections.formulas' } },
];

type Row = Record<string, unknown>;

function rename(row: Row, from: string, to: string): void {
  if (!(from in row)) return;
  row[to] = row[from];
  delete row[from];
}
