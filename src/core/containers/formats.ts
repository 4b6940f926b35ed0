// Which file is what, by its first bytes, and which names are worth opening at all.
// Magic numbers from the formats' own specifications; the list of raw endings is common practice.

export type Format = 'jpeg' | 'tiff' | 'raw' | 'png' | 'webp' | 'gif' | 'isobmff' | 'psd' | 'unknown';

const RAW_ENDINGS = ['dng', 'cr2', 'nef', 'nrw', 'arw', 'sr2', 'orf', 'rw2', 'pef', 'srw', '3fr', 'iiq', 'dcr', 'raf', 'cr3'];
const PHOTO_ENDINGS = new Set(['jpg', 'jpeg', 'jpe', 'tif', 'tiff', 'png', 'webp', 'gif', 'heic', 'heif', 'avif', 'psd', ...RAW_ENDINGS]);

/** The ending of a file name in lower case without its dot; empty for none and for names like `.hidden`. */
export function endingOf(name: string): string {
  const dot = name.lastIndexOf('.');
  const slash = name.lastIndexOf('/');
  return dot > slash + 1 ? name.slice(dot + 1).toLowerCase() : '';
}

export const isPhotoName = (name: string): boolean => PHOTO_ENDINGS.has(endingOf(name));
export const isSidecarName = (name: string): boolean => endingOf(name) === 'xmp';
export const isRawName = (name: string): boolean => RAW_ENDINGS.includes(endingOf(name));

/** Recognises a format by at least the first 16 bytes; the name only tells TIFF from the raws built on it. */
export function sniffFormat(head: Uint8Array, name: string): Format {
  const starts = (...magic: number[]) => magic.every((byte, index) => head[index] === byte);
  const text = (offset: number, length: number) => String.fromCharCode(...head.subarray(offset, offset + length));
  if (starts(0xff, 0xd8, 0xff)) return 'jpeg';
  if (starts(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a)) return 'png';
  if (text(0, 4) === 'RIFF' && text(8, 4) === 'WEBP') return 'webp';
  if (text(0, 4) === 'GIF8') return 'gif';
  if (text(0, 4) === '8BPS') return 'psd';
  if (text(4, 4) === 'ftyp') return 'isobmff';
  // 42 is TIFF; 0x55 and 0x4f52/0x5352 open two raw families that are TIFF but for that number.
  const tiffLike = starts(0x49, 0x49, 0x2a, 0) || starts(0x4d, 0x4d, 0, 0x2a) || starts(0x49, 0x49, 0x55, 0) || starts(0x49, 0x49, 0x52, 0x4f) || starts(0x49, 0x49, 0x52, 0x53);
  if (tiffLike) return isRawName(name) ? 'raw' : 'tiff';
  return 'unknown';
}
