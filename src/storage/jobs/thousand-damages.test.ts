// A thousand random damages, planted by script in ten rounds: bits turned, files cut short, files gone, files under other
// names. A check names each of them and nothing else; a scan afterwards tells what was only renamed.

import 'fake-indexeddb/auto';
import { expect, it } from 'vitest';
import { quietControl } from '../../../tests/fixtures/quiet-control';
import { driveRecord } from '../../../tests/fixtures/records';
import { pictureBytes } from '../../../tests/storm/pictures';
import { randomFrom } from '@/demo/paint/noise';
import { CatalogDatabase } from '../catalog/database';
import { writeFixityOf } from '../catalog/manifest';
import { MemoryDrive } from '../drives/memory-drive';
import { directFileTasks } from '../file-tasks/file-tasks';
import { checkDrive } from './checking';
import type { JobTools } from './job-tools';
import { scanDrive } from './scan';

const [PHOTOS, ROUNDS, A_ROUND] = [120, 10, 100];

interface Planted {
  damaged: string[];
  missing: string[];
  renamed: { from: string; to: string }[];
}

function plant(drive: MemoryDrive, paths: readonly string[], next: (below: number) => number, round: number): Planted {
  const planted: Planted = { damaged: [], missing: [], renamed: [] };
  const left = [...paths];
  for (let number = 0; number < A_ROUND; number++) {
    const [path = ''] = left.splice(next(left.length), 1);
    const file = drive.files.get(path);
    if (!file) throw new Error(`there is no ${path}`);
    switch (next(4)) {
      case 0: {
        const bytes = file.bytes.slice();
        const at = next(bytes.length);
        bytes[at] = (bytes[at] ?? 0) ^ (1 << next(8));
        drive.files.set(path, { ...file, bytes });
        planted.damaged.push(path);
        break;
      }
      case 1:
        drive.files.set(path, { ...file, bytes: file.bytes.slice(0, next(file.bytes.length)) });
        planted.damaged.push(path);
        break;
      case 2:
        drive.files.delete(path);
        planted.missing.push(path);
        break;
      default: {
        const to = path.replace('.jpg', ` ${round}.jpg`);
        drive.files.delete(path);
        drive.files.set(to, file);
        planted.renamed.push({ from: path, to });
      }
    }
  }
  return planted;
}

it('a thousand damages are all found, and none is invented', { timeout: 600_000 }, async () => {
  const db = new CatalogDatabase('a-thousand-damages');
  await db.drives.put(driveRecord('studio'));
  const drive = new MemoryDrive();
  for (let at = 1; at <= PHOTOS; at++) drive.put(`${2000 + (at % 9)}/${at}.jpg`, pictureBytes(at, false));
  let clock = 1_700_000_000_000;
  const tools: JobTools = { db, now: () => (clock += 1000), fileTasks: directFileTasks(), control: quietControl() };
  const scan = async () => {
    const report = await scanDrive(tools, 'studio', drive);
    await writeFixityOf(db, 'studio', drive);
    return report;
  };
  const check = () => checkDrive(tools, 'studio', drive, true);
  await scan();
  await check();
  const random = randomFrom(7);
  const next = (below: number) => Math.floor(random() * below);
  const tally = { damaged: 0, missing: 0, renamed: 0 };
  for (let round = 1; round <= ROUNDS; round++) {
    const whole = new Map(drive.files);
    const paths = [...whole.keys()].filter((path) => path.endsWith('.jpg')).sort();
    const { damaged, missing, renamed } = plant(drive, paths, next, round);
    const found = await check();
    expect(found.damaged.toSorted()).toEqual(damaged.toSorted());
    expect(found.missing.toSorted()).toEqual([...missing, ...renamed.map(({ from }) => from)].sort());
    expect(found.added.toSorted()).toEqual(renamed.map(({ to }) => to).sort());
    // what bears another name is named as new, and not called right
    expect(found.sound).toBe(PHOTOS - A_ROUND);
    const scanned = await scan();
    expect(scanned.moved.toSorted((a, b) => (a.from < b.from ? -1 : 1))).toEqual(
      renamed.toSorted((a, b) => (a.from < b.from ? -1 : 1)),
    );
    expect((await db.files.where('state').equals('missing').toArray()).map(({ path }) => path).sort()).toEqual(
      missing.toSorted(),
    );
    tally.damaged += damaged.length;
    tally.missing += missing.length;
    tally.renamed += renamed.length;
    // as it was, but for what bears another name now
    for (const path of [...damaged, ...missing]) {
      const file = whole.get(path);
      if (file) drive.files.set(path, file);
    }
    await scan();
    expect(await check()).toMatchObject({ sound: PHOTOS, damaged: [], missing: [], added: [] });
  }
  expect(tally.damaged + tally.missing + tally.renamed).toBe(1000);
  expect(Math.min(...Object.values(tally))).toBeGreaterThan(150);
});
