// A file on disk as a byte source.

import { type FileHandle, open } from 'node:fs/promises';
import type { ByteSource } from '../src/core/bytes/source';

export interface NodeSource extends ByteSource {
  close(): Promise<void>;
}

export async function fileSource(path: string): Promise<NodeSource> {
  const handle: FileHandle = await open(path);
  const { size } = await handle.stat();
  return {
    size,
    read: async (offset, lengthBytes) => {
      const wanted = Math.max(0, Math.min(lengthBytes, size - offset));
      if (wanted === 0) return new Uint8Array();
      const bytes = new Uint8Array(wanted); // not a Buffer, whose views cost several times as much
      const { bytesRead } = await handle.read(bytes, 0, wanted, offset);
      return bytes.subarray(0, bytesRead);
    },
    close: () => handle.close(),
  };
}
