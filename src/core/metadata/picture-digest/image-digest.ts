// The two digests of a file: of all its bytes, and of its picture alone, so that a photo is known again when programs
// have changed its metadata.

import { toHex } from '../../bytes/hex';
import { joinBytes } from '../../bytes/join';
import { type ByteSource, memorySource, withPages } from '../../bytes/source';
import { sniffFormat } from '../../formats/containers/formats';
import { DIGEST_CHUNK_BYTES, type DigestOf, type RunningDigest } from '../../bytes/digest';
import type { Range } from './range';
import { imageRanges } from './ranges';

export interface FileDigests {
  /** SHA-256 of all bytes, lower-case hexadecimal. */
  file: string;
  /** SHA-256 of the picture's bytes; `null` where the file does not show which they are. */
  image: string | null;
}

export type NewDigest = () => Promise<RunningDigest>;

/**
 * Both, in one reading of the file (the picture once more where its parts lie out of order). Rejects when it ends
 * early.
 */
export async function digestBoth(
  source: ByteSource,
  name: string,
  newDigest: NewDigest,
  onBytes: (bytes: number) => void,
): Promise<FileDigests> {
  const ranges = await rangesOf(source, name);
  const ordered = isAscending(ranges);
  const file = await newDigest();
  const image = await newDigest();
  let at = 0;
  let next = 0;
  while (at < source.size) {
    const chunk = await source.read(at, DIGEST_CHUNK_BYTES);
    if (chunk.length === 0) throw new Error(`ends at ${at} of ${source.size} bytes`);
    file.update(chunk);
    const end = at + chunk.length;
    for (let range = ranges[next]; ordered && range && range.offset < end; range = ranges[next]) {
      image.update(
        chunk.subarray(Math.max(0, range.offset - at), Math.min(chunk.length, range.offset + range.length - at)),
      );
      if (range.offset + range.length > end) break;
      next += 1;
    }
    at = end;
    onBytes(chunk.length);
  }
  return {
    file: file.hex(),
    image: ranges.length === 0 ? null : ordered ? image.hex() : await digestRanges(source, ranges, newDigest),
  };
}

/**
 * Both of a file that is in memory, by a digest that takes it whole: a platform's own is twice as quick as one in steps
 * (measured). A file that claims more picture than it has bytes is digested in steps, so that it costs time and no
 * memory.
 */
export async function digestBothOf(
  bytes: Uint8Array,
  name: string,
  sha256: DigestOf,
  newDigest: NewDigest,
): Promise<FileDigests> {
  const source = memorySource(bytes);
  const ranges = await rangesOf(source, name);
  if (ranges.reduce((sum, { length }) => sum + length, 0) > bytes.length)
    return digestBoth(source, name, newDigest, () => {});
  const image =
    ranges.length === 0
      ? null
      : toHex(await sha256(joinBytes(ranges.map(({ offset, length }) => bytes.subarray(offset, offset + length)))));
  return { file: toHex(await sha256(bytes)), image };
}

/** The picture's digest alone. */
export async function digestImage(source: ByteSource, name: string, newDigest: NewDigest): Promise<string | null> {
  const ranges = await rangesOf(source, name);
  return ranges.length === 0 ? null : digestRanges(source, ranges, newDigest);
}

const rangesOf = async (source: ByteSource, name: string): Promise<Range[]> =>
  imageRanges(withPages(source, 32 * 1024, 8), sniffFormat(await source.read(0, 32), name));

const isAscending = (ranges: readonly Range[]): boolean =>
  ranges.every(
    ({ offset }, index) => index === 0 || offset >= (ranges[index - 1]?.offset ?? 0) + (ranges[index - 1]?.length ?? 0),
  );

async function digestRanges(source: ByteSource, ranges: readonly Range[], newDigest: NewDigest): Promise<string> {
  const digest = await newDigest();
  for (const { offset, length } of ranges) {
    for (let at = offset; at < offset + length;) {
      const chunk = await source.read(at, Math.min(DIGEST_CHUNK_BYTES, offset + length - at));
      if (chunk.length === 0) throw new Error(`ends at ${at} of ${source.size} bytes`);
      digest.update(chunk);
      at += chunk.length;
    }
  }
  return digest.hex();
}
