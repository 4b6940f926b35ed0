// Fields into an image file on a drive: the plan is verified by the core, written as a part, read back, and takes the
// old file's place only while that is still what was read.

import type { FieldValues } from '@/core/fields/registry';
import { type EmbedPlan, planEmbed } from '@/core/metadata/embed/embed';
import type { EmbedPart } from '@/core/metadata/embed/parts';
import type { FileDigests, NewDigest } from '@/core/metadata/picture-digest/image-digest';
import { digestBoth } from '@/core/metadata/picture-digest/image-digest';
import { DIGEST_CHUNK_BYTES, fingerprint } from '@/core/bytes/digest';
import type { Measure } from '@/core/fixity/found-file';
import { readPhoto } from '@/core/metadata/reading/reading';
import { type Drive, DriveError, type LazyBytes } from '../drives/drive';
import { blobSource, bytesOf, withPart } from '../drives/safe-write';
import { sha256 } from '../drives/sha256';

export interface WrittenFile {
  sizeBytes: number;
  modifiedMs: number;
  fingerprint: string;
  digests: FileDigests;
  /** What the file says now. */
  embedded: FieldValues;
}

export type EmbedResult = { state: 'written'; file: WrittenFile } | Exclude<EmbedPlan, { state: 'planned' }>;

/**
 * @param expected the measure of the file; `null` where it was never read. A file that is not what was measured is not
 * written into: its picture would be taken for the right one. @throws DriveError `source-damaged`, or
 * `changed-meanwhile` where the picture is right and all else is not as read
 */
export async function embedInto(
  drive: Drive,
  path: string,
  fields: FieldValues,
  expected: Measure | null,
  newDigest: NewDigest,
): Promise<EmbedResult> {
  const old = await drive.open(path);
  const plan = await planEmbed(blobSource(old), path, fields, newDigest);
  if (plan.state !== 'planned') return plan;
  const before = await digestBoth(blobSource(old), path, newDigest, () => undefined);
  if (expected && before.file !== expected.sha256)
    throw new DriveError(
      before.image !== null && before.image === expected.imageSha256 ? 'changed-meanwhile' : 'source-damaged',
      path,
    );
  const written = await newDigest();
  const part = await drive.createPart(
    path,
    piecesOf(old, plan.parts, (bytes) => written.update(bytes)),
  );
  return withPart(part, async () => {
    const digests = await digestBoth(blobSource(await part.open()), path, newDigest, () => undefined);
    if (digests.file !== written.hex() || digests.image !== before.image)
      throw new DriveError('read-back-differs', path);
    return drive.alone(async () => {
      const now = await drive.open(path);
      if (now.lastModified !== old.lastModified || now.size !== old.size)
        throw new DriveError('changed-meanwhile', path);
      await part.finish(path, 'old');
      const file = await drive.open(path);
      const source = blobSource(file);
      const { fields: embedded } = await readPhoto(source, path);
      return {
        state: 'written',
        file: {
          sizeBytes: file.size,
          modifiedMs: file.lastModified,
          fingerprint: await fingerprint(source, sha256),
          digests,
          embedded,
        },
      };
    });
  });
}

async function* piecesOf(
  old: LazyBytes,
  parts: readonly EmbedPart[],
  onBytes: (bytes: Uint8Array) => void,
): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  for (const part of parts) {
    const length = part.length;
    for (let at = 0; at < length; at += DIGEST_CHUNK_BYTES) {
      const end = Math.min(length, at + DIGEST_CHUNK_BYTES);
      const piece =
        part instanceof Uint8Array ? part.subarray(at, end) : await bytesOf(old.slice(part.from + at, part.from + end));
      onBytes(piece);
      yield piece;
    }
  }
}
