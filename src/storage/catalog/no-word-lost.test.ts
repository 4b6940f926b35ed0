// Ways to lose what a person or another program entered that were found in code that was green, each as it was found.

import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it } from 'vitest';
import { quietControl } from '../../../tests/fixtures/quiet-control';
import { Places, PlaceDrive, Process, newDisk } from '../../../tests/storm/disks';
import { pictureBytes } from '../../../tests/storm/pictures';
import { driveRecord } from '../../../tests/fixtures/records';
import { planSet } from '@/core/fields/edits';
import type { SavedChange } from '@/core/catalog/change';
import { newCollection } from '@/core/catalog/collection';
import type { FieldKey, FieldValues } from '@/core/fields/registry';
import type { FieldValue } from '@/core/fields/shape';
import { planSidecar } from '@/core/metadata/xmp/sidecar';
import { savedFile } from '../archive/saved-files';
import type { Drive } from '../drives/drive';
import { MemoryDrive } from '../drives/memory-drive';
import { directFileTasks } from '../file-tasks/file-tasks';
import type { JobTools } from '../jobs/job-tools';
import { scanDrive } from '../jobs/scan';
import { makeChange, redoNext, undoLast } from './changes';
import { CatalogDatabase } from './database';
import { historyOf } from './history';
import { emptyOutbox } from './outbox';
import { planDecision, sayApart, seenIn } from './sidecars';

let drives: Record<string, MemoryDrive>;
let clock = 1_800_000_000_000;
let number = 0;

const fileTasks = directFileTasks();
const now = () => (clock += 1000);

/** A browser with its catalog. */
class Browser {
  db = new CatalogDatabase(`no-word-lost-${number++}`);
  /** Drives that are plugged in here. */
  there = (id: string): Drive | null => drives[id] ?? null;

  async start(ids = Object.keys(drives)): Promise<this> {
    await this.db.drives.bulkPut(ids.map((id) => driveRecord(id)));
    for (const id of ids) await this.scan(id);
    return this;
  }

  scan(id: string) {
    const tools: JobTools = {
      db: this.db,
      fileTasks,
      now,
      control: quietControl(),
    };
    return scanDrive(tools, id, this.there(id) as Drive);
  }

  write = () =>
    emptyOutbox({
      db: this.db,
      driveOf: this.there,
      embed: (order) => fileTasks.embed(order),
      copy: (order) => fileTasks.copy(order, () => undefined),
      now: () => (clock += 30_000),
    });

  photo = async () => (await this.db.photos.toCollection().first())!;
  fields = async () => (await this.photo()).fields;

  async set(key: FieldKey, value: FieldValue | undefined): Promise<void> {
    await makeChange(
      this.db,
      { kind: 'fields', origin: 'person', edits: planSet([await this.photo()], key, value) },
      now(),
    );
  }

  keep = (change: Omit<SavedChange & { savedKind: 'collections' }, 'kind' | 'savedKind'>) =>
    makeChange(this.db, { kind: 'kept', savedKind: 'collections', ...change }, now());
}

const named = (name: string, more: object = {}) => ({
  ...newCollection(name, 'smart', { scope: 'boat' }),
  id: 'c',
  updatedAt: clock,
  deleted: false,
  ...more,
});

function otherProgramWrites(drive: MemoryDrive, path: string, given: FieldValues): void {
  const plan = planSidecar({
    existing: drive.files.get(path)?.bytes ?? null,
    fields: given,
    embedded: {},
    ending: 'jpg',
  });
  if ('bytes' in plan) drive.put(path, plan.bytes);
}

/** A drive on which something else happens once, when a file is about to be written. */
function beforeWriting(drive: MemoryDrive, path: string, act: () => Promise<void>): { drive: Drive; times: number } {
  const meanwhile = {
    times: 0,
    drive: Object.assign(Object.create(drive) as MemoryDrive, {
      createPart: async (at: string, pieces: AsyncIterable<Uint8Array<ArrayBuffer>>) => {
        if (at === path && meanwhile.times++ === 0) await act();
        return drive.createPart(at, pieces);
      },
    }),
  };
  return meanwhile;
}

