// Tracks beside the photos and tracks that are handed over, in a catalog in memory and on drives in memory.

import 'fake-indexeddb/auto';
import { expect, it } from 'vitest';
import { quietControl } from '../../../tests/fixtures/quiet-control';
import { MemoryDrive } from '../drives/memory-drive';
import { bytesOf } from '../drives/safe-write';
import { directFileTasks } from '../file-tasks/file-tasks';
import type { JobTools } from '../jobs/job-tools';
import { scanDrive } from '../jobs/scan';
import { CatalogDatabase } from './database';
import { emptyOutbox } from './outbox';
import { addTrack } from './tracks';

const table = (lat: number) => `time,lat,lon\n2019-07-04T13:00:00Z,${lat},-6.5\n2019-07-04T13:00:10Z,${lat},-6.6\n`;
const gpx =
  '<gpx version="1.1"><trk><trkseg><trkpt lat="62" lon="-7"><time>2019-07-04T13:00:00Z</time></trkpt></trkseg></trk></gpx>';
const text = (words: string) => new TextEncoder().encode(words);
let number = 0;

async function room() {
  const db = new CatalogDatabase(`tracks-${number++}`);
  const drive = new MemoryDrive();
  await db.drives.put({
    id: 'd',
    name: 'd',
    kind: 'folder',
    handle: null,
    access: 'write',
    takenOut: false,
    addedAt: 0,
    scannedAt: null,
    bytes: 0,
    embeds: false,
    marked: true,
  });
  const tools: JobTools = {
    db,
    fileTasks: directFileTasks(),
    now: () => 1,
    control: quietControl(),
  };
  const outbox = () =>
    emptyOutbox({
      db,
      driveOf: () => drive,
      embed: (order) => directFileTasks().embed(order),
      copy: (order) => directFileTasks().copy(order, () => undefined),
      now: () => 1,
    });
  const hand = async (name: string, words: string) => {
    const file = new File([text(words)], name);
    return addTrack(db, await directFileTasks().readTrack(file), file, 1);
  };
  return { db, drive, scan: () => scanDrive(tools, 'd', drive), outbox, hand };
}

it('a track beside photos is found once, lost when it goes, and found again when it was moved', async () => {
  const { db, drive, scan } = await room();
  drive.put('2019/walk.gpx', text(gpx));
  drive.put('2019/other.gpx', text('<!DOCTYPE x><gpx/>'));
  const report = await scan();
  expect(report.problems).toEqual([
    { path: '2019/other.gpx', problem: { code: 'track/problem', reason: { code: 'doctype' } } },
  ]);
  expect(await db.tracks.toArray()).toMatchObject([
    {
      name: 'walk.gpx',
      zone: 'Atlantic/Faroe',
      used: true,
      places: [{ driveId: 'd', path: '2019/walk.gpx' }],
      facts: { points: 1 },
    },
  ]);
  await drive.move('2019/walk.gpx', '2020/walk.gpx');
  await scan();
  expect((await db.tracks.toArray()).map(({ places }) => places.map(({ path }) => path))).toEqual([['2020/walk.gpx']]);
  await drive.remove('2020/walk.gpx');
  await scan();
  expect((await db.tracks.toArray()).map(({ places }) => places)).toEqual([[]]);
});

it('one that is handed over is kept on the drive; two of one name stand beside each other; the same bytes are one track; a rebuild has both', async () => {
  const { db, drive, outbox, hand, scan } = await room();
  expect((await hand('day.csv', table(62))).isNew).toBe(true);
  expect((await hand('again.csv', table(62))).isNew).toBe(false);
  const { record } = await hand('day.csv', table(63));
  expect((await hand('none.csv', 'a,b\n1,2\n')).record).toMatchObject({
    track: null,
    problem: { code: 'not-a-track' },
  });
  await outbox();
  expect(new TextDecoder().decode(await bytesOf(await drive.open('_wembo/tracks/day.csv')))).toBe(table(62));
  expect(
    new TextDecoder().decode(await bytesOf(await drive.open(`_wembo/tracks/day ${record.id.slice(0, 8)}.csv`))),
  ).toBe(table(63));
  await outbox();
  await db.tracks.clear();
  await scan();
  expect((await db.tracks.toArray()).map(({ track }) => track?.lat[0]).sort()).toEqual([62, 63]);
});
