// A place bytes come from: a file on a drive, a block in memory. Reads past the end or before the beginning come back
// shorter, never fail.

export interface ByteSource {
  /** Length of the whole in bytes, as the place states it. The bytes may still end earlier. */
  readonly size: number;
  /** Reads up to `lengthBytes` from `offset`; shorter at the end. Rejects only when the place itself fails. */
  read(offset: number, lengthBytes: number): Promise<Uint8Array>;
}

export function memorySource(bytes: Uint8Array): ByteSource {
  return {
    size: bytes.length,
    read: async (offset, lengthBytes) =>
      offset < 0
        ? new Uint8Array()
        : bytes.subarray(Math.min(offset, bytes.length), Math.min(offset + lengthBytes, bytes.length)),
  };
}

/** A range of another source, as a source of its own. */
export function sectionOf(source: ByteSource, start: number, size: number): ByteSource {
  const bounded = Math.max(0, Math.min(size, source.size - start));
  return {
    size: bounded,
    read: async (offset, lengthBytes) =>
      offset < 0 || offset >= bounded
        ? new Uint8Array()
        : source.read(start + offset, Math.min(lengthBytes, bounded - offset)),
  };
}

/** Keeps the first `headBytes` in memory, so that the many small reads of a header cost one read of the file. */
export async function withHead(source: ByteSource, headBytes: number): Promise<ByteSource> {
  const head = await source.read(0, headBytes);
  if (head.length >= source.size) return memorySource(head);
  return {
    size: source.size,
    read: async (offset, lengthBytes) =>
      offset + lengthBytes <= head.length
        ? head.subarray(offset, offset + lengthBytes)
        : source.read(offset, lengthBytes),
  };
}

/**
 * Reads in pages of `pageBytes` and keeps the last ones, for structures far from the head of a file (the directories
 * of a raw, the boxes at the end of a video). Larger reads pass through.
 */
export function withPages(source: ByteSource, pageBytes: number, pagesKept: number): ByteSource {
  const pages = new Map<number, Promise<Uint8Array>>();
  const page = (index: number): Promise<Uint8Array> => {
    const known = pages.get(index);
    if (known) return known;
    const reading = source.read(index * pageBytes, pageBytes);
    pages.set(index, reading);
    reading.catch(() => pages.delete(index));
    const oldest = pages.keys().next();
    if (pages.size > pagesKept && !oldest.done) pages.delete(oldest.value);
    return reading;
  };
  return {
    size: source.size,
    read: async (offset, lengthBytes) => {
      if (offset < 0) return new Uint8Array();
      const first = Math.floor(offset / pageBytes);
      if (lengthBytes > pageBytes || Math.floor((offset + lengthBytes - 1) / pageBytes) !== first)
        return source.read(offset, lengthBytes);
      return (await page(first)).subarray(offset - first * pageBytes, offset - first * pageBytes + lengthBytes);
    },
  };
}