const ORDERS = [
  ['a', 'b', 'c'],
  ['a', 'c', 'b'],
  ['b', 'a', 'c'],
  ['b', 'c', 'a'],
  ['c', 'a', 'b'],
  ['c', 'b', 'a'],
] as const;

beforeEach(() => {
  drives = { a: new MemoryDrive(), b: new MemoryDrive(), c: new MemoryDrive() };
  for (const drive of Object.values(drives)) drive.put('x.jpg', pictureBytes(1, false));
});

describe('a browser that is killed at any step', () => {
  it.each(['takes over what another program wrote', 'keeps both where the person changed it too'])(
    '%s',
    async (what) => {
      const isConflict = what.startsWith('keeps');
      let stops = 0;
      for (let step = 1; ; step++) {
        const [disk, places] = [newDisk('disk', 'exact'), new Places()];
        disk.drive.put('x.jpg', pictureBytes(1, false));
        drives = { a: disk.drive };
        places.plug('p', disk);
        const browser = await new Browser().start();
        await browser.set('headline', 'ours');
        await browser.write();
        otherProgramWrites(disk.drive, 'x.xmp', { headline: 'theirs' });
        await browser.set('city', 'Gjógv');
        if (isConflict) await browser.set('headline', 'ours again');
        const process = new Process();
        const { name } = browser.db;
        const killable = new CatalogDatabase(name);
        killable.use({
          stack: 'dbcore',
          name: 'kill',
          create: (core) => ({
            ...core,
            transaction: (...order) => {
              if (!process.takes()) throw new Error('ended');
              return core.transaction(...order);
            },
          }),
        });
        browser.db.close();
        browser.db = killable;
        await killable.open();
        browser.there = () => new PlaceDrive(process, places, 'p');
        process.arm(step);
        await Promise.race([browser.write().catch(() => undefined), process.end]);
        const wasStopped = !process.isAlive;
        killable.close();
        browser.db = new CatalogDatabase(name);
        browser.there = (id) => drives[id] ?? null;
        await browser.write();
        await browser.write();
        expect((await browser.fields()).headline, `stopped at ${step}`).toBe(isConflict ? 'ours again' : 'theirs');
        if (isConflict)
          expect(await browser.db.conflicts.toArray(), `stopped at ${step}`).toMatchObject([
            { keys: ['headline'], theirs: { headline: 'theirs' } },
          ]);
        expect(disk.drive.text('x.xmp'), `stopped at ${step}`).toContain('theirs');
        browser.db.close();
        if (!wasStopped) break;
        stops += 1;
      }
      expect(stops).toBeGreaterThan(10);
    },
  );
});

