import { describe, expect, it } from 'vitest';
import { MemoryDrive } from '../drives/memory-drive';
import { FIXITY_FILE, type FixityLine, MANIFEST_FILE, mergeFixity, readRecords } from './fixity-file';

const [A, B, C] = ['a', 'b', 'c'].map((letter) => letter.repeat(64)) as [string, string, string];
const line = (path: string, sha256: string, more: Partial<FixityLine> = {}): FixityLine => ({
  path,
  bytes: 3,
  modified: 4,
  sha256,
  ...more,
});
const merge = (drive: MemoryDrive, known: FixityLine[], retired: string[] = [], id = 'drive-0001') =>
  mergeFixity(
    drive,
    id,
    async function* () {
      yield known;
    },
    (path) => retired.includes(path),
    async () => true,
  );
/** A real sample of what is written now, and of what was written before. */
const FIXITY_1 = `{"format":"wembo-fixity","version":1,"drive":"drive-0001"}\n{"path":"á.jpg","bytes":3,"modified":4,"sha256":"${A}","image":"${B}","verified":5,"print":"f"}\n`;
const PROOFS_1 = `{\n "format": "wembo-proofs",\n "version": 1,\n "proofs": [\n  {\n   "path": "á.jpg",\n   "bytes": 3,\n   "modified": 4,\n   "sha256": "${A}",\n   "provenAt": 5\n  }\n ]\n}\n`;

describe('what a drive says of its files', () => {
  it('is read and written back to the same bytes', async () => {
    const drive = new MemoryDrive();
    drive.put(FIXITY_FILE, FIXITY_1);
    drive.put(MANIFEST_FILE, `${A}  á.jpg\n`);
    const before = new Map(drive.files);
    expect([...(await readRecords(drive, 'drive-0001')).byPath]).toEqual([
      [
        'á.jpg',
        {
          measure: { sha256: A, imageSha256: B },
          also: null,
          bytes: 3,
          modified: 4,
          verifiedAt: 5,
          state: 'sound',
          photoId: null,
          fingerprint: 'f',
          addedAt: null,
        },
      ],
    ]);
    await merge(drive, []);
    expect(drive.files).toEqual(before);
  });

  it('that was verified is believed on this very drive only, not on a clone', async () => {
    const drive = new MemoryDrive();
    drive.put(FIXITY_FILE, FIXITY_1);
    expect((await readRecords(drive, 'drive-0002')).byPath.get('á.jpg')).toMatchObject({
      measure: { sha256: A },
      verifiedAt: null,
    });
  });

  it('in the form of earlier versions has measures, and times that are not believed', async () => {
    const drive = new MemoryDrive();
    drive.put('_wembo/proofs.json', PROOFS_1);
    expect((await readRecords(drive, 'drive-0001')).byPath.get('á.jpg')).toMatchObject({
      measure: { sha256: A },
      bytes: 3,
      modified: 4,
      verifiedAt: null,
    });
  });

  it('of a later version is refused, and left as it is', async () => {
    const drive = new MemoryDrive();
    const later = FIXITY_1.replace('"version":1', '"version":2');
    drive.put(FIXITY_FILE, later);
    await expect(readRecords(drive, 'drive-0001')).rejects.toThrow('has version 2');
    await expect(merge(drive, [line('b.jpg', B)])).rejects.toThrow('has version 2');
    expect([drive.text(FIXITY_FILE), drive.text(MANIFEST_FILE)]).toEqual([later, null]);
  });

  it('costs a line that cannot be read that line alone; two digests of one file, one in each file, are both kept', async () => {
    const drive = new MemoryDrive();
    drive.put(FIXITY_FILE, `${FIXITY_1}{"path":"half\n{"path":"b.jpg","bytes":-1,"modified":4,"sha256":"${B}"}\n`);
    drive.put(MANIFEST_FILE, `${C}  á.jpg\nnonsense\n${B}  b.jpg\n`);
    const { byPath } = await readRecords(drive, 'drive-0001');
    expect([byPath.get('á.jpg'), byPath.get('b.jpg')]).toMatchObject([
      { measure: { sha256: C }, also: A, verifiedAt: null },
      { measure: { sha256: B }, also: null },
    ]);
    expect(byPath.size).toBe(2);
  });
});

describe('merging', () => {
  it('keeps what the catalog does not know, takes what it knows, drops what was moved or removed, names each file once', async () => {
    const drive = new MemoryDrive();
    drive.put(MANIFEST_FILE, `${A}  kept.jpg\n${A}  also.jpg\n${A}  gone.jpg\n${A}  changed.jpg\n${B}  kept.jpg\n`);
    await merge(
      drive,
      [line('changed.jpg', C), line('doubt.jpg', B, { state: 'doubt' }), line('new.jpg', B), line('unread.jpg', '')],
      ['gone.jpg'],
    );
    expect(drive.text(MANIFEST_FILE)).toBe(
      `${A}  also.jpg\n${C}  changed.jpg\n${B}  doubt.jpg\n${A}  kept.jpg\n${B}  new.jpg\n`,
    );
    await merge(drive, [line('also.jpg', C, { state: 'doubt' }), line('kept.jpg', '')]);
    // neither doubt nor ignorance writes over what the drive says
    expect(drive.text(MANIFEST_FILE)?.split('\n').slice(0, 4)).toEqual([
      `${A}  also.jpg`,
      `${C}  changed.jpg`,
      `${B}  doubt.jpg`,
      `${A}  kept.jpg`,
    ]);
  });

  it('on a full drive leaves the old file whole', async () => {
    const drive = new MemoryDrive();
    drive.put(MANIFEST_FILE, `${A}  a.jpg\n`);
    drive.capacityBytes = 100;
    await expect(merge(drive, [line('b.jpg', B)])).rejects.toThrow('full');
    expect([...drive.files.keys()]).toEqual([MANIFEST_FILE]);
    expect(drive.text(MANIFEST_FILE)).toBe(`${A}  a.jpg\n`);
  });

  it('tens of thousands of lines of the drive with as many of the catalog leave the page between batches', async () => {
    const drive = new MemoryDrive();
    const path = (index: number) => `2019/${String(index).padStart(7, '0')}.jpg`;
    const COUNT = 50_000;
    drive.put(MANIFEST_FILE, Array.from({ length: COUNT }, (_, index) => `${A}  ${path(2 * index)}\n`).join(''));
    let turns = 0;
    const timer = setInterval(() => (turns += 1), 1);
    const known = async function* () {
      for (let at = 0; at < COUNT; at += 2000) {
        await new Promise((resolve) => setTimeout(resolve, 0)); // as the database does
        yield Array.from({ length: 2000 }, (_, index) => line(path(2 * (at + index) + 1), B));
      }
    };
    await mergeFixity(
      drive,
      'drive-0001',
      known,
      () => false,
      async () => true,
    );
    clearInterval(timer);
    const { byPath } = await readRecords(drive, 'drive-0001');
    expect([byPath.size, byPath.get(path(0))?.measure.sha256, byPath.get(path(2 * COUNT - 1))?.measure.sha256]).toEqual(
      [2 * COUNT, A, B],
    );
    expect(turns).toBeGreaterThan(20);
  });
});
