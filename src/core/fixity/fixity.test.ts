import { describe, expect, it } from 'vitest';
import { memorySource } from '../bytes/source';
import { copiesOf, verifiedCount, type FileOnDrive } from './copies';
import { fingerprint } from '../bytes/digest';
import { manifestLine, parseManifestLine } from './manifest';

const A = 'a'.repeat(64);
const B = 'b'.repeat(64);

describe('the manifest', () => {
  const lines = [
    { path: 'a b ð🐑.jpg', sha256: A },
    { path: 'x/back\\slash\nand line.jpg', sha256: B },
  ];

  it('escapes names as sha256sum does', () => {
    expect(lines.map(manifestLine)).toEqual([`${A}  a b ð🐑.jpg\n`, `\\${B}  x/back\\\\slash\\nand line.jpg\n`]);
  });

  it('reads back what it wrote, and guesses at nothing', () => {
    expect(lines.map((line) => parseManifestLine(manifestLine(line).slice(0, -1)))).toEqual(lines);
    expect(parseManifestLine(`${A} *binary.jpg`)).toEqual({ path: 'binary.jpg', sha256: A });
    for (const text of ['nonsense', '', `${A.slice(1)}  x.jpg`, `${A}  `]) expect(parseManifestLine(text)).toBeNull();
  });
});

describe('copies', () => {
  const photo = { sha256: A, imageSha256: B };
  const file = (driveId: string, more: Partial<FileOnDrive> = {}): FileOnDrive => ({
    driveId,
    path: 'x.jpg',
    state: 'present',
    sha256: A,
    imageSha256: null,
    verifiedAt: 1,
    ...more,
  });

  it('two files on one drive are one copy', () => {
    expect(verifiedCount(copiesOf([file('one'), file('one', { path: 'y.jpg' })], photo))).toBe(1);
  });

  it('count only where every byte was read and was right', () => {
    const copies = copiesOf(
      [
        file('one'),
        file('two', { verifiedAt: null, sha256: null }),
        file('three', { sha256: B }),
        file('four', { state: 'missing' }),
        file('five', { sha256: B, imageSha256: B }),
      ],
      photo,
    );
    expect(copies.map(({ driveId, status }) => [driveId, status])).toEqual([
      ['one', 'verified'],
      ['five', 'verified'],
      ['two', 'not-yet-read'],
      ['three', 'in-doubt'],
      ['four', 'missing'],
    ]);
  });
});

describe('the fingerprint', () => {
  const sha256 = async (bytes: Uint8Array) => new Uint8Array(await crypto.subtle.digest('SHA-256', bytes.slice()));
  const print = (bytes: Uint8Array) => fingerprint(memorySource(bytes), sha256);

  it('differs with length, beginning or end, and not with the middle: that is for the digest', async () => {
    const bytes = new Uint8Array(400_000).fill(7);
    const bent = (at: number) => Uint8Array.from(bytes).fill(8, at, at + 1);
    const same = await print(bytes);
    expect(await print(bent(10))).not.toBe(same);
    expect(await print(bent(399_990))).not.toBe(same);
    expect(await print(bytes.subarray(1))).not.toBe(same);
    expect(await print(bent(200_000))).toBe(same);
  });
});
