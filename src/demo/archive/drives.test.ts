// How the archive is laid out on its drives.

import { createHash } from 'node:crypto';
import { beforeAll, describe, expect, it } from 'vitest';
import { parseManifestLine } from '@/core/fixity/manifest';
import { readAccessions } from '@/storage/archive/archive-files';
import { readSaved } from '@/storage/archive/saved-files';
import { MemoryDrive } from '@/storage/drives/memory-drive';
import { parseScope } from '@/core/query/parse-scope';
import { DRIVES, type LaidFile, PLANTED, layOut, proofOf } from './drives';
import { frameCount, frameName } from './shoot';
import { SHOOTS } from './shoots';
import { CAMERAS } from './world';

/** Every photo of the plan as a few bytes of its own: what lies where does not depend on the picture. */
const PAINTED: LaidFile[] = SHOOTS.flatMap((shoot) =>
  Array.from({ length: frameCount(shoot) }, (_, frame) => {
    const path = `${shoot.folder}/${frameName(shoot, frame)}`;
    const files: LaidFile[] = [
      {
        drive: shoot.drive,
        path: `${path}.${CAMERAS[shoot.camera].ending}`,
        bytes: Buffer.from(`picture of ${shoot.drive} ${path}`),
      },
    ];
    if (shoot.described === 'sidecar')
      files.push({ drive: shoot.drive, path: `${path}.xmp`, bytes: Buffer.from(`words on ${path}`) });
    return files;
  }),
).flat();

let laid: LaidFile[] = [];
const on = (drive: LaidFile['drive']) =>
  new Map(laid.filter((file) => file.drive === drive).map((file) => [file.path, file.bytes]));
const manifestOf = (drive: LaidFile['drive']) =>
  (on(drive).get('_wembo/manifest-sha256.txt') ?? Buffer.alloc(0))
    .toString()
    .split('\n')
    .flatMap((line) => parseManifestLine(line) ?? []);
const sha256 = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex');

beforeAll(async () => {
  laid = await layOut(PAINTED);
});

