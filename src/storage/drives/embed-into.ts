// Fields into an image file on a drive: the plan is verified by the core, written as a part, read back, and takes the old
// file's place only while that is still what was read.

import type { FieldValues } from '@/core/fields/registry';
import { type EmbedPlan, planEmbed } from '@/core/embed/embed';
import type { Part } from '@/core/embed/parts';
import type { FileDigests, NewDigest } from '@/core/digest/image-digest';
import { digestBoth } from '@/core/digest/image-digest';
import { DIGEST_CHUNK_BYTES, fingerprint } from '@/core/fixity/digest';
import { readPhoto } from '@/core/reading/reading';
import { type Drive, DriveError } from './drive';
import { blobSource, bytesOf } from './safe-write';
import { sha256 } from './sha256';

export interface WrittenFile {
  sizeBytes: number;
  modifiedMs: number;
  fingerprint: string;
  digests: FileDigests;
  /** What the file says now. */
  embedded: FieldValues;
}

export type EmbedResult = { state: 'written'; file: WrittenFile } | Exclude<EmbedPlan, { state: 'planned' }>;

export async function embedInto(drive: Drive, path: string, fields: FieldValues, newDigest: NewDigest): Promise<EmbedResult> {
  const old = await drive.open(path);
  const plan = await planEmbed(blobSource(old), path, fields, newDigest);
  if (plan.state !== 'planned') return plan;
  try {
    const written = await newDigest();
    await drive.createPart(path, piecesOf(old, plan.parts, (bytes) => written.update(bytes)));
    const digests = await digestBoth(blobSource(await drive.openPart(path)), path, newDigest, () => undefined);
    if (digests.file !== written.hex()) throw new DriveError('read-back-differs', path);
    const now = await drive.open(path);
    if (now.lastModified !== old.lastModified || now.size !== old.size) throw new DriveError('changed-meanwhile', path);
    await drive.finishPart(path);
    const file = await drive.open(path);
    const source = blobSource(file);
    const { fields: embedded } = await readPhoto(source, path);
    return { state: 'written', file: { sizeBytes: file.size, modifiedMs: file.lastModified, fingerprint: await fingerprint(source, sha256), digests, embedded } };
  } catch (error) {
    await drive.removePart(path).catch(() => undefined);
    throw error;
  }
}

async function* piecesOf(old: Blob, parts: readonly Part[], onBytes: (bytes: Uint8Array) => void): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  for (const part of parts) {
    const length = part.length;
    for (let at = 0; at < length; at += DIGEST_CHUNK_BYTES) {
      const end = Math.min(length, at + DIGEST_CHUNK_BYTES);
      const piece = part instanceof Uint8Array ? part.subarray(at, end) : await bytesOf(old.slice(part.from + at, part.from + end));
      onBytes(piece);
      yield piece;
    }
  }
}
