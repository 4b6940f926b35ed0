// A place bytes come from: a file on a drive, a block in memory. Reads past the end come back shorter, never fail.

export interface ByteSource {
  /** Length of the whole in bytes, as the place states it. The bytes may still end earlier. */
  readonly size: number;
  /** Reads up to `lengthBytes` from `offset`; shorter at the end. Rejects only when the place itself fails. */
  read(offset: number, lengthBytes: number): Promise<Uint8Array>;
}

export function memorySource(bytes: Uint8Array): ByteSource {
  return {
    size: bytes.length,
    read: async (offset, lengthBytes) => bytes.subarray(Math.min(offset, bytes.length), Math.min(offset + lengthBytes, bytes.length)),
  };
}

/** Keeps the first `headBytes` in memory, so that the many small reads of a header cost one read of the file. */
export async function withHead(source: ByteSource, headBytes: number): Promise<ByteSource> {
  const head = await source.read(0, headBytes);
  return {
    size: source.size,
    read: async (offset, lengthBytes) =>
      offset + lengthBytes <= head.length ? head.subarray(offset, offset + lengthBytes) : source.read(offset, lengthBytes),
  };
}
