import 'fake-indexeddb/auto';
import { createHash } from 'node:crypto';
import { gunzipSync, gzipSync } from 'node:zlib';
import Dexie from 'dexie';
import { beforeEach, describe, expect, it } from 'vitest';
import { driveRecord, fileRecord, photoRecord } from '../../../tests/fixtures/records';
import { joinBytes } from '@/core/bytes/join';
import { backupOf, readBackup, restoreBackup } from './backup';
import { keepSetting } from './changes';
import { CatalogDatabase } from './database';
import { MIGRATIONS } from './migrations';

let db: CatalogDatabase;
let catalogs = 0;
const PHOTOS = 2345;

beforeEach(async () => {
  db = new CatalogDatabase(`backed-${catalogs++}`);
  await db.drives.bulkPut([driveRecord('d', { name: 'Stúdíó' }), driveRecord('e', { name: 'Attic' })]);
  const ids = Array.from({ length: PHOTOS }, (_, at) => `p${at}`);
  await db.photos.bulkPut(ids.map((id, at) => photoRecord(id, { fields: { headline: `Nr ${at}\nð “x”  ` } })));
  await db.files.bulkPut(ids.map((id) => fileRecord('d', `${id}.jpg`, id)));
  await db.measures.put({ photoId: 'p1', measures: { high: 1, low: 2, colours: [] }, version: 1 });
  await keepSetting(db, 'x', { a: [1, null, 'two'] }, 5);
});

const made = async (): Promise<Uint8Array<ArrayBuffer>> => {
  const pieces: Uint8Array[] = [];
  for await (const piece of backupOf(db, 1_796_000_000_000)) pieces.push(piece);
  return joinBytes(pieces);
};
const linesOf = (bytes: Uint8Array) => gunzipSync(bytes).toString('utf8').split('\n').slice(0, -1);
const packed = (lines: readonly string[]) => new Blob([gzipSync(lines.map((line) => `${line}\n`).join(''))]);
const fault = (blob: Blob) => readBackup(blob).then(String, (error: Error) => error.message);
const rowsOf = async (name: string) => {
  const catalog = new CatalogDatabase(name);
  const kept = catalog.tables.filter((table) => !['own', 'unindexed'].includes(table.name));
  const rows = await Promise.all(kept.map(async (table) => [table.name, await table.toArray()] as const));
  const id = (await catalog.table<{ value: string }>('own').get('catalog'))?.value;
  catalog.close();
  return { rows: Object.fromEntries(rows), id };
};