describe('the drives of the demo', () => {
  it('no two files have one path on one drive, and nothing that was painted is lost', () => {
    expect(new Set(laid.map(({ drive, path }) => `${drive}/${path}`)).size).toBe(laid.length);
    for (const { drive, path, bytes } of PAINTED) expect(on(drive).get(path)?.equals(bytes), path).toBe(true);
  });

  it('one is away, one is a card without an archive folder, four were checked at different times', () => {
    expect(DRIVES.filter(({ takenOut }) => takenOut).map(({ key }) => key)).toEqual(['offsite']);
    expect(new Set(DRIVES.flatMap(({ checkedAt }) => checkedAt ?? [])).size).toBe(4);
    expect([...on('card').keys()].every((path) => path.startsWith('DCIM/10'))).toBe(true);
    expect(on('card').size).toBeGreaterThanOrEqual(80);
  });

  it('the manifests name what each checked drive should hold, by the digest it should have', () => {
    for (const drive of ['harbour', 'attic', 'offsite'] as const) {
      const lines = manifestOf(drive);
      expect(lines.length).toBeGreaterThan(50);
      for (const { path, sha256: expected } of lines) expect(sha256(on(drive).get(path)!), path).toBe(expected);
    }
  });

  it('on the copy one file is damaged, three are missing, two lie elsewhere, and all of them are in its manifest', () => {
    const copy = on('copy');
    const should = new Map(manifestOf('copy').map(({ path, sha256: expected }) => [path, expected]));
    expect(
      [...should]
        .filter(([path, expected]) => copy.has(path) && sha256(copy.get(path)!) !== expected)
        .map(([path]) => path),
    ).toEqual([PLANTED.damaged.path]);
    const gone = [...should.keys()].filter((path) => !copy.has(path));
    expect(gone.sort()).toEqual([...PLANTED.missing, ...Object.keys(PLANTED.moved)].sort());
    for (const [from, to] of Object.entries(PLANTED.moved)) expect(sha256(copy.get(to)!)).toBe(should.get(from));
  });

  it('the damage is one bit, in the middle', () => {
    const whole = on('harbour').get(PLANTED.damaged.path)!;
    const bent = on('copy').get(PLANTED.damaged.path)!;
    const bits = [...whole].reduce(
      (sum, byte, at) => sum + [...(byte ^ bent[at]!).toString(2)].filter((bit) => bit === '1').length,
      0,
    );
    expect(bits).toBe(1);
  });

  it('sidecars are left behind where their photo is gone', () => {
    for (const { drive, path } of PLANTED.orphans) {
      expect(on(drive).has(path), path).toBe(true);
      expect(on(drive).has(path.replace('.xmp', '.jpg')), path).toBe(false);
    }
  });

  it('some frames of the card were taken in already, under other names', () => {
    const studio = new Set([...on('studio').values()].map(sha256));
    const known = [...on('card')]
      .filter(([, bytes]) => studio.has(sha256(bytes)))
      .map(([path]) => path.split('/').at(-1));
    expect(known.sort()).toEqual([...PLANTED.takenIn.frames].sort());
  });

  it('what was copied is a second copy of the same bytes; the newest was not copied yet', () => {
    const copied = new Set([...on('copy').values()].map(sha256));
    const newest = [...on('studio')].filter(([path]) => path.startsWith('2026/2026-05'));
    expect(newest.length).toBeGreaterThan(5);
    for (const [path, bytes] of newest) expect(copied.has(sha256(bytes)), path).toBe(false);
  });

  it('a proof is given for what was right at the last check, not for what went wrong since, nor for sidecars', async () => {
    const file = (drive: LaidFile['drive'], path: string): LaidFile => ({ drive, path, bytes: on(drive).get(path)! });
    const right = PLANTED.damaged.path;
    expect(await proofOf(file('harbour', right))).toEqual({
      sha256: sha256(on('harbour').get(right)!),
      verifiedAt: Date.parse('2026-03-08T09:30:00Z'),
    });
    expect(await proofOf(file('copy', right))).toBeNull();
    for (const moved of Object.values(PLANTED.moved)) expect(await proofOf(file('copy', moved))).toBeNull();
    expect(await proofOf(file('harbour', right.replace('.jpg', '.xmp')))).toBeNull();
    const [unchecked] = [...on('studio').keys()].filter((path) => path.endsWith('.jpg'));
    expect(await proofOf(file('studio', unchecked!))).toBeNull();
  });

  it('kits, names, the routine and the first accession are as the application reads them; the accession says what is on the card', async () => {
    const studio = new MemoryDrive();
    for (const [path, bytes] of on('studio')) if (path.startsWith('_wembo/')) studio.put(path, new Uint8Array(bytes));
    expect((await readSaved(studio, 'ladder')).items[0]?.meanings['5']).toBe('for the book');
    const labels = new Set(SHOOTS.flatMap(({ markers }) => Object.values(markers ?? {})));
    expect((await readSaved(studio, 'markers')).items.map(({ name }) => name).sort()).toEqual([...labels].sort());
    expect([
      (await readSaved(studio, 'kits')).items.length,
      (await readSaved(studio, 'patterns')).items.length,
      (await readSaved(studio, 'routines')).items.length,
      (await readSaved(studio, 'deliveryProfiles')).items.length,
    ]).toEqual([2, 1, 1, 3]);
    const [accession] = await readAccessions(studio, (path, error) => expect.fail(`${path}: ${String(error)}`));
    expect(accession?.files.map(({ from, sha256: digest }) => [from.split('/').at(-1), digest])).toEqual(
      PLANTED.takenIn.frames.map((name) => [name, sha256([...on('card')].find(([path]) => path.endsWith(name))![1])]),
    );
    for (const { placed } of accession?.files ?? [])
      expect(on('studio').has(placed[0]!.path), placed[0]!.path).toBe(true);
  });

  it('the smart collections are ones the scope line understands', () => {
    const { collections } = JSON.parse(on('studio').get('_wembo/collections.json')!.toString()) as {
      collections: { name: string; scope: string }[];
    };
    expect(collections.length).toBeGreaterThanOrEqual(8);
    for (const { name, scope } of collections) {
      expect(parseScope(scope).problems, name).toEqual([]);
      expect(parseScope(scope).items.length, name).toBeGreaterThan(0);
    }
  });
});
