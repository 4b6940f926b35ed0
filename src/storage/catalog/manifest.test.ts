import 'fake-indexeddb/auto';
import { expect, it } from 'vitest';
import { fileRecord, photoRecord } from '../../../tests/fixtures/records';
import type { PartFile } from '../drives/drive';
import { MemoryDrive } from '../drives/memory-drive';
import { CatalogDatabase } from './database';
import { writeFixityOf } from './manifest';
import { fileErased, moveFile } from './photos';
import type { FileRecord } from './records';

/** Writing a manifest takes a moment. */
class SlowDrive extends MemoryDrive {
  override async createPart(...[path, pieces]: Parameters<MemoryDrive['createPart']>): Promise<PartFile> {
    const part = await super.createPart(path, pieces);
    if (path.includes('manifest')) await new Promise((resolve) => setTimeout(resolve, 5));
    return part;
  }
}

it('written by a job and by the outbox at the same time is whole, and says what the later of them knew', async () => {
  const db = new CatalogDatabase('manifest');
  const drive = new SlowDrive();
  await db.photos.bulkPut(['a', 'b'].map((id) => photoRecord(id)));
  await db.files.put({ ...fileRecord('d', 'a.jpg', 'a'), sha256: 'a'.repeat(64) });
  const first = writeFixityOf(db, 'd', drive);
  await db.files.put({ ...fileRecord('d', 'b.jpg', 'b'), sha256: 'b'.repeat(64) });
  await Promise.all([first, writeFixityOf(db, 'd', drive), writeFixityOf(db, 'd', drive)]);
  expect(drive.text('_wembo/manifest-sha256.txt')).toBe(`${'a'.repeat(64)}  a.jpg\n${'b'.repeat(64)}  b.jpg\n`);
});

it.each(['manifest-sha256.txt', 'fixity.jsonl'])(
  'replaced by another writer while %s is read, is read again and written whole',
  async (name) => {
    const db = new CatalogDatabase(`manifest-read-${name}`);
    const drive = new MemoryDrive();
    await db.files.put({ ...fileRecord('d', 'a.jpg', 'a'), sha256: 'a'.repeat(64) });
    await writeFixityOf(db, 'd', drive);
    await db.files.put({ ...fileRecord('d', 'b.jpg', 'b'), sha256: 'b'.repeat(64) });
    const open = drive.open.bind(drive);
    let refused = 0;
    drive.open = async (path) => {
      const file = await open(path);
      if (!path.endsWith(name) || refused > 0) return file;
      refused += 1;
      // what Chromium answers for a file that was replaced after it was opened (seen in Chromium, by hand)
      const read = () => Promise.reject(new DOMException('replaced', 'NotReadableError'));
      return {
        ...file,
        size: file.size,
        lastModified: file.lastModified,
        arrayBuffer: read,
        slice: () => ({ ...file, size: 1, arrayBuffer: read }),
      };
    };
    await writeFixityOf(db, 'd', drive);
    expect(refused).toBe(1);
    expect(drive.text('_wembo/manifest-sha256.txt')).toBe(`${'a'.repeat(64)}  a.jpg\n${'b'.repeat(64)}  b.jpg\n`);
  },
);

it('keeps the lines of a catalog that knows more, until the file is moved or removed by this one', async () => {
  const [mine, theirs] = [new CatalogDatabase('manifest-mine'), new CatalogDatabase('manifest-theirs')];
  const drive = new MemoryDrive();
  const line = (name: string) => `${name.repeat(64)}  ${name}.jpg\n`;
  for (const name of ['a', 'b', 'c'])
    await theirs.files.put({ ...fileRecord('d', `${name}.jpg`, name), sha256: name.repeat(64) });
  await writeFixityOf(theirs, 'd', drive);
  await mine.files.put({ ...fileRecord('d', 'b.jpg', 'b'), sha256: 'b'.repeat(64) });
  await writeFixityOf(mine, 'd', drive);
  expect(drive.text('_wembo/manifest-sha256.txt')).toBe(line('a') + line('b') + line('c'));
  await fileErased(mine, (await mine.files.get('d/b.jpg')) as FileRecord, 5);
  await writeFixityOf(mine, 'd', drive);
  expect(drive.text('_wembo/manifest-sha256.txt')).toBe(line('a') + line('c'));
  expect(await mine.retired.count()).toBe(0);
});

it('a file that moves while it is merged stands in it once', async () => {
  const db = new CatalogDatabase('manifest-moving');
  const drive = new SlowDrive();
  await db.files.put({ ...fileRecord('d', 'b.jpg', 'b'), sha256: 'b'.repeat(64) });
  await writeFixityOf(db, 'd', drive);
  const writing = writeFixityOf(db, 'd', drive);
  await moveFile(db, 'd/b.jpg', { id: 'd/a.jpg', path: 'a.jpg', sidecar: null, sidecarTarget: 'a.xmp' }, 5);
  await writing;
  expect([`${'b'.repeat(64)}  a.jpg\n`, `${'b'.repeat(64)}  b.jpg\n`]).toContain(
    drive.text('_wembo/manifest-sha256.txt'),
  );
  await writeFixityOf(db, 'd', drive);
  expect(drive.text('_wembo/manifest-sha256.txt')).toBe(`${'b'.repeat(64)}  a.jpg\n`);
});

it('what another program wrote into it while it was merged is not written over', async () => {
  const db = new CatalogDatabase('manifest-changed');
  await db.files.put({ ...fileRecord('d', 'b.jpg', 'b'), sha256: 'b'.repeat(64) });
  const drive = new MemoryDrive();
  const createPart = drive.createPart.bind(drive);
  let others = 0;
  drive.createPart = async (path, pieces) => {
    const part = await createPart(path, pieces);
    if (path.includes('manifest') && others++ === 0) drive.put(path, `${'e'.repeat(64)}  elsewhere.jpg\n`);
    return part;
  };
  await writeFixityOf(db, 'd', drive);
  expect(drive.text('_wembo/manifest-sha256.txt')).toBe(`${'b'.repeat(64)}  b.jpg\n${'e'.repeat(64)}  elsewhere.jpg\n`);
});
