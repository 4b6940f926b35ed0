// How the archive lies on its drives: which files have second copies, what went wrong with some, when they were checked.

import { createHash } from 'node:crypto';
import { memorySource } from '@/core/bytes/source';
import { digestBoth } from '@/core/digest/image-digest';
import { writeManifest } from '@/core/fixity/manifest';
import { isPhotoName } from '@/core/containers/formats';
import type { MadeFile } from './frames';
import { tracks } from './tracks';

export type LaidDrive = 'attic' | 'harbour' | 'studio' | 'card' | 'copy' | 'offsite';

/** In the order they are connected. */
export const DRIVES: { key: LaidDrive; id: string; name: string; takenOut: boolean; checkedAt: string | null }[] = [
  { key: 'studio', id: 'demo-studio-0001', name: 'Studio', takenOut: false, checkedAt: null },
  { key: 'harbour', id: 'demo-harbour-002', name: 'Harbours 2012–2019', takenOut: false, checkedAt: '2026-03-08T09:30:00Z' },
  { key: 'attic', id: 'demo-attic-00003', name: 'Attic 2004–2011', takenOut: false, checkedAt: '2025-01-19T14:00:00Z' },
  { key: 'copy', id: 'demo-copy-000004', name: 'Copy, Klaksvík', takenOut: false, checkedAt: '2026-03-08T11:10:00Z' },
  { key: 'card', id: 'demo-card-000005', name: 'Card HS-7', takenOut: false, checkedAt: null },
  { key: 'offsite', id: 'demo-offsite-006', name: 'Off-site 2023', takenOut: true, checkedAt: '2023-11-12T13:20:00Z' },
];

/** What is wrong in the archive, on purpose. Paths from the drive's root. */
export const PLANTED = {
  /** Never finished writing, as old cards leave them. */
  empty: { drive: 'attic', path: '07-2004 Klaksvik/FJC_0216.JPG' },
  /** One bit in a hundred thousand bytes turned over. */
  damaged: { drive: 'copy', path: '2019/2019-09-28 Rust/NK4_3008.jpg' },
  /** In the manifest and not there. */
  missing: ['2012/2012-11-03 Sørvágur/NK2_0902.jpg', '2014/2014-01-25 Haldarsvík/NK2_3021.jpg', '2020/2020-10-09 Kallur/NK4_4413.jpg'],
  /** Put elsewhere by hand. */
  moved: { '2018/2018-06-23 Kallur/NK4_0702.jpg': 'For the calendar/NK4_0702.jpg', '2022/2022-07-02 Tjørnuvík/R1A0402.jpg': 'For the calendar/R1A0402.jpg' } as Record<string, string>,
  /** Sidecars whose photo is gone. */
  orphans: [{ drive: 'harbour', path: '2015/2015-03-20 Eclipse/NK2_4299.xmp' }, { drive: 'copy', path: '2012/2012-11-03 Sørvágur/NK2_0902.xmp' }],
  /** Taken in before the card was full: frames of the card under the names they got. */
  takenIn: { folder: '2026/2026-08-29 Gjógv', frames: ['NK4_9962.jpg', 'NK4_9963.jpg', 'NK4_9964.jpg', 'NK4_9965.jpg'] },
} as const;

/** Folders of the working drive that were not copied yet. */
const NOT_COPIED = ['2026/', '2025/2025-09-20 Gathering/'];
/** Years of the attic that lie off-site as well. */
const OFFSITE = /-(2004|2005|2006|2007)\b/;

export interface LaidFile extends MadeFile {
  drive: LaidDrive;
}

