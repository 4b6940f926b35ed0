// Which file is what, by its first bytes, and which names are worth opening at all.
// Magic numbers from the formats' own specifications; the list of raw endings is common practice.

export type Format =
  | 'jpeg'
  | 'tiff'
  | 'raw'
  | 'cr3'
  | 'raf'
  | 'png'
  | 'webp'
  | 'gif'
  | 'heif'
  | 'avif'
  | 'jxl'
  | 'psd'
  | 'video'
  | 'avi'
  | 'xmp'
  | 'unknown';

const RAW_ENDINGS = [
  'dng',
  'cr2',
  'nef',
  'nrw',
  'arw',
  'sr2',
  'orf',
  'rw2',
  'pef',
  'srw',
  '3fr',
  'iiq',
  'dcr',
  'raf',
  'cr3',
];
const FILM_ENDINGS = ['mp4', 'm4v', 'mov', 'avi'];
const PHOTO_ENDINGS = new Set([
  'jpg',
  'jpeg',
  'jpe',
  'tif',
  'tiff',
  'png',
  'webp',
  'gif',
  'heic',
  'heif',
  'hif',
  'avif',
  'jxl',
  'psd',
  'psb',
  ...RAW_ENDINGS,
  ...FILM_ENDINGS,
]);

/**
 * What cameras write beside a photo or a video and belongs to it: notes spoken to it, thumbnails and data of videos.
 */
const BESIDE_ENDINGS = new Set(['wav', 'mp3', 'm4a', 'aac', 'thm', 'lrv', 'srt', 'xml']);

/** The ending of a file name in lower case without its dot; empty for none and for names like `.hidden`. */
export function endingOf(name: string): string {
  const dot = name.lastIndexOf('.');
  const slash = name.lastIndexOf('/');
  return dot > slash + 1 ? name.slice(dot + 1).toLowerCase() : '';
}

export const isPhotoName = (name: string): boolean => PHOTO_ENDINGS.has(endingOf(name));
export const isSidecarName = (name: string): boolean => endingOf(name) === 'xmp';
/**
 * Whether a file belongs to the photo or video of its base name without being one: a spoken note, a video's thumbnail.
 */
export const isBesideName = (name: string): boolean => BESIDE_ENDINGS.has(endingOf(name));
export const isRawName = (name: string): boolean => RAW_ENDINGS.includes(endingOf(name));
/** The order of photos that share a base name: raws first, then by name. */
export const rawsFirst = (a: string, b: string): number =>
  Number(isRawName(b)) - Number(isRawName(a)) || (a < b ? -1 : 1);
export const isRawFormat = (format: Format): boolean => format === 'raw' || format === 'cr3' || format === 'raf';

const STILL_BRANDS = new Set(['heic', 'heix', 'heim', 'heis', 'hevc', 'hevx', 'mif1', 'msf1', 'mif2', 'miaf']);

/** Recognises a format by at least the first 32 bytes; the name only tells TIFF from the raws built on it. */
export function sniffFormat(head: Uint8Array, name: string): Format {
  const starts = (...magic: number[]) => magic.every((byte, index) => head[index] === byte);
  const text = (offset: number, length: number) => String.fromCharCode(...head.subarray(offset, offset + length));
  if (isSidecarName(name) && /^(?:\xef\xbb\xbf|\xfe\xff\0?|\xff\xfe)?\s*</.test(text(0, 32))) return 'xmp';
  if (starts(0xff, 0xd8, 0xff)) return 'jpeg';
  if (starts(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a)) return 'png';
  if (text(0, 4) === 'RIFF') return text(8, 4) === 'WEBP' ? 'webp' : text(8, 4) === 'AVI ' ? 'avi' : 'unknown';
  if (text(0, 4) === 'GIF8') return 'gif';
  if (text(0, 4) === '8BPS') return 'psd';
  if (text(0, 15) === 'FUJIFILMCCD-RAW') return 'raf';
  if (starts(0xff, 0x0a) || text(4, 4) === 'JXL ') return 'jxl';
  if (text(4, 4) === 'ftyp') return sniffBrands(text);
  if (['moov', 'mdat', 'wide', 'free', 'skip', 'pnot'].includes(text(4, 4))) return 'video';
  // 42 is TIFF, 43 is BigTIFF; 0x55 and 0x4f52/0x5352 open two raw families that are TIFF but for that number
  const number =
    head[0] === 0x49 && head[1] === 0x49
      ? text(2, 2)
      : head[0] === 0x4d && head[1] === 0x4d
        ? text(3, 1) + text(2, 1)
        : '';
  if (!['*\0', '+\0', 'U\0', 'RO', 'RS', 'OR'].includes(number)) return 'unknown';
  return isRawName(name) ? 'raw' : 'tiff';
}

/** The major brand, or one of the compatible ones, says what a file of boxes is. */
function sniffBrands(text: (offset: number, length: number) => string): Format {
  const brands = [8, 16, 20, 24, 28].map((at) => text(at, 4));
  if (brands[0] === 'crx ') return 'cr3';
  if (brands.some((brand) => brand === 'avif' || brand === 'avis')) return 'avif';
  return brands.some((brand) => STILL_BRANDS.has(brand)) ? 'heif' : 'video';
}
