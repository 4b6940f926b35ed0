// A catalog of version 1, as it was stored, opened by this version: nothing of the person's is lost, and the digests
// that version 1 did not have are read anew.

import { newCollection } from '@/core/catalog/collection';
import 'fake-indexeddb/auto';
import Dexie from 'dexie';
import { expect, it } from 'vitest';
import { undoLast } from './changes';
import { CatalogDatabase } from './database';

it('version 1 is brought to version 2', async () => {
  const old = new Dexie('from-version-1');
  old.version(1).stores({
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
  await old.open();
  await old.table('drives').put({
    id: 'd',
    name: 'Studio',
    kind: 'folder',
    handle: null,
    access: 'write',
    takenOut: false,
    addedAt: 1,
    scannedAt: 2,
    bytes: 3,
  });
  await old.table('photos').put({
    id: 'f1',
    format: 'jpeg',
    width: 3,
    height: 2,
    orientation: 1,
    captured: { written: '2019', offset: null },
    camera: { make: null, model: null, serial: null },
    lens: null,
    exposure: {},
    gps: null,
    previews: [],
    problems: [],
    bytes: 1,
    fields: { headline: 'kept' },
    embedded: {},
    sources: {},
    sha256: 'a'.repeat(64),
    addedAt: 1,
  });
  await old.table('files').put({
    id: 'd/x.jpg',
    driveId: 'd',
    path: 'x.jpg',
    photoId: 'f1',
    sizeBytes: 1,
    modifiedMs: 1,
    state: 'present',
    sha256: 'a'.repeat(64),
    provenAt: 5,
    sidecar: null,
    sidecarTarget: 'x.xmp',
    problems: [],
  });
  old.close();

  const db = new CatalogDatabase('from-version-1');
  expect(await db.photos.get('f1')).toMatchObject({
    fields: { headline: 'kept' },
    imageSha256: null,
    disagreements: [],
    sha256: 'a'.repeat(64),
  });
  expect(await db.files.where('fingerprint').equals('f1').first()).toMatchObject({
    path: 'x.jpg',
    embedded: null,
    sha256: null,
    verifiedAt: null,
    imageSha256: null,
    measuredFrom: null,
    foundSha256: null,
    movingTo: null,
  });
  expect(await db.drives.get('d')).toMatchObject({ name: 'Studio', embeds: false, marked: true });
  db.close();
});

/** Since version 9 every drive gets its records anew. */
const MANIFEST_OF_D = {
  id: 'manifest:d',
  driveId: 'd',
  task: { kind: 'manifest', restMs: 0 },
  queuedAt: 0,
  problem: null,
};
const HISTORY_OF_D = {
  id: 'history:d',
  driveId: 'd',
  task: { kind: 'history', restMs: 0 },
  queuedAt: 0,
  problem: null,
};

it('version 8 is brought to version 9: what was proven is verified, read-only drives bear no mark, and every drive gets its records anew', async () => {
  const old = new Dexie('from-version-8');
  old.version(8).stores({
    drives: 'id',
    photos: 'id, imageSha256',
    files: 'id, driveId, photoId, state, fingerprint, [driveId+state], [driveId+provenAt]',
    outbox: 'id, driveId, queuedAt',
    journal: '++seq, state',
    unindexed: '++seq',
  });
  await old.open();
  const drive = { kind: 'folder', handle: null, takenOut: false, addedAt: 1, scannedAt: 2, bytes: 3, embeds: false };
  await old.table('drives').bulkPut([
    { ...drive, id: 'd', name: 'Studio', access: 'write' },
    { ...drive, id: 'r', name: 'Read', access: 'read' },
  ]);
  await old.table('files').put({
    id: 'd/x.jpg',
    driveId: 'd',
    path: 'x.jpg',
    photoId: 'f1',
    sizeBytes: 1,
    modifiedMs: 1,
    state: 'present',
    fingerprint: 'f1',
    sha256: 'a'.repeat(64),
    imageSha256: null,
    embedded: null,
    provenAt: 5,
    sidecar: null,
    sidecarTarget: 'x.xmp',
    wantedPath: 'y.jpg',
    problems: [],
  });
  old.close();

  const db = new CatalogDatabase('from-version-8');
  expect(await db.files.where('[driveId+verifiedAt]').equals(['d', 5]).first()).toMatchObject({
    path: 'x.jpg',
    wantedPath: 'y.jpg',
    measuredFrom: 'reading',
    movingTo: null,
    foundSha256: null,
  });
  expect((await db.drives.toArray()).map(({ id, marked }) => [id, marked])).toEqual([
    ['d', true],
    ['r', false],
  ]);
  expect(await db.outbox.get('manifest:d')).toEqual(MANIFEST_OF_D);
  db.close();
});

it('version 2 is brought to version 3: what waits still waits, and what was done can still be undone', async () => {
  const old = new Dexie('from-version-2');
  old.version(2).stores({
    drives: 'id',
    photos: 'id, imageSha256',
    files: 'id, driveId, photoId, state, fingerprint, [driveId+state], [driveId+provenAt]',
    previews: 'photoId',
    journal: '++seq, state',
    outbox: 'id, driveId',
    conflicts: 'fileId, photoId',
    collections: 'id',
    jobs: 'id, state',
  });
  await old.open();
  const collection = { id: 'c', name: 'Boats', scope: 'boat', updatedAt: 1, deleted: false };
  await old.table('drives').put({
    id: 'd',
    name: 'Studio',
    kind: 'folder',
    handle: null,
    access: 'write',
    takenOut: false,
    addedAt: 1,
    scannedAt: 2,
    bytes: 3,
    embeds: false,
  });
  await old.table('files').put({
    id: 'd/x.jpg',
    driveId: 'd',
    path: 'x.jpg',
    photoId: 'f1',
    sizeBytes: 1,
    modifiedMs: 1,
    state: 'present',
    fingerprint: 'f1',
    sha256: null,
    imageSha256: null,
    embedded: null,
    provenAt: null,
    sidecar: null,
    sidecarTarget: 'x.xmp',
    problems: [],
  });
  await old.table('collections').put(collection);
  await old.table('outbox').bulkPut([
    { id: 'd/x.jpg', driveId: 'd', fileId: 'd/x.jpg', queuedAt: 1, trouble: null },
    { id: 'd/', driveId: 'd', fileId: null, queuedAt: 2, trouble: 'full' },
  ]);
  await old
    .table('journal')
    .add({ at: 1, change: { kind: 'collection', before: null, after: collection }, state: 'done' });
  await old.table('jobs').put({
    id: 'j',
    kind: 'scan',
    driveId: 'd',
    photoIds: null,
    targetDriveId: null,
    state: 'done',
    progress: {},
    report: null,
    failure: null,
    startedAt: 1,
    endedAt: 2,
  });
  old.close();

  const db = new CatalogDatabase('from-version-2');
  expect(await db.files.get('d/x.jpg')).toMatchObject({ wantedPath: null });
  expect(await db.outbox.toArray()).toEqual([
    { id: 'd/', driveId: 'd', task: { kind: 'archive' }, queuedAt: 2, problem: 'full' },
    { id: 'd/x.jpg', driveId: 'd', task: { kind: 'sidecar', fileId: 'd/x.jpg' }, queuedAt: 1, problem: null },
    HISTORY_OF_D,
    MANIFEST_OF_D,
  ]);
  expect(await db.jobs.get('j')).toMatchObject({
    accessionId: null,
    sourceId: null,
    agreed: null,
    byNight: false,
    noticed: false,
  });
  await undoLast(db, 9);
  expect(await db.collections.get('c')).toEqual({
    ...newCollection('Boats', 'smart', { scope: 'boat' }),
    id: 'c',
    deleted: true,
    updatedAt: 9,
    version: `${db.catalogId}:1`,
  });
  db.close();
});

it('version 5 is brought to version 6: a position that was only shown is a field, and what was edited stays', async () => {
  const old = new Dexie('from-version-5');
  old.version(5).stores({
    drives: 'id',
    photos: 'id, imageSha256',
    files: 'id, driveId, photoId, state, fingerprint, [driveId+state], [driveId+provenAt]',
    journal: '++seq, state',
    outbox: 'id, driveId',
  });
  await old.open();
  const photo = {
    format: 'jpeg',
    embedded: { headline: 'as it came' },
    fields: { headline: 'edited' },
    gpsTime: '2019-07-04T13:03:21Z',
  };
  await old.table('photos').bulkPut([
    { ...photo, id: 'placed', gps: { lat: 62.227, lon: -6.589, altitudeM: 12.5 } },
    { ...photo, id: 'not', gps: null, gpsTime: null },
  ]);
  old.close();

  const db = new CatalogDatabase('from-version-5');
  const placed = (await db.photos.get('placed'))!;
  expect(placed.fields).toEqual({
    headline: 'edited',
    position: '62.227, -6.589, 12.5 m',
    positionTime: '2019-07-04T13:03:21Z',
  });
  expect(placed.embedded).toEqual({
    headline: 'as it came',
    position: '62.227, -6.589, 12.5 m',
    positionTime: '2019-07-04T13:03:21Z',
  });
  expect('gps' in placed).toBe(false);
  expect((await db.photos.get('not'))!.fields).toEqual({ headline: 'edited' });
  db.close();
});

it('version 10 is brought to the newest: what was called a film is a video, in what can still be undone too, and what was called a look are measures', async () => {
  const old = new Dexie('from-version-10');
  old
    .version(10)
    .stores({ photos: 'id', accessions: 'id', routines: 'id', journal: '++seq, state', looks: 'photoId, version' });
  await old.open();
  const sheet = { driveId: 'd', withFilms: false };
  await old.table('photos').put({ id: 'v', format: 'film', sources: { captured: 'film', city: 'xmp' } });
  await old.table('accessions').put({ id: 'a', sheet });
  await old.table('routines').put({ id: 'r', sheet });
  await old.table('journal').add({
    at: 1,
    state: 'done',
    change: { kind: 'kept', shelf: 'routines', before: null, after: { id: 'r', sheet } },
    photoIds: [],
  });
  const look = { high: 1, low: 2, colours: [] };
  await old.table('looks').put({ photoId: 'v', look, version: 1 });
  old.close();

  const db = new CatalogDatabase('from-version-10');
  const now = { driveId: 'd', withVideos: false };
  expect(await db.photos.get('v')).toMatchObject({ format: 'video', sources: { captured: 'video', city: 'xmp' } });
  expect([(await db.accessions.get('a'))?.sheet, (await db.routines.get('r'))?.sheet]).toEqual([now, now]);
  expect((await db.journal.toArray()).map(({ change }) => change)).toMatchObject([
    { before: null, after: { id: 'r', sheet: now } },
  ]);
  expect(await db.measures.toArray()).toEqual([{ photoId: 'v', measures: look, version: 1 }]);
  expect(db.tables.map(({ name }) => name)).not.toContain('looks');
  db.close();
});

it('version 13 is brought to the newest: what was called fault or trouble is a problem, in reports too; a change says of which saved kind it is, one inside another too', async () => {
  const old = new Dexie('from-version-13');
  old.version(13).stores({ outbox: 'id, driveId', tracks: 'id', jobs: 'id, state', journal: '++seq, state' });
  await old.open();
  await old.table('outbox').put({ id: 'manifest:d', driveId: 'd', trouble: 'full' });
  await old.table('tracks').put({ id: 't', fault: { code: 'doctype' } });
  await old.table('jobs').bulkPut([
    {
      id: 'a',
      failure: null,
      report: {
        kind: 'copy',
        troubles: [
          { path: 'a.jpg', problem: { code: 'drive/fault', fault: 'full' } },
          { path: 'a.gpx', problem: { code: 'track/fault', fault: { code: 'doctype' } } },
          { path: 'b.jpg', problem: { code: 'file/vanished' } },
        ],
      },
    },
    { id: 'b', failure: { fault: 'full', path: 'x.jpg' }, report: null },
  ]);
  const kept = { kind: 'kept', shelf: 'kits', before: null, after: { id: 'k' } };
  await old.table('journal').bulkAdd([
    { state: 'done', change: kept },
    { state: 'done', change: { kind: 'together', changes: [kept] } },
  ]);
  old.close();

  const db = new CatalogDatabase('from-version-13');
  expect(await db.outbox.toArray()).toEqual([{ id: 'manifest:d', driveId: 'd', problem: 'full' }]);
  expect(await db.tracks.toArray()).toEqual([{ id: 't', problem: { code: 'doctype' } }]);
  expect(await db.jobs.toArray()).toEqual([
    {
      id: 'a',
      problem: null,
      report: {
        kind: 'copy',
        problems: [
          { path: 'a.jpg', problem: { code: 'drive/problem', reason: 'full' } },
          { path: 'a.gpx', problem: { code: 'track/problem', reason: { code: 'doctype' } } },
          { path: 'b.jpg', problem: { code: 'file/vanished' } },
        ],
      },
    },
    { id: 'b', problem: { reason: 'full', path: 'x.jpg' }, report: null },
  ]);
  const now = { kind: 'kept', savedKind: 'kits', before: null, after: { id: 'k' } };
  expect((await db.journal.toArray()).map(({ change }) => change)).toEqual([now, { kind: 'together', changes: [now] }]);
  db.close();
});
