// Text out of bytes: strict UTF-8 first, Windows-1252 where it cannot be UTF-8. Never a replacement character in silence.

const utf8 = new TextDecoder('utf-8', { fatal: true });
const windows1252 = new TextDecoder('windows-1252');
const utf16 = { little: new TextDecoder('utf-16le', { fatal: true }), big: new TextDecoder('utf-16be', { fatal: true }) };

/** UTF-8, or `null` where the bytes are not. A byte order mark is dropped. */
export function decodeUtf8(bytes: Uint8Array): string | null {
  try {
    return utf8.decode(bytes);
  } catch {
    return null;
  }
}

/** UTF-16 in the order its byte order mark says, or, without one, in the order in which it opens with `<`. `null` for anything else. */
export function decodeUtf16(bytes: Uint8Array): string | null {
  const [first, second] = bytes;
  const little = (first === 0xff && second === 0xfe) || (first === 0x3c && second === 0);
  const big = (first === 0xfe && second === 0xff) || (first === 0 && second === 0x3c);
  return little || big ? decodeUtf16In(bytes, little) : null;
}

export function decodeUtf16In(bytes: Uint8Array, littleEndian: boolean): string | null {
  try {
    return (littleEndian ? utf16.little : utf16.big).decode(bytes);
  } catch {
    return null;
  }
}

export function decodeUtf8OrWindows1252(bytes: Uint8Array): string {
  return decodeUtf8(bytes) ?? windows1252.decode(bytes);
}

export const encodeUtf8 = (text: string): Uint8Array<ArrayBuffer> => new TextEncoder().encode(text);
