// Text out of bytes: strict UTF-8 first, Windows-1252 where it cannot be UTF-8. Never a replacement character in
// silence.

const utf8 = new TextDecoder('utf-8', { fatal: true });
/**
 * Windows-1252 from 0x80 to 0x9f; the rest is Latin-1. The five bytes it leaves open stay the control characters of
 * that number.
 */
const FROM_0X80 = '€\x81‚ƒ„…†‡ˆ‰Š‹Œ\x8dŽ\x8f\x90‘’“”•–—˜™š›œ\x9džŸ';
const utf16 = {
  little: new TextDecoder('utf-16le', { fatal: true }),
  big: new TextDecoder('utf-16be', { fatal: true }),
};

/** A decoder costs more to call than so many plain letters to read (measured). */
const SHORT_BYTES = 48;

function plainText(bytes: Uint8Array): string | null {
  let text = '';
  for (const byte of bytes) {
    if (byte >= 0x80) return null;
    text += String.fromCharCode(byte);
  }
  return text;
}

/** UTF-8, or `null` where the bytes are not. A byte order mark is dropped. */
export function decodeUtf8(bytes: Uint8Array): string | null {
  if (bytes.length <= SHORT_BYTES) {
    const plain = plainText(bytes);
    if (plain !== null) return plain;
  }
  try {
    return utf8.decode(bytes);
  } catch {
    return null;
  }
}

/**
 * UTF-16 in the order its byte order mark says, or, without one, in the order in which it opens with `<`. `null` for
 * anything else.
 */
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
  return decodeUtf8(bytes) ?? decodeWindows1252(bytes);
}

/** By a table of our own: some platforms' decoders of that name read Latin-1 instead (measured: Node 20). */
function decodeWindows1252(bytes: Uint8Array): string {
  let text = '';
  for (const byte of bytes)
    text += byte >= 0x80 && byte <= 0x9f ? (FROM_0X80[byte - 0x80] ?? '') : String.fromCharCode(byte);
  return text;
}

export const encodeUtf8 = (text: string): Uint8Array<ArrayBuffer> => new TextEncoder().encode(text);
