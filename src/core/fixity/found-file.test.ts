// The decisions of a scan, as a table.

import { describe, expect, it } from 'vitest';
import {
  type Claim,
  type FoundDecision,
  type KnownFile,
  decideFound,
  mustRead,
  needsProof,
  photoFor,
} from './found-file';

const [A, B, C] = ['a', 'b', 'c'].map((letter) => letter.repeat(64)) as [string, string, string];
/** Digests of the picture, in capitals to be told apart. */
const [P, Q] = ['d', 'e'].map((letter) => letter.repeat(64)) as [string, string];

const measure = { sha256: A, imageSha256: P };
const known = (more: Partial<KnownFile> = {}): KnownFile => ({ measure, asRecorded: false, isSettled: true, ...more });
const claim = (more: Partial<Claim> = {}): Claim => ({
  measure,
  also: null,
  asRecorded: true,
  verifiedAt: 7,
  state: 'sound',
  photoId: null,
  ...more,
});
const read = (file: string, image: string | null = P, isPhoto = true) => ({ digests: { file, image }, isPhoto });
const head = (isPhoto = true) => ({ digests: null, isPhoto });

describe('how much is read', () => {
  it.each([
    ['as recorded', known({ asRecorded: true }), null, 'nothing'],
    ['as recorded, but it was missing or unreadable', known({ asRecorded: true, isSettled: false }), null, 'all'],
    ['changed since', known(), null, 'all'],
    ['changed, and never read in full', known({ measure: null }), null, 'head'],
    ['as recorded, never read in full', known({ measure: null, asRecorded: true }), null, 'nothing'],
    ['as the drive’s records say', null, claim(), 'head'],
    ['otherwise than they say', null, claim({ asRecorded: false }), 'all'],
    ['nothing speaks of it', null, null, 'head'],
  ] as const)('%s', (_, one, other, expected) => {
    expect(mustRead(one, other)).toBe(expected);
  });

  it('all of it where only its bytes can tell which photo it is', () => {
    const kin = [{ photoId: 'f', sha256: A, imageSha256: P }];
    expect([
      needsProof([], 0, null),
      needsProof(kin, 0, null),
      needsProof([], 1, null),
      needsProof(kin, 0, claim()),
      needsProof(kin, 0, claim({ asRecorded: false })),
    ]).toEqual([false, true, true, false, true]);
  });
});

describe('what a file is', () => {
  const claimed = (sha256: string, imageSha256: string | null, verifiedAt: number | 'now' | null): FoundDecision => ({
    kind: 'claimed',
    measure: { sha256, imageSha256 },
    verifiedAt,
  });
  it.each<[string, Parameters<typeof decideFound>, FoundDecision]>([
    ['known, its bytes are its measure', [known(), null, [], read(A)], { kind: 'as-it-was' }],
    ['known, its picture is', [known(), null, [], read(B)], { kind: 'described' }],
    ['known, neither', [known(), null, [], read(B, Q)], { kind: 'damaged', measure }],
    [
      'known, its format has no picture’s digest',
      [known({ measure: { sha256: A, imageSha256: null } }), null, [], read(B, null)],
      { kind: 'damaged', measure: { sha256: A, imageSha256: null } },
    ],
    ['known, and no photo any more', [known(), null, [], read(B, P, false)], { kind: 'damaged', measure }],
    ['known, never measured', [known({ measure: null }), null, [], head()], { kind: 'new' }],
    ['claimed as verified, as recorded', [null, claim(), [], head()], claimed(A, P, 7)],
    [
      'claimed, as recorded, never verified there',
      [null, claim({ verifiedAt: null }), [], head()],
      claimed(A, P, null),
    ],
    ['claimed as damaged, as recorded', [null, claim({ state: 'damaged' }), [], head()], { kind: 'damaged', measure }],
    ['claimed, and no photo', [null, claim(), [], head(false)], { kind: 'damaged', measure }],
    [
      'claimed as damaged, and mended since',
      [null, claim({ state: 'damaged', asRecorded: false }), [], read(A)],
      claimed(A, P, 'now'),
    ],
    ['claimed, and other bytes', [null, claim({ asRecorded: false }), [], read(B, Q)], { kind: 'damaged', measure }],
    ['claimed, and described since', [null, claim({ asRecorded: false }), [], read(B)], claimed(B, P, 'now')],
    [
      'claimed, written while the records were',
      [null, claim({ asRecorded: false, also: C }), [], read(C, Q)],
      claimed(C, Q, 'now'),
    ],
    [
      'new, its bytes are those of a file that is gone',
      [null, null, [{ sha256: B, imageSha256: null }, measure], read(A)],
      { kind: 'moved', from: 1 },
    ],
    ['new, only its fingerprint is', [null, null, [{ sha256: B, imageSha256: null }, null], read(A)], { kind: 'new' }],
    ['new', [null, null, [], head()], { kind: 'new' }],
    ['new, and no photo', [null, null, [], head(false)], { kind: 'unreadable' }],
  ])('%s', (_, order, expected) => {
    expect(decideFound(...order)).toEqual(expected);
  });
});

describe('which photo it is of', () => {
  const kin = [
    { photoId: 'f', sha256: B, imageSha256: Q },
    { photoId: 'g', sha256: A, imageSha256: null },
  ];
  const id = (...[of, among, recorded, taken]: [typeof measure | null, typeof kin, string | null, boolean]) =>
    photoFor('f', of, among, recorded, () => taken);
  it('is told by equal bytes, by an equal picture, by the drive’s records; else it is one of its own', () => {
    expect(id(measure, kin, null, true)).toBe('g');
    expect(id({ sha256: C, imageSha256: Q }, kin, null, true)).toBe('f');
    expect(id({ sha256: C, imageSha256: P }, [], 'h', false)).toBe('h');
    expect(id({ sha256: C, imageSha256: P }, [], null, false)).toBe('f');
    expect(id({ sha256: C, imageSha256: P }, kin, null, true)).toBe(`f.${C.slice(0, 16)}`);
    // records that call it a photo it is not, by proof, are not believed
    expect(id({ sha256: C, imageSha256: P }, kin, 'f', true)).toBe(`f.${C.slice(0, 16)}`);
    expect(id(null, [], null, false)).toBe('f');
  });
});
