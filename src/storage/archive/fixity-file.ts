// What is known of every file of a drive, kept on that drive: `manifest-sha256.txt` with the digest each file should
// have, and `fixity.jsonl` with what the manifest cannot say. Both are merged, never replaced: a line this catalog does
// not know stays.

import { z } from 'zod';
import type { Claim } from '@/core/fixity/found-file';
import { type ManifestLine, manifestLine, parseManifestLine } from '@/core/fixity/manifest';
import { ARCHIVE_FOLDER, type Drive, type LazyBytes } from '../drives/drive';
import { bytesOf, openIfThere } from '../drives/safe-write';
import { batchesOf, mergeIntoFile } from './line-files';
import { ArchiveFileError, readJson } from './read-json';

export const MANIFEST_FILE = `${ARCHIVE_FOLDER}/manifest-sha256.txt`;
export const FIXITY_FILE = `${ARCHIVE_FOLDER}/fixity.jsonl`;
/** What stood in its place before; read, and written no more. */
const PROOFS_FILE = `${ARCHIVE_FOLDER}/proofs.json`;

const digest = z.string().regex(/^[0-9a-f]{64}$/);

const fixityLine = z.object({
  path: z.string().min(1).max(5000),
  bytes: z.number().min(0),
  modified: z.number(),
  sha256: digest,
  image: digest.optional(),
  verified: z.number().optional(),
  state: z.enum(['damaged', 'missing', 'doubt']).optional(),
  found: digest.optional(),
  print: z.string().max(64).optional(),
  photo: z.string().max(64).optional(),
  added: z.number().optional(),
});

/** One file: its measure, length and time when that was last looked at, and what was found since. */
export type FixityLine = z.infer<typeof fixityLine>;

const head = z.object({ format: z.literal('wembo-fixity'), version: z.number(), drive: z.string().max(64) });

const proofsFile = z.object({
  format: z.literal('wembo-proofs'),
  version: z.literal(1),
  proofs: z.array(
    z.object({
      path: z.string().max(5000),
      bytes: z.number(),
      modified: z.number(),
      sha256: digest,
      imageSha256: digest.optional(),
    }),
  ),
});

const parseJsonLine = (text: string): FixityLine | null => fixityLine.safeParse(jsonOr(text, null)).data ?? null;

function jsonOr(text: string, otherwise: null): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return otherwise;
  }
}

/** Whose file of lines it is. Throws where it is from a later version: then it is left as it is. */
async function readHead(file: LazyBytes): Promise<string | null> {
  const [first = ''] = new TextDecoder().decode(await bytesOf(file.slice(0, 1024))).split('\n', 1);
  const read = head.safeParse(jsonOr(first, null));
  if (!read.success) return null;
  if (read.data.version > 1)
    throw new ArchiveFileError(FIXITY_FILE, `has version ${read.data.version}; this Wembo reads version 1`, 'newer');
  return read.data.drive;
}

/** What the drive's records say of one path, before it was looked at. */
export interface OnRecord extends Omit<Claim, 'asRecorded'> {
  bytes: number | null;
  modified: number | null;
  fingerprint: string | null;
  /** When the photo came into the catalog that recorded it. */
  addedAt: number | null;
}

export interface DriveRecords {
  byPath: Map<string, OnRecord>;
  /** Photos that files are of whose bytes are no longer what the photo began with, by all their bytes. */
  photoBySha256: Map<string, string>;
}

/**
 * Reads what the drive says of its files. A verification counts only where these records are this drive's own: those
 * that came along when a drive was cloned are claims. Throws `ArchiveFileError` where a file is from a later version.
 */
export async function readRecords(drive: Drive, driveId: string): Promise<DriveRecords> {
  const byPath = new Map<string, OnRecord>();
  const photoBySha256 = new Map<string, string>();
  for await (const { path, bytes, modified, sha256, image, verified, state, photo, print, added } of fixityLines(
    drive,
    driveId,
  )) {
    byPath.set(path, {
      measure: { sha256, imageSha256: image ?? null },
      also: null,
      bytes,
      modified,
      verifiedAt: state ? null : (verified ?? null),
      state: state === 'damaged' ? 'damaged' : 'sound',
      photoId: photo ?? null,
      fingerprint: print ?? null,
      addedAt: added ?? null,
    });
    if (photo !== undefined) photoBySha256.set(sha256, photo);
  }
  const manifest = await openIfThere(drive, MANIFEST_FILE);
  for await (const batch of manifest ? batchesOf(manifest, parseManifestLine) : []) {
    for (const { path, sha256 } of batch) {
      const known = byPath.get(path);
      if (known?.measure.sha256 === sha256) continue;
      byPath.set(path, {
        measure: { sha256, imageSha256: known?.measure.imageSha256 ?? null },
        also: known?.measure.sha256 ?? null,
        bytes: null,
        modified: null,
        verifiedAt: null,
        state: 'sound',
        photoId: known?.photoId ?? null,
        fingerprint: null,
        addedAt: known?.addedAt ?? null,
      });
    }
  }
  return { byPath, photoBySha256 };
}

async function* fixityLines(drive: Drive, driveId: string): AsyncGenerator<FixityLine> {
  const file = await openIfThere(drive, FIXITY_FILE);
  if (file) {
    const isOwn = (await readHead(file)) === driveId;
    for await (const batch of batchesOf(file, parseJsonLine))
      for (const { verified, ...line } of batch) yield isOwn && verified !== undefined ? { ...line, verified } : line;
    return;
  }
  for (const { path, bytes, modified, sha256, imageSha256 } of (await readJson(drive, PROOFS_FILE, proofsFile))
    ?.proofs ?? [])
    yield { path, bytes, modified, sha256, ...(imageSha256 && { image: imageSha256 }) };
}

/**
 * Brings both files up to date with what the catalog knows of the drive: `known` gives it in the order of paths, with
 * an empty digest where a file was never read.
 */
export async function mergeFixity(
  drive: Drive,
  driveId: string,
  known: () => AsyncIterable<FixityLine[]>,
  isRetired: (path: string) => boolean,
  stillHolds: () => Promise<boolean>,
): Promise<void> {
  const there = await openIfThere(drive, FIXITY_FILE);
  if (there) await readHead(there);
  const isWritten = ({ sha256 }: ManifestLine) => sha256 !== '';
  // what is in doubt is not settled by writing over what the drive says
  const choose = <T extends ManifestLine>(ours: T, theirs: T): T =>
    !isWritten(ours) || ('state' in ours && ours.state === 'doubt') ? theirs : ours;
  // whichever catalog saw it first says since when it is there
  const earlier = (ours: FixityLine, theirs: FixityLine): FixityLine =>
    theirs.added !== undefined && (ours.added ?? Infinity) > theirs.added
      ? { ...choose(ours, theirs), added: theirs.added }
      : choose(ours, theirs);
  const own = { known: known(), choose, isRetired, isWritten, stillHolds };
  await mergeIntoFile<ManifestLine>(
    drive,
    { path: MANIFEST_FILE, head: '', parse: parseManifestLine, write: manifestLine },
    own,
  );
  const first = `${JSON.stringify({ format: 'wembo-fixity', version: 1, drive: driveId })}\n`;
  await mergeIntoFile<FixityLine>(
    drive,
    { path: FIXITY_FILE, head: first, parse: parseJsonLine, write: (line) => `${JSON.stringify(line)}\n` },
    { ...own, choose: earlier, known: known() },
  );
}
