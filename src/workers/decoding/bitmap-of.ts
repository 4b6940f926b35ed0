// Bitmaps of pixels that a decoder gave, in the colours of their profile. The browser converts colours by a profile only
// where it decodes a file itself; so the pixels are handed to it as a file: a BMP of version 5 with the profile behind
// them (BITMAPV5HEADER, `PROFILE_EMBEDDED`), which costs a header and no copy.

const FILE_HEADER_BYTES = 14;
const V5_HEADER_BYTES = 124;
const BITFIELDS = 3;
const PROFILE_EMBEDDED = 0x4d424544;
const LCS_GM_IMAGES = 4;
/** Where red, green, blue and alpha stand in a pixel that is read as a little-endian number: bytes in order R G B A. */
const MASKS = [0x000000ff, 0x0000ff00, 0x00ff0000, 0xff000000] as const;

/** @param rgba 8 bits a channel, row by row. @param profile ICC, or the name of a space; `null` is taken as sRGB. */
export async function bitmapOf(
  rgba: Uint8ClampedArray<ArrayBuffer>,
  width: number,
  height: number,
  profile: Uint8Array<ArrayBuffer> | PredefinedColorSpace | null,
): Promise<ImageBitmap> {
  if (profile === null || typeof profile === 'string')
    return createImageBitmap(new ImageData(rgba, width, height, { colorSpace: profile ?? 'srgb' }));
  const file = new Blob([bmpHeader(width, height, profile.length), rgba, profile], { type: 'image/bmp' });
  // a profile the browser cannot use is as good as none
  return createImageBitmap(file).catch(() => createImageBitmap(new ImageData(rgba, width, height)));
}

function bmpHeader(width: number, height: number, profileBytes: number): ArrayBuffer {
  const header = new ArrayBuffer(FILE_HEADER_BYTES + V5_HEADER_BYTES);
  const view = new DataView(header);
  const pixelBytes = width * height * 4;
  view.setUint16(0, 0x424d);
  view.setUint32(2, header.byteLength + pixelBytes + profileBytes, true);
  view.setUint32(10, header.byteLength, true);
  const at = FILE_HEADER_BYTES;
  view.setUint32(at, V5_HEADER_BYTES, true);
  view.setInt32(at + 4, width, true);
  view.setInt32(at + 8, -height, true); // negative: the first row is the top one
  view.setUint16(at + 12, 1, true);
  view.setUint16(at + 14, 32, true);
  view.setUint32(at + 16, BITFIELDS, true);
  view.setUint32(at + 20, pixelBytes, true);
  MASKS.forEach((mask, index) => view.setUint32(at + 40 + index * 4, mask, true));
  view.setUint32(at + 56, PROFILE_EMBEDDED, true);
  view.setUint32(at + 108, LCS_GM_IMAGES, true);
  view.setUint32(at + 112, V5_HEADER_BYTES + pixelBytes, true); // counted from the beginning of this header
  view.setUint32(at + 116, profileBytes, true);
  return header;
}
