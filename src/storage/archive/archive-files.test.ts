import { describe, expect, it } from 'vitest';
import { MemoryDrive } from '../drives/memory-drive';
import { COLLECTIONS_FILE, DRIVE_FILE, MANIFEST_FILE, PROOFS_FILE, mergeCollections, readCollections, readDriveFile, readManifest, readProofs, writeCollections, writeDriveFile, writeFixity } from './archive-files';

const A = 'a'.repeat(64);
/** One real sample of each file at version 1, as written by the first release. */
const SAMPLES = {
  [DRIVE_FILE]: '{\n "format": "wembo-drive",\n "version": 1,\n "id": "41ad3cc4-b649-4b40-9367-0e4c562eab15",\n "name": "Studio ð",\n "createdAt": 1795575692062\n}\n',
  [COLLECTIONS_FILE]: '{\n "format": "wembo-collections",\n "version": 1,\n "collections": [\n  {\n   "id": "c1",\n   "name": "On the slip",\n   "scope": "keyword:slip",\n   "updatedAt": 5,\n   "deleted": false\n  }\n ]\n}\n',
  [PROOFS_FILE]: `{\n "format": "wembo-proofs",\n "version": 1,\n "proofs": [\n  {\n   "path": "á.jpg",\n   "bytes": 3,\n   "modified": 4,\n   "sha256": "${A}",\n   "provenAt": 5\n  }\n ]\n}\n`,
};

const drive = (files: Record<string, string> = {}) => {
  const made = new MemoryDrive();
  for (const [path, text] of Object.entries(files)) made.put(path, text);
  return made;
};

describe('the files in _wembo', () => {
  it('version 1 is read and written back to the same bytes', async () => {
    const old = drive(SAMPLES);
    const made = drive();
    const mark = await readDriveFile(old);
    if (!mark) throw new Error('must be read');
    await writeDriveFile(made, mark);
    await writeCollections(made, await readCollections(old));
    await writeFixity(made, [{ path: 'á.jpg', sha256: A }], await readProofs(old));
    for (const [path, text] of Object.entries(SAMPLES)) expect(made.text(path), path).toBe(text);
    expect(await readManifest(made)).toEqual([{ path: 'á.jpg', sha256: A }]);
  });

  it('are absent without complaint', async () => {
    expect([await readDriveFile(drive()), await readCollections(drive()), await readProofs(drive()), await readManifest(drive())]).toEqual([null, [], [], []]);
  });

  it.each([
    ['of a newer version is refused with both numbers', { [COLLECTIONS_FILE]: '{"format":"wembo-collections","version":2}' }, 'has version 2; this Wembo reads version 1'],
    ['that is not JSON is refused', { [COLLECTIONS_FILE]: 'half a si' }, 'is not JSON'],
    ['that is something else is refused', { [COLLECTIONS_FILE]: '{"format":"wembo-collections","version":1,"collections":[{"id":7}]}' }, 'collections'],
  ])('one %s', async (_, files, reason) => {
    await expect(readCollections(drive(files))).rejects.toThrow(reason);
  });

  it('are not written when they would say the same', async () => {
    const made = drive();
    await writeFixity(made, [{ path: 'a', sha256: A }], []);
    const before = new Map(made.files);
    await writeFixity(made, [{ path: 'a', sha256: A }], []);
    expect(made.files).toEqual(before);
    expect(made.text(MANIFEST_FILE)).toBe(`${A}  a\n`);
  });
});

describe('smart collections from several drives', () => {
  it('the later version of each holds, tombstones too', () => {
    const one = { id: 'x', updatedAt: 1, deleted: false };
    const gone = { id: 'x', updatedAt: 2, deleted: true };
    const other = { id: 'y', updatedAt: 1, deleted: false };
    expect(mergeCollections([one], [gone, other])).toEqual([gone, other]);
    expect(mergeCollections([gone], [one])).toEqual([gone]);
  });
});
