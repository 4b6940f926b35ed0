// Bytes as text, where nothing but text goes: RFC 4648, section 4.

/** Letters made in one go: more arguments than this some engines refuse. */
const LETTERS = 0x2000;

export const toBase64 = (bytes: Uint8Array): string => {
  let text = '';
  for (let at = 0; at < bytes.length; at += LETTERS) text += String.fromCharCode(...bytes.subarray(at, at + LETTERS));
  return btoa(text);
};

export const fromBase64 = (text: string): Uint8Array<ArrayBuffer> => {
  const letters = atob(text);
  const bytes = new Uint8Array(letters.length);
  for (let at = 0; at < letters.length; at++) bytes[at] = letters.charCodeAt(at);
  return bytes;
};