describe('a rebuild', () => {
  it.each(ORDERS)(
    'with one drive behind gives the newer words and leaves cleared what was cleared: %s, %s, %s',
    async (...order) => {
      const browser = await new Browser().start();
      await browser.set('headline', 'old');
      await browser.set('city', 'Gjógv');
      await browser.write();
      browser.there = (id) => (id === 'b' ? null : (drives[id] ?? null)); // away
      await browser.set('headline', 'new');
      await browser.set('city', undefined);
      await browser.set('source', 'album');
      await browser.write();
      const again = await new Browser().start([...order]);
      const { captured: _, ...said } = await again.fields();
      expect(said).toEqual({ headline: 'new', source: 'album' });
      expect(await again.db.conflicts.count()).toBe(0);
      await again.write();
      for (const drive of Object.values(drives))
        expect([drive.text('x.xmp')?.includes('new'), drive.text('x.xmp')?.includes('Gjógv')]).toEqual([true, false]);
    },
  );

  it.each(ORDERS)(
    'where another program wrote on one drive and the person on the others keeps both: %s, %s, %s',
    async (...order) => {
      const browser = await new Browser().start();
      await browser.set('headline', 'old');
      await browser.write();
      otherProgramWrites(drives.b!, 'x.xmp', { headline: 'theirs' });
      browser.there = (id) => (id === 'b' ? null : (drives[id] ?? null));
      await browser.set('headline', 'ours');
      await browser.write();
      const again = await new Browser().start([...order]);
      const [conflict] = await again.db.conflicts.toArray();
      expect([(await again.fields()).headline, conflict?.theirs.headline].sort()).toEqual(['ours', 'theirs']);
      await again.write();
      const all = Object.values(drives)
        .map((drive) => drive.text('x.xmp') ?? '')
        .join('');
      expect([all.includes('ours'), all.includes('theirs')]).toEqual([true, true]);
    },
  );

  it('knows when each photo came, what was chosen, and the history; undo does not reach back', async () => {
    const browser = await new Browser().start();
    const { id, addedAt } = await browser.photo();
    await browser.set('headline', 'one');
    await browser.set('headline', 'two');
    await undoLast(browser.db, now());
    await makeChange(
      browser.db,
      {
        kind: 'kept',
        savedKind: 'settings',
        before: null,
        after: { id: 'pinned', value: ['boat'], updatedAt: clock, deleted: false },
      },
      now(),
    );
    await browser.write();
    const again = await new Browser().start(['c', 'a', 'b']);
    expect((await again.photo()).addedAt).toBe(addedAt);
    expect(await again.db.settings.get('pinned')).toMatchObject({ value: ['boat'] });
    expect(await undoLast(again.db, now())).toBeNull();
    const history = await historyOf(again.db, id);
    expect(history.map(({ how, elsewhere, edits }) => [how, elsewhere, edits[0]?.after])).toEqual([
      ['undo', true, 'one'],
      [null, true, 'two'],
      [null, true, 'one'],
    ]);
    expect(
      drives
        .a!.text([...drives.a!.files.keys()].find((path) => path.startsWith('_wembo/history/')) ?? '')
        ?.split('\n')[0],
    ).toContain('"format":"wembo-history"');
    // the history of the catalog before goes to drives it never was on
    drives.d = new MemoryDrive();
    await again.db.drives.put(driveRecord('d'));
    await again.set('city', 'Gjógv');
    await again.write();
    expect([...drives.d.files.keys()].filter((path) => path.startsWith('_wembo/history/'))).toHaveLength(2);
  });
});

describe('two browsers', () => {
  it('that write one savedKind at the same moment lose nothing, and neither writes over what the other kept', async () => {
    drives = { a: new MemoryDrive() };
    const [one, two] = [await new Browser().start(), await new Browser().start()];
    await one.keep({ before: null, after: named('Boats') });
    await one.write();
    await two.write();
    await one.keep({ before: null, after: named('Lights', { id: 'l' }) });
    await two.keep({ before: null, after: named('Wool', { id: 'w' }) });
    // the other one writes between this one's reading and its writing
    const drive = drives.a!;
    const meanwhile = beforeWriting(drive, savedFile('collections'), async () => void (await two.write()));
    one.there = () => meanwhile.drive;
    await one.write();
    expect(meanwhile.times).toBeGreaterThan(0);
    for (const name of ['Boats', 'Lights', 'Wool']) expect(drive.text(savedFile('collections'))).toContain(name);
  });

  it('that change one thing apart keep both', async () => {
    const [one, two] = [await new Browser().start(), await new Browser().start()];
    await one.keep({ before: null, after: named('Boats') });
    await one.write();
    await two.scan('a');
    const before = (await two.db.collections.get('c'))!;
    await one.keep({ before, after: { ...before, scope: 'boat rating:5' } });
    await two.keep({ before, after: { ...before, scope: 'boat year:2019' } });
    for (const browser of [one, two, one, two]) await browser.scan('a').then(browser.write);
    const [ours, theirs] = [await one.db.collections.toArray(), await two.db.collections.toArray()];
    expect(ours.map(({ scope }) => scope).sort()).toEqual(['boat rating:5', 'boat year:2019']);
    expect(theirs).toEqual(ours);
  });

  it('that edit one photo in turn see each other’s words; at once, both are kept until one decides, and the other hears of it', async () => {
    const [one, two] = [await new Browser().start(), await new Browser().start()];
    await one.set('headline', 'one');
    await one.write();
    await two.scan('a');
    await two.set('headline', 'two');
    await two.write();
    await one.scan('a');
    expect((await one.fields()).headline).toBe('two');
    await one.set('headline', 'one again');
    await two.set('headline', 'two again');
    await one.write();
    await two.write();
    expect(await two.db.conflicts.toArray()).toMatchObject([
      { keys: ['headline'], theirs: { headline: 'one again' } },
      {},
      {},
    ]);
    const decision = await planDecision(
      two.db,
      (await two.db.conflicts.toArray()).map(({ fileId }) => ({ fileId, decided: { headline: 'both' } })),
    );
    await makeChange(two.db, decision!, now());
    expect(await two.db.conflicts.count()).toBe(0);
    await two.write();
    for (const id of ['a', 'b', 'c']) await one.scan(id);
    expect([(await one.fields()).headline, await one.db.conflicts.count()]).toEqual(['both', 0]);
    await undoLast(two.db, now());
    expect([(await two.fields()).headline, await two.db.conflicts.count()]).toEqual(['two again', 3]);
    await redoNext(two.db, now());
    expect([(await two.fields()).headline, await two.db.conflicts.count()]).toEqual(['both', 0]);
  });
});

