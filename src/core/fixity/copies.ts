// How many proven copies a photo has, and where. A copy is proven when all its bytes were read on its drive, and are the
// photo's own, or those of its picture are, where metadata were written into the file since. Two files on one drive are one copy: they share the drive's fate.

/** `unreadable`: there, but no photo that could be read. */
export type FileState = 'present' | 'missing' | 'damaged' | 'unreadable';

export interface FileOnDrive {
  driveId: string;
  path: string;
  state: FileState;
  sha256: string | null;
  /** SHA-256 of the picture alone. */
  imageSha256: string | null;
  /** When all bytes were last read and found right; milliseconds since 1970, UTC. */
  provenAt: number | null;
}

export type CopyStanding = 'proven' | 'not-yet-read' | 'damaged' | 'missing';

export interface CopyOnDrive {
  driveId: string;
  path: string;
  standing: CopyStanding;
  provenAt: number | null;
}

const RANK: Record<CopyStanding, number> = { proven: 0, 'not-yet-read': 1, damaged: 2, missing: 3 };

/** What the files of a photo are held against. */
export type Digests = Pick<FileOnDrive, 'sha256' | 'imageSha256'>;

const samePicture = (a: Digests, b: Digests): boolean => a.sha256 === b.sha256 || (a.imageSha256 !== null && a.imageSha256 === b.imageSha256);

function standingOf(file: FileOnDrive, photo: Digests): CopyStanding {
  if (file.state === 'missing') return 'missing';
  if (file.state === 'damaged' || file.state === 'unreadable') return 'damaged';
  if (file.provenAt === null || file.sha256 === null) return 'not-yet-read';
  return samePicture(file, photo) ? 'proven' : 'damaged';
}

/** One entry a drive, its best file; proven ones first. */
export function copiesOf(files: FileOnDrive[], photo: Digests): CopyOnDrive[] {
  const best = new Map<string, CopyOnDrive>();
  for (const file of files) {
    const copy = { driveId: file.driveId, path: file.path, standing: standingOf(file, photo), provenAt: file.provenAt };
    const other = best.get(file.driveId);
    if (!other || RANK[copy.standing] < RANK[other.standing]) best.set(file.driveId, copy);
  }
  return [...best.values()].sort((a, b) => RANK[a.standing] - RANK[b.standing]);
}

export const provenCount = (copies: CopyOnDrive[]): number => copies.filter(({ standing }) => standing === 'proven').length;
