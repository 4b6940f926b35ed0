// Text out of bytes: strict UTF-8 first, Windows-1252 where it cannot be UTF-8. Never a replacement character in silence.

const utf8 = new TextDecoder('utf-8', { fatal: true });
const windows1252 = new TextDecoder('windows-1252');

/** UTF-8, or `null` where the bytes are not. A byte order mark is dropped. */
export function decodeUtf8(bytes: Uint8Array): string | null {
  try {
    return utf8.decode(bytes);
  } catch {
    return null;
  }
}

export function decodeUtf8OrWindows1252(bytes: Uint8Array): string {
  return decodeUtf8(bytes) ?? windows1252.decode(bytes);
}

export const encodeUtf8 = (text: string): Uint8Array<ArrayBuffer> => new TextEncoder().encode(text);