describe('a backup of the catalog', () => {
  it('is gzip over lines that any program reads, and its last line is right by other programs', async () => {
    const lines = linesOf(await made());
    expect(JSON.parse(lines[0] ?? '')).toEqual({
      format: 'wembo-catalog-backup',
      version: 1,
      database: Math.max(...MIGRATIONS.map(({ version }) => version)),
      catalog: db.catalogId,
      at: 1_796_000_000_000,
    });
    const before = lines
      .slice(0, -1)
      .map((line) => `${line}\n`)
      .join('');
    const rows = lines.filter((line, at) => at > 0 && line.startsWith('{'));
    expect(JSON.parse(lines.at(-1) ?? '')).toEqual([
      'end',
      rows.length,
      createHash('sha256').update(before).digest('hex'),
    ]);
    expect(lines.filter((line) => line.startsWith('["table"')).length).toBe(
      lines.filter((line) => line.startsWith('["rows"')).length,
    );
    expect(lines.some((line) => /\["table","(jobs|previews|own)"/.test(line))).toBe(false);
  });

  it('restored, every row is what it was, and the catalog is another one', async () => {
    const blob = new Blob([await made()]);
    const seen: number[] = [];
    const read = await restoreBackup(blob, `${db.name}-again`, ({ rows }) => seen.push(rows));
    const [before, after] = [await rowsOf(db.name), await rowsOf(`${db.name}-again`)];
    expect(after.rows).toEqual(before.rows);
    expect(after.rows.photos).toHaveLength(PHOTOS);
    expect([read.tables.get('photos'), seen.at(-1)]).toEqual([PHOTOS, read.rows]);
    expect(after.id).not.toBe(before.id);
  });

  it('numbers of typed arrays and files come back as such; handles do not', async () => {
    const points = new Float64Array([62.01, -6.77, 0.1 + 0.2]);
    await db.table('tracks').put({ id: 't', points, file: new Blob(['<gpx/>'], { type: 'application/gpx+xml' }) });
    await db.table('drives').put({ ...driveRecord('h'), handle: { isSameEntry: 'a handle', kind: 'directory' } });
    await restoreBackup(new Blob([await made()]), `${db.name}-again`);
    const again = new CatalogDatabase(`${db.name}-again`);
    const track = (await again.table('tracks').get('t')) as unknown as { points: Float64Array; file: Blob };
    expect(track.points).toEqual(points);
    expect([track.file.type, await track.file.text()]).toEqual(['application/gpx+xml', '<gpx/>']);
    expect((await again.drives.get('h'))?.handle).toBeNull();
    again.close();
  });

  it('what comes while it is made does not break it', async () => {
    const pieces: Uint8Array[] = [];
    let added = 0;
    const told = backupOf(db, 1, () => void (added < 50 && db.photos.put(photoRecord(`q${added++}`))));
    for await (const piece of told) pieces.push(piece);
    await restoreBackup(new Blob([joinBytes(pieces)]), `${db.name}-again`);
    expect((await rowsOf(`${db.name}-again`)).rows.photos?.length).toBeGreaterThanOrEqual(PHOTOS);
  });

  it('one of an earlier database is filled as it was and brought to this version', async () => {
    const row = { id: 'p', addedAt: 5, fields: { headline: 'Old' }, sha256: null };
    const lines = [
      '{"format":"wembo-catalog-backup","version":1,"database":1,"catalog":"c1","at":1}',
      '["table","photos"]',
      JSON.stringify(row),
      '["rows",1]',
    ];
    const digest = createHash('sha256')
      .update(lines.map((line) => `${line}\n`).join(''))
      .digest('hex');
    await restoreBackup(packed([...lines, JSON.stringify(['end', 1, digest])]), `${db.name}-again`);
    const again = new CatalogDatabase(`${db.name}-again`);
    expect(await again.photos.get('p')).toMatchObject({ fields: { headline: 'Old' }, imageSha256: null });
    again.close();
  });
});

describe('a backup that is not what it should be', () => {
  it('cut short anywhere is known, and nothing is made of it', async () => {
    const bytes = await made();
    for (let at = 5; at < bytes.length; at += Math.ceil(bytes.length / 12))
      expect(await fault(new Blob([bytes.subarray(0, at)]))).toBe('damaged');
    await restoreBackup(new Blob([bytes.subarray(0, bytes.length - 9)]), `${db.name}-cut`).catch(() => undefined);
    expect(await Dexie.exists(`${db.name}-cut`)).toBe(false);
  });

  it('by each line that is gone, doubled, swapped or changed it is known as damaged', async () => {
    const lines = linesOf(await made());
    const at = (text: string) => lines.findIndex((line) => line.startsWith(text));
    const photo = at('["table","photos"') + 5;
    const without = (index: number) => lines.filter((_, one) => one !== index);
    const changed = (index: number, line: string) => lines.map((one, its) => (its === index ? line : one));
    for (const bad of [
      without(photo),
      changed(photo, lines[photo]?.replace('Nr', 'Mr') ?? ''),
      changed(photo, '{ half'),
      changed(photo, '["surprise"]'),
      changed(photo, '["table","jobs"]'),
      [...lines.slice(0, photo), lines[photo] ?? '', ...lines.slice(photo)],
      without(at('["table","photos"')),
      without(at('["rows"')),
      [...lines, '{"one":"more"}'],
    ])
      expect(await fault(packed(bad))).toBe('damaged');
    expect(await fault(packed(lines.slice(0, -1)))).toBe('damaged');
  });

  it.each([
    ['no gzip', new Blob(['some text']), 'not-a-backup'],
    ['nothing', new Blob([]), 'not-a-backup'],
    ['another gzip', packed(['hello']), 'not-a-backup'],
    [
      'a later form',
      packed(['{"format":"wembo-catalog-backup","version":2,"database":1,"catalog":"c","at":1}']),
      'newer',
    ],
    [
      'a later database',
      packed(['{"format":"wembo-catalog-backup","version":1,"database":999,"catalog":"c","at":1}']),
      'newer',
    ],
  ])('%s is told by its name', async (_, blob, told) => {
    expect(await fault(blob)).toBe(told);
  });

  it('says of which catalog it is', async () => {
    expect(await readBackup(new Blob([await made()]))).toMatchObject({ catalog: db.catalogId });
  });
});
