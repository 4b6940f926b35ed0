// A sidecar and the catalog, step by step: what another program does between our reading and our writing.

import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { planSet } from '@/core/fields/edits';
import type { FieldKey, FieldValues } from '@/core/fields/registry';
import type { FieldValue } from '@/core/fields/shape';
import { fileRecord, photoRecord } from '../../../tests/fixtures/records';
import { planSidecar } from '@/core/metadata/xmp/sidecar';
import { MemoryDrive } from '../drives/memory-drive';
import { makeChange, undoLast } from './changes';
import { CatalogDatabase } from './database';
import { planDecision, adoptSidecar, writeSidecar } from './sidecars';

let db: CatalogDatabase;
let drive: MemoryDrive;
let number = 0;
let clock = 0;

const write = () => writeSidecar(db, drive, 'd/x.jpg', (clock += 1));
async function decide(fileId: string, decided: FieldValues): Promise<string[]> {
  const change = await planDecision(db, [{ fileId, decided }]);
  return change ? (await makeChange(db, change, (clock += 1))).photoIds : [];
}
const fields = async () => (await db.photos.get('p'))?.fields;
async function edit(key: FieldKey, value: FieldValue | undefined): Promise<void> {
  const photo = await db.photos.get('p');
  if (photo)
    await makeChange(db, { kind: 'fields', origin: 'person', edits: planSet([photo], key, value) }, (clock += 1));
}
function otherProgramWrites(given: FieldValues): void {
  const plan = planSidecar({
    existing: drive.files.get('x.xmp')?.bytes ?? null,
    fields: given,
    embedded: {},
    ending: 'jpg',
  });
  if ('bytes' in plan) drive.put('x.xmp', plan.bytes);
}

beforeEach(async () => {
  db = new CatalogDatabase(`sidecars-${number++}`);
  drive = new MemoryDrive();
  await db.photos.put(
    photoRecord('p', { embedded: { headline: 'in the image' }, fields: { headline: 'in the image' } }),
  );
  await db.files.put(fileRecord('d', 'x.jpg', 'p'));
});

describe('writing a sidecar', () => {
  it('makes none where the image says it all, one when there is more to say, and none anew for the same', async () => {
    expect(await write()).toBe('nothing-to-do');
    expect(drive.files.size).toBe(0);
    await edit('city', 'Gjógv');
    expect(await write()).toBe('written');
    const before = new Map(drive.files);
    expect(await write()).toBe('nothing-to-do');
    expect(drive.files).toEqual(before);
  });

  it('clearing a field the image has writes it as empty, and undo takes that back', async () => {
    await edit('headline', undefined);
    await write();
    expect(drive.text('x.xmp')).toContain('<photoshop:Headline/>');
    await undoLast(db, (clock += 1));
    await write();
    expect(drive.text('x.xmp')).toContain('<photoshop:Headline>in the image</photoshop:Headline>');
  });

  it('brings a sidecar that was deleted back', async () => {
    await edit('city', 'Gjógv');
    await write();
    drive.files.delete('x.xmp');
    expect(await write()).toBe('written');
    expect(drive.text('x.xmp')).toContain('Gjógv');
  });
});