describe('a clock that is set back an hour', () => {
  it('takes back no collection and no word', async () => {
    const browser = await new Browser().start();
    await browser.keep({ before: null, after: named('Boats') });
    await browser.set('headline', 'before');
    await browser.write();
    clock -= 3_600_000;
    const before = (await browser.db.collections.get('c'))!;
    await browser.keep({ before, after: { ...before, name: 'Boats and lights', updatedAt: clock } });
    await browser.set('headline', 'after');
    await browser.scan('a');
    await browser.write();
    expect((await browser.db.collections.get('c'))?.name).toBe('Boats and lights');
    for (const drive of Object.values(drives))
      expect([
        drive.text(savedFile('collections'))?.includes('Boats and lights'),
        drive.text('x.xmp')?.includes('after'),
      ]).toEqual([true, true]);
    const again = await new Browser().start();
    expect([(await again.db.collections.get('c'))?.name, (await again.fields()).headline]).toEqual([
      'Boats and lights',
      'after',
    ]);
  });

  it('leaves no edit unwritten that is made while another is being written, in the same moment by the clock', async () => {
    drives = { a: drives.a! };
    const browser = await new Browser().start();
    await browser.set('headline', 'one');
    const at = clock;
    const drive = drives.a!;
    const meanwhile = beforeWriting(
      drive,
      'x.xmp',
      async () =>
        void (await makeChange(
          browser.db,
          { kind: 'fields', origin: 'person', edits: planSet([await browser.photo()], 'headline', 'two') },
          at,
        )),
    );
    browser.there = () => meanwhile.drive;
    await browser.write();
    await browser.write();
    expect(meanwhile.times).toBeGreaterThan(0);
    expect(drive.text('x.xmp')).toContain('two');
  });
});

describe('a file that was moved by hand while an edit waits', () => {
  it('keeps what was cleared cleared', async () => {
    drives = { a: drives.a! };
    const browser = await new Browser().start();
    await browser.set('headline', 'old');
    await browser.write();
    await browser.set('headline', undefined);
    const drive = drives.a!;
    for (const [from, to] of [
      ['x.jpg', 'moved/y.jpg'],
      ['x.xmp', 'moved/y.xmp'],
    ] as const)
      await drive.move(from, to);
    await browser.scan('a');
    await browser.write();
    expect((await browser.fields()).headline).toBeUndefined();
    expect(drive.text('moved/y.xmp')).not.toContain('old');
  });
});

