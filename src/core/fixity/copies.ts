// How many verified copies a photo has, and where. A copy is verified when all its bytes were read on its drive after
// it was last changed and matched its measure, and nothing found since speaks against it. Two files on one drive are
// one copy: they share the drive's fate.

/**
 * `unreadable`: there, but no photo that could be read. `damaged`: its bytes are not what was first measured, until it
 * is mended or the person settles it. `doubt`: two records give it different measures, and nobody has settled which is
 * right.
 */
export type FileState = 'present' | 'missing' | 'damaged' | 'doubt' | 'unreadable';

/** States of a file that ask for something to be done. */
export const FILE_PROBLEMS = ['damaged', 'missing', 'doubt'] as const;
/**
 * What a file of a photo may be: a problem; `unread` in full, or not since it was last changed; or there `twice`, byte
 * for byte, on one drive.
 */
export const FILE_MARKS = [...FILE_PROBLEMS, 'unread', 'twice'] as const;
export type FileMark = (typeof FILE_MARKS)[number];

export interface FileOnDrive {
  driveId: string;
  path: string;
  state: FileState;
  /** The measure: the first digest that was ever recorded of all its bytes. */
  sha256: string | null;
  /** The measure of the picture alone. */
  imageSha256: string | null;
  /** When all bytes were last read and matched; milliseconds since 1970, UTC. */
  verifiedAt: number | null;
}

export type CopyStatus = 'verified' | 'not-yet-read' | 'in-doubt' | 'damaged' | 'missing';

export interface CopyOnDrive {
  driveId: string;
  path: string;
  status: CopyStatus;
  verifiedAt: number | null;
}

const RANK: Record<CopyStatus, number> = { verified: 0, 'not-yet-read': 1, 'in-doubt': 2, damaged: 3, missing: 4 };

/** What the files of a photo are held against. */
export type Digests = Pick<FileOnDrive, 'sha256' | 'imageSha256'>;

/** Equal bytes, or equal pictures. */
export const samePicture = (a: Digests, b: Digests): boolean =>
  a.sha256 === b.sha256 || (a.imageSha256 !== null && a.imageSha256 === b.imageSha256);

export function copyStatusOf(file: FileOnDrive, photo: Digests): CopyStatus {
  if (file.state === 'missing') return 'missing';
  if (file.state === 'damaged' || file.state === 'unreadable') return 'damaged';
  if (file.state === 'doubt') return 'in-doubt';
  if (file.verifiedAt === null || file.sha256 === null) return 'not-yet-read';
  return samePicture(file, photo) ? 'verified' : 'in-doubt';
}

/** One entry a drive, its best file; verified ones first. */
export function copiesOf(files: readonly FileOnDrive[], photo: Digests): CopyOnDrive[] {
  const best = new Map<string, CopyOnDrive>();
  for (const file of files) {
    const copy = {
      driveId: file.driveId,
      path: file.path,
      status: copyStatusOf(file, photo),
      verifiedAt: file.verifiedAt,
    };
    const other = best.get(file.driveId);
    if (!other || RANK[copy.status] < RANK[other.status]) best.set(file.driveId, copy);
  }
  return [...best.values()].sort((a, b) => RANK[a.status] - RANK[b.status]);
}

export const verifiedCount = (copies: CopyOnDrive[]): number =>
  copies.filter(({ status }) => status === 'verified').length;
