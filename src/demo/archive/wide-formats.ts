// Formats that came later, or that say more than eight bits of sRGB: what a catalog of 2026 has in it beside JPEGs.

import Vips from 'wasm-vips';
import sharp from 'sharp';

interface WidePixels {
  width: number;
  height: number;
  /** Numbers of Display P3, three bytes a pixel. */
  pixels: Buffer;
  profile: Buffer;
}

/** The same colours, told in Display P3. */
export async function inDisplayP3(painting: Buffer): Promise<WidePixels> {
  const wide = await sharp(painting).withIccProfile('p3').png().toBuffer();
  const { data, info } = await sharp(wide, { ignoreIcc: true }).raw().toBuffer({ resolveWithObject: true });
  const { icc } = await sharp(wide).metadata();
  if (!icc) throw new Error('a picture in Display P3 carries its profile');
  return { width: info.width, height: info.height, pixels: data, profile: icc };
}

export const wideJpeg = (painting: Buffer): Promise<Buffer> =>
  sharp(painting).withIccProfile('p3').jpeg({ quality: 80 }).toBuffer();

/** Long edge of what a scanning back takes: 100 megapixels at 3:2. */
const LARGE_EDGE = 12_288;

export const largeJpeg = (painting: Buffer): Promise<Buffer> =>
  sharp(painting).resize({ width: LARGE_EDGE }).jpeg({ quality: 66 }).toBuffer();

/** 16 bits a channel, big-endian: each byte stretched to the whole range. */
export const inSixteenBits = (pixels: Buffer): Buffer => {
  const words = Buffer.alloc(pixels.length * 2);
  for (let at = 0; at < pixels.length; at++) words.writeUInt16BE(pixels[at]! * 257, at * 2);
  return words;
};

let library: ReturnType<typeof Vips> | null = null;

const box = (type: string, content: Buffer): Buffer => {
  const head = Buffer.alloc(8);
  head.writeUInt32BE(content.length + 8);
  head.write(type, 4, 'latin1');
  return Buffer.concat([head, content]);
};

/** JPEG XL (ISO/IEC 18181-2): the code stream of an encoder in boxes, with EXIF in one of its own. */
export async function asJpegXl(painting: Buffer, exif: Buffer): Promise<Buffer> {
  const vips = await (library ??= Vips({ dynamicLibraries: ['vips-jxl.wasm'] }));
  const image = vips.Image.newFromBuffer(painting);
  try {
    const stream = Buffer.from(image.jxlsaveBuffer({ Q: 82, effort: 4, keep: 'none' }));
    const isBare = stream[0] === 0xff && stream[1] === 0x0a;
    if (!isBare) throw new Error('the encoder was to give a code stream by itself');
    return Buffer.concat([
      box('JXL ', Buffer.from([0x0d, 0x0a, 0x87, 0x0a])),
      box('ftyp', Buffer.from('jxl \0\0\0\0jxl ', 'latin1')),
      box('Exif', Buffer.concat([Buffer.alloc(4), exif])),
      box('jxlc', stream),
    ]);
  } finally {
    image.delete();
  }
}

/** Its threads keep the program from ending. */
export async function endEncoders(): Promise<void> {
  if (library) (await library).shutdown();
  library = null;
}