describe('a saved kind', () => {
  it('of which one item cannot be read keeps the others going, in the catalog and on the drive, and is told', async () => {
    drives = { a: drives.a! };
    const browser = await new Browser().start();
    const broken = { id: 'future', name: 'x'.repeat(600) };
    drives.a!.put(
      savedFile('collections'),
      JSON.stringify({ format: 'wembo-collections', version: 2, collections: [broken, named('Boats')] }),
    );
    await browser.scan('a');
    expect(await browser.db.archiveProblems.toArray()).toMatchObject([
      { path: savedFile('collections'), kind: 'items', items: 1 },
    ]);
    await browser.keep({ before: null, after: named('Lights', { id: 'l' }) });
    await browser.write();
    const text = drives.a!.text(savedFile('collections')) ?? '';
    expect(['Boats', 'Lights', 'x'.repeat(600)].map((part) => text.includes(part))).toEqual([true, true, true]);
  });

  it('that was cut short is kept aside, told, and written anew; one from a later version is left as it is, and stops no other', async () => {
    drives = { a: drives.a! };
    const browser = await new Browser().start();
    const newer = '{"format":"wembo-kits","version":9,"kits":[]}';
    drives.a!.put(savedFile('collections'), '{"format":"wembo-collections","ver');
    drives.a!.put(savedFile('kits'), newer);
    await browser.keep({ before: null, after: named('Boats') });
    await browser.write();
    expect(drives.a!.text(savedFile('collections'))).toContain('Boats');
    expect(drives.a!.text('_wembo/kept-aside/collections.json')).toBe('{"format":"wembo-collections","ver');
    expect(drives.a!.text(savedFile('kits'))).toBe(newer);
    expect((await browser.db.archiveProblems.toArray()).map(({ path, kind, keptAs }) => [path, kind, keptAs])).toEqual([
      [savedFile('collections'), 'broken', '_wembo/kept-aside/collections.json'],
      [savedFile('kits'), 'newer', null],
    ]);
    expect(await browser.db.outbox.filter(({ task }) => task.kind === 'archive').count()).toBe(0);
  });

  it('takes nothing that it could not give back', async () => {
    const browser = await new Browser().start([]);
    await expect(browser.keep({ before: null, after: named('x'.repeat(600)) })).rejects.toMatchObject({
      problem: { member: 'name', tooMany: { has: 600, most: 500 } },
    });
    expect([await browser.db.collections.count(), await browser.db.journal.count()]).toEqual([0, 0]);
  });
});

describe('nobody’s later word', () => {
  it('is undone by what the person did before, or written over by what was planned before', async () => {
    drives = { a: drives.a! };
    const browser = await new Browser().start();
    await browser.set('headline', 'mine');
    await browser.write();
    const planned = planSet([await browser.photo()], 'headline', 'planned a while ago');
    otherProgramWrites(drives.a!, 'x.xmp', { headline: 'theirs' });
    await browser.scan('a');
    expect((await browser.fields()).headline).toBe('theirs');
    expect(await makeChange(browser.db, { kind: 'fields', origin: 'person', edits: planned }, now())).toMatchObject({
      left: 1,
    });
    expect(await undoLast(browser.db, now())).toMatchObject({ left: 1 });
    expect((await browser.fields()).headline).toBe('theirs');
    await browser.set('headline', 'seen and changed');
    expect((await browser.fields()).headline).toBe('seen and changed');
  });
});

it('what is typed while another program writes the same field is kept beside what that wrote', async () => {
  drives = { a: drives.a! };
  const browser = await new Browser().start();
  await browser.set('headline', 'before');
  await browser.write();
  const { id, ...photo } = await browser.photo();
  const seen = seenIn({ id, ...photo }, 'headline');
  expect(await sayApart(browser.db, id, 'headline', 'typed', seen, now())).toBeNull();
  otherProgramWrites(drives.a!, 'x.xmp', { headline: 'theirs' });
  await browser.scan('a');
  expect(await sayApart(browser.db, id, 'headline', 'typed', seen, now())).toMatchObject({ photoIds: [id] });
  for (let round = 0; round < 2; round++) {
    await browser.scan('a');
    await browser.write();
    expect([(await browser.fields()).headline, (await browser.db.conflicts.toArray())[0]?.theirs.headline]).toEqual([
      'typed',
      'theirs',
    ]);
    expect(drives.a!.text('x.xmp')).toContain('theirs');
  }
});

it('an older tab stops when a newer version has opened the catalog, and does not open it again', async () => {
  const old = new CatalogDatabase('two-versions');
  await old.open();
  let outdated = 0;
  old.onOutdated = () => (outdated += 1);
  const newer = await new Promise<IDBDatabase>((resolve) => {
    const opening = indexedDB.open('two-versions', 990);
    opening.onsuccess = () => resolve(opening.result);
  });
  expect(outdated).toBe(1);
  await expect(old.photos.count()).rejects.toMatchObject({ name: 'DatabaseClosedError' });
  newer.close();
  const late = new CatalogDatabase('two-versions');
  late.onOutdated = () => (outdated += 1);
  await expect(late.open()).rejects.toThrow();
  expect(outdated).toBe(2);
});
