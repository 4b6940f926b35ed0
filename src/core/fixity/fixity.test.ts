import { describe, expect, it } from 'vitest';
import { memorySource } from '../bytes/source';
import { copiesOf, provenCount, type FileOnDrive } from './copies';
import { fingerprint } from './digest';
import { parseManifest, writeManifest } from './manifest';

const A = 'a'.repeat(64);
const B = 'b'.repeat(64);

describe('the manifest', () => {
  const lines = [{ path: 'x/back\\slash\nand line.jpg', sha256: B }, { path: 'a b ð🐑.jpg', sha256: A }];

  it('is sorted, and escapes names as sha256sum does', () => {
    expect(writeManifest(lines)).toBe(`${A}  a b ð🐑.jpg\n\\${B}  x/back\\\\slash\\nand line.jpg\n`);
  });

  it('reads back what it wrote, and counts lines it does not understand', () => {
    const { lines: read, notUnderstood } = parseManifest(`${writeManifest(lines)}nonsense\n${A} *binary.jpg\n`);
    expect(read).toEqual([lines[1], lines[0], { path: 'binary.jpg', sha256: A }]);
    expect(notUnderstood).toBe(1);
  });
});

describe('copies', () => {
  const photo = { sha256: A, imageSha256: B };
  const file = (driveId: string, more: Partial<FileOnDrive> = {}): FileOnDrive => ({ driveId, path: 'x.jpg', state: 'present', sha256: A, imageSha256: null, provenAt: 1, ...more });

  it('two files on one drive are one copy', () => {
    expect(provenCount(copiesOf([file('one'), file('one', { path: 'y.jpg' })], photo))).toBe(1);
  });

  it('count only where every byte was read and was right', () => {
    const copies = copiesOf([file('one'), file('two', { provenAt: null, sha256: null }), file('three', { sha256: B }), file('four', { state: 'missing' }), file('five', { sha256: B, imageSha256: B })], photo);
    expect(copies.map(({ driveId, standing }) => [driveId, standing])).toEqual([['one', 'proven'], ['five', 'proven'], ['two', 'not-yet-read'], ['three', 'damaged'], ['four', 'missing']]);
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