describe('another program', () => {
  beforeEach(async () => {
    await edit('city', 'Gjógv');
    await write();
  });

  it('changed another field: both are kept, and undo comes to the person’s own act and not to that', async () => {
    otherProgramWrites({ headline: 'in the image', city: 'Gjógv', source: 'theirs' });
    await edit('title', 'ours');
    expect(await write()).toBe('written');
    expect(await fields()).toEqual({ headline: 'in the image', city: 'Gjógv', source: 'theirs', title: 'ours' });
    await undoLast(db, (clock += 1));
    expect(await fields()).toEqual({ headline: 'in the image', city: 'Gjógv', source: 'theirs' });
  });

  it('changed the same field: nothing is written until the person decides for ours', async () => {
    otherProgramWrites({ headline: 'in the image', city: 'Tórshavn' });
    const theirs = drive.text('x.xmp');
    await edit('city', 'Klaksvík');
    expect(await write()).toBe('conflict');
    expect(await write()).toBe('conflict');
    expect(drive.text('x.xmp')).toBe(theirs);
    expect(await db.conflicts.toArray()).toMatchObject([{ keys: ['city'], theirs: { city: 'Tórshavn' } }]);
    expect(await decide('d/x.jpg', { city: 'Klaksvík' })).toEqual(['p']);
    expect(await write()).toBe('written');
    expect(drive.text('x.xmp')).toContain('Klaksvík');
  });

  it('changed the same list: decided for both, the sidecar has the words of both', async () => {
    await edit('keywords', ['boat']);
    await write();
    otherProgramWrites({ headline: 'in the image', keywords: ['boat', 'slip'] });
    await edit('keywords', ['boat', 'wool']);
    expect(await write()).toBe('conflict');
    await decide('d/x.jpg', { keywords: ['boat', 'wool', 'slip'] });
    expect(await write()).toBe('written');
    for (const word of ['boat', 'wool', 'slip']) expect(drive.text('x.xmp')).toContain(`<rdf:li>${word}</rdf:li>`);
  });

  it('changed the same field: the person takes theirs, and undo brings ours back', async () => {
    otherProgramWrites({ headline: 'in the image', city: 'Tórshavn' });
    await edit('city', 'Klaksvík');
    await write();
    await decide('d/x.jpg', { city: 'Tórshavn' });
    expect((await fields())?.city).toBe('Tórshavn');
    await write();
    expect(drive.text('x.xmp')).toContain('Tórshavn');
    await undoLast(db, (clock += 1));
    expect((await fields())?.city).toBe('Klaksvík');
  });

  it('broke the sidecar: it is left, and the trouble is named', async () => {
    drive.put('x.xmp', '<x:xmpmeta');
    await edit('city', 'Klaksvík');
    expect(await write()).toEqual({ problem: 'sidecar-unreadable' });
    expect(drive.text('x.xmp')).toBe('<x:xmpmeta');
  });
});

it('of two files that come together under one base name each gets a sidecar of its own, and none says the words of the other', async () => {
  await db.photos.put(photoRecord('q', { embedded: {}, fields: { city: 'Sandur' } }));
  await db.files.put(fileRecord('d', 'x.dng', 'q', { sidecarTarget: 'x.xmp' }));
  await edit('city', 'Gjógv');
  expect([await write(), await writeSidecar(db, drive, 'd/x.dng', 1)]).toEqual(['written', 'written']);
  expect([drive.text('x.xmp')?.includes('Gjógv'), drive.text('x.dng.xmp')?.includes('Sandur')]).toEqual([true, true]);
  expect([(await fields())?.city, (await db.photos.get('q'))?.fields.city, await db.conflicts.count()]).toEqual([
    'Gjógv',
    'Sandur',
    0,
  ]);
});

it('what is to be decided stays so when the sidecar is met again, by a scan beside the outbox', async () => {
  await edit('city', 'Gjógv');
  await write();
  otherProgramWrites({ headline: 'in the image', city: 'Tórshavn' });
  await edit('city', 'Klaksvík');
  const bytes = drive.files.get('x.xmp')!.bytes;
  const found = { path: 'x.xmp', sizeBytes: bytes.length, modifiedMs: 1, bytes };
  for (const at of [1, 2, 3]) await adoptSidecar(db, 'd/x.jpg', found, at);
  otherProgramWrites({ headline: 'in the image', city: 'Tórshavn', source: 'theirs too' });
  expect(await write()).toBe('conflict');
  expect(await db.conflicts.toArray()).toMatchObject([{ keys: ['city'], theirs: { city: 'Tórshavn' } }]);
  expect((await fields())?.source).toBe('theirs too');
});
