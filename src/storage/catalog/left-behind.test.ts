// Sidecars that another program left behind, from the scan that finds them to the photo they are joined to.

import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { quietControl } from '../../../tests/fixtures/quiet-control';
import { planSidecar } from '@/core/metadata/xmp/sidecar';
import type { FieldValues } from '@/core/fields/registry';
import { driveRecord } from '../../../tests/fixtures/records';
import { pictureBytes } from '../../../tests/storm/pictures';
import { MemoryDrive } from '../drives/memory-drive';
import { directFileTasks } from '../file-tasks/file-tasks';
import { scanDrive } from '../jobs/scan';
import { CatalogDatabase } from './database';
import { listLeftBehind, rejoinSidecar } from './left-behind';

let db: CatalogDatabase;
let drive: MemoryDrive;
let clock = 1000;
let number = 0;

const now = () => (clock += 1000);
const scan = () =>
  scanDrive(
    {
      db,
      fileTasks: directFileTasks(),
      now,
      control: quietControl(),
    },
    'studio',
    drive,
  );
const left = () => listLeftBehind(db, () => drive, 100);
const told = async () => (await left()).map(({ record, of }) => [record.path, ...of.map(({ path }) => path)]);
const fieldsAt = async (path: string) => {
  const file = await db.files.get(`studio/${path}`);
  return (await db.photos.get(file?.photoId ?? ''))?.fields;
};

function putSidecar(path: string, fields: FieldValues): void {
  const plan = planSidecar({ existing: null, fields, embedded: {}, ending: 'jpg' });
  if ('bytes' in plan) drive.put(path, plan.bytes);
}

beforeEach(async () => {
  db = new CatalogDatabase(`left-behind-${number++}`);
  drive = new MemoryDrive();
  await db.drives.put(driveRecord('studio'));
});

/** The only one, joined to the only photo it fits. */
async function rejoin() {
  const [row] = await left();
  const file = row?.of[0];
  if (!row || !file) throw new Error('nothing is left behind');
  return rejoinSidecar(db, drive, row.record, file.id, now(), '2026-11-30');
}

describe('a sidecar beside which no photo lies', () => {
  it('is found by a scan, and gone from the list when its photo is back', async () => {
    drive.put('here/a.jpg', pictureBytes(1, false));
    putSidecar('here/a.xmp', { city: 'Gjógv' });
    putSidecar('there/b.xmp', { city: 'Eiði' });
    drive.put('notes/list.txt', 'no photo');
    putSidecar('notes/list.txt.xmp', { city: 'of what is no photo' });
    expect((await scan()).leftBehind).toBe(1);
    expect(await told()).toEqual([['there/b.xmp']]);
    drive.put('there/b.jpg', pictureBytes(2, false));
    expect((await scan()).leftBehind).toBe(0);
    expect(await fieldsAt('there/b.jpg')).toMatchObject({ city: 'Eiði' });
  });

  it('is put beside the photo that was moved without it, and heard', async () => {
    drive.put('new/a.jpg', pictureBytes(1, false));
    putSidecar('old/A.xmp', { city: 'Gjógv', headline: 'Slip' });
    await scan();
    expect(await told()).toEqual([['old/A.xmp', 'new/a.jpg']]);
    expect(await rejoin()).toMatchObject({ state: 'taken', conflicts: 0 });
    expect([...drive.files.keys()].sort()).toEqual(['new/a.jpg', 'new/a.xmp']);
    expect(await fieldsAt('new/a.jpg')).toMatchObject({ city: 'Gjógv', headline: 'Slip' });
    expect(await left()).toEqual([]);
    expect((await scan()).leftBehind).toBe(0);
  });

  it('of a photo that has one meets what that says: neither is lost, and this one is set aside', async () => {
    drive.put('new/a.jpg', pictureBytes(1, false));
    putSidecar('new/a.xmp', { city: 'Eiði' });
    putSidecar('old/a.xmp', { city: 'Gjógv', headline: 'Slip' });
    await scan();
    const bytes = drive.files.get('old/a.xmp')?.bytes;
    expect(await rejoin()).toMatchObject({ state: 'taken', conflicts: 1 });
    expect(await fieldsAt('new/a.jpg')).toMatchObject({ city: 'Eiði', headline: 'Slip' });
    expect((await db.conflicts.toArray())[0]).toMatchObject({ keys: ['city'], theirs: { city: 'Gjógv' } });
    expect(drive.files.get('_wembo/set-aside/2026-11-30/old/a.xmp')?.bytes).toEqual(bytes);
    expect(await left()).toEqual([]);
  });

  it('that several photos may own is asked about, unless a number or the date tells', async () => {
    for (const [at, folder] of ['one', 'two'].entries()) {
      drive.put(`${folder}/N_1.jpg`, pictureBytes(at + 1, false));
      putSidecar(`${folder}/N_1.xmp`, { identifier: [`2026.001.000${at + 1}`] });
    }
    putSidecar('old/N_1.xmp', { city: 'Gjógv' });
    putSidecar('older/N_1.xmp', { city: 'Gjógv', identifier: ['2026.001.0002'] });
    await scan();
    expect((await told()).sort()).toEqual([
      ['old/N_1.xmp', 'one/N_1.jpg', 'two/N_1.jpg'],
      ['older/N_1.xmp', 'two/N_1.jpg'],
    ]);
  });

  it('that became another since it was found is left alone', async () => {
    drive.put('new/a.jpg', pictureBytes(1, false));
    putSidecar('old/a.xmp', { city: 'Gjógv' });
    await scan();
    const [row] = await left();
    putSidecar('old/a.xmp', { city: 'Eiði' });
    await expect(
      rejoinSidecar(db, drive, row?.record as never, 'studio/new/a.jpg', now(), '2026-11-30'),
    ).rejects.toMatchObject({ problem: 'changed-meanwhile' });
    expect(drive.files.has('old/a.xmp')).toBe(true);
  });

  it('that is no XMP is told, and stays', async () => {
    drive.put('new/a.jpg', pictureBytes(1, false));
    putSidecar('new/a.xmp', { city: 'Eiði' });
    drive.put('old/a.xmp', 'no XMP at all');
    await scan();
    const [row] = await left();
    expect(await rejoinSidecar(db, drive, row?.record as never, 'studio/new/a.jpg', now(), '2026-11-30')).toMatchObject(
      {
        state: 'unreadable',
      },
    );
    expect(drive.files.has('old/a.xmp')).toBe(true);
  });
});