/** Puts what was painted on its drives, with copies, troubles, tracks, and the archive folders of checked drives. */
export async function layOut(painted: readonly LaidFile[]): Promise<LaidFile[]> {
  const files: LaidFile[] = [...painted];
  const of = (drive: LaidDrive) => files.filter((file) => file.drive === drive);
  for (const { drive, path, gpx } of tracks()) files.push({ drive, path, bytes: Buffer.from(gpx) });
  files.push({ drive: PLANTED.empty.drive, path: PLANTED.empty.path, bytes: Buffer.alloc(0) });
  PLANTED.takenIn.frames.forEach((name, index) => {
    const onCard = of('card').find(({ path }) => path.endsWith(name));
    if (onCard) files.push({ ...onCard, drive: 'studio', path: `${PLANTED.takenIn.folder}/2026-08-29 Gjógv ${String(index + 1).padStart(3, '0')}.jpg` });
  });
  const eclipse = of('harbour').find(({ path }) => path.startsWith('2015/2015-03-20 Eclipse/') && path.endsWith('.xmp'));
  if (eclipse) files.push({ ...eclipse, path: PLANTED.orphans[0].path });
  files.push(...[...of('studio'), ...of('harbour')].filter(({ path }) => !NOT_COPIED.some((folder) => path.startsWith(folder))).map((file): LaidFile => ({ ...file, drive: 'copy' })));
  files.push(...of('attic').filter(({ path, bytes }) => OFFSITE.test(path) && bytes.length > 0).map((file): LaidFile => ({ ...file, drive: 'offsite' })));
  const manifests = DRIVES.filter(({ checkedAt }) => checkedAt).map(({ key }): LaidFile => ({ drive: key, path: '_wembo/manifest-sha256.txt', bytes: manifestOf(of(key)) }));
  return [...files.flatMap(withTrouble), ...manifests, { drive: 'studio', path: '_wembo/collections.json', bytes: Buffer.from(collections()) }];
}

function withTrouble(file: LaidFile): LaidFile[] {
  if (file.drive !== 'copy') return [file];
  if ((PLANTED.missing as readonly string[]).includes(file.path)) return [];
  const movedTo = PLANTED.moved[file.path];
  if (movedTo) return [{ ...file, path: movedTo }];
  if (file.path !== PLANTED.damaged.path) return [file];
  const bytes = Buffer.from(file.bytes);
  const at = Math.floor(bytes.length / 2); // not in the parts a fingerprint reads
  bytes[at] = bytes[at]! ^ 0x10;
  return [{ ...file, bytes }];
}

const sha256 = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex');
const manifestOf = (files: LaidFile[]) => Buffer.from(writeManifest(files.filter(({ path, bytes }) => isPhotoName(path) && bytes.length > 0).map(({ path, bytes }) => ({ path, sha256: sha256(bytes) })).sort((a, b) => (a.path < b.path ? -1 : 1))));

/** Digests of a photo on a drive that was checked: what the last check found. Files that went wrong since have none. */
export async function proofOf({ drive, path, bytes }: LaidFile): Promise<{ sha256: string; imageSha256?: string; provenAt: number } | null> {
  const checkedAt = DRIVES.find(({ key }) => key === drive)?.checkedAt;
  if (!checkedAt || !isPhotoName(path) || bytes.length === 0) return null;
  if (drive === PLANTED.damaged.drive && (path === PLANTED.damaged.path || Object.values(PLANTED.moved).includes(path))) return null;
  const newDigest = async () => {
    const hash = createHash('sha256');
    return { update: (part: Uint8Array) => void hash.update(part), hex: () => hash.digest('hex') };
  };
  const digests = await digestBoth(memorySource(bytes), path, newDigest, () => {});
  return { sha256: digests.file, ...(digests.image && { imageSha256: digests.image }), provenAt: Date.parse(checkedAt) };
}

function collections(): string {
  const list = [
    ['Exhibition 2027', 'marker:exhibition'], ['Boats since 2016', 'boat OR ferry OR smack taken:2016..'], ['Four bars and up', 'rating:4..'], ['Only one copy', 'copies:..1'], ['Norðoyar', 'province:Norðoyar'],
    ['Winter light', 'keyword:winter OR keyword:"northern light"'], ['Rejected, to look at again', 'rating:..-1'], ['Scans', 'keyword:"black and white"'],
  ].map(([name, scope], index) => ({ id: `demo-collection-${index + 1}`, name, scope, updatedAt: Date.UTC(2026, 2, 8 + index), deleted: false }));
  return `${JSON.stringify({ format: 'wembo-collections', version: 1, collections: list }, null, 1)}\n`;
}
