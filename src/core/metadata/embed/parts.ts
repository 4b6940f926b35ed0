// A new file in parts: ranges of the old one, and bytes of our own. So a large file is written without being held in
// memory, and a browser composes it without reading it.

import { joinBytes } from '../../bytes/join';
import type { ByteSource } from '../../bytes/source';

export type EmbedPart = Uint8Array<ArrayBuffer> | { from: number; length: number };

export const partLength = (part: EmbedPart): number => part.length;

/** The parts as a source, without copying them. */
export function sourceOfParts(old: ByteSource, parts: readonly EmbedPart[]): ByteSource {
  const size = parts.reduce((sum, part) => sum + partLength(part), 0);
  return {
    size,
    read: async (offset, lengthBytes) => {
      const end = Math.min(offset + lengthBytes, size);
      const found: Uint8Array[] = [];
      let at = 0;
      for (const part of parts) {
        const [from, to] = [Math.max(offset, at), Math.min(end, at + part.length)];
        if (from < to)
          found.push(
            part instanceof Uint8Array
              ? part.subarray(from - at, to - at)
              : await old.read(part.from + from - at, to - from),
          );
        at += part.length;
        if (at >= end) break;
      }
      return found.length === 1 && found[0] ? found[0] : joinBytes(found);
    },
  };
}
