import 'fake-indexeddb/auto';
import { expect, it } from 'vitest';
import { fileRecord, photoRecord } from '../../../tests/fixtures/records';
import { DriveError } from '../drives/drive';
import { MemoryDrive } from '../drives/memory-drive';
import { CatalogDatabase } from './database';
import { writeFixityOf } from './manifest';

/** Writing a manifest takes a moment, and a second writer meanwhile is refused, as browsers do. */
class SlowDrive extends MemoryDrive {
  private isOpen = false;

  override async createPart(...[path, pieces]: Parameters<MemoryDrive['createPart']>): Promise<void> {
    if (path.includes('manifest')) {
      if (this.isOpen) throw new DriveError('no-permission', path);
      this.isOpen = true;
      await new Promise((resolve) => setTimeout(resolve, 5));
    }
    return super.createPart(path, pieces);
  }

  override async finishPart(path: string): Promise<void> {
    await super.finishPart(path);
    if (path.includes('manifest')) this.isOpen = false;
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
