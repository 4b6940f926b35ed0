// The frame header of a JPEG (ITU-T T.81, B.2.2): what its picture is, before anything of it is decoded.

import type { ByteSource } from '../../bytes/source';

export interface JpegFrame {
  /** SOF0 to SOF15: 0xc0 to 0xc2 are what decoders everywhere take. */
  marker: number;
  bits: number;
  width: number;
  height: number;
  /** 1 grey, 3 colours, 4 inks. */
  components: number;
}

const SEGMENTS_LIMIT = 64;

export const isFrame = (marker: number) =>
  marker >= 0xc0 && marker <= 0xcf && marker !== 0xc4 && marker !== 0xc8 && marker !== 0xcc;

/** The first frame of the JPEG that begins at `start`; `null` where there is none before its scan. */
export async function readFrame(source: ByteSource, start: number): Promise<JpegFrame | null> {
  const opening = await source.read(start, 2);
  if (opening[0] !== 0xff || opening[1] !== 0xd8) return null;
  let offset = start + 2;
  for (let count = 0; count < SEGMENTS_LIMIT; count++) {
    const [prefix, marker, high, low, bits = 0, h1 = 0, h2 = 0, w1 = 0, w2 = 0, components = 0] = await source.read(
      offset,
      10,
    );
    if (prefix !== 0xff || marker === undefined || high === undefined || low === undefined) return null;
    if (isFrame(marker)) return { marker, bits, width: w1 * 256 + w2, height: h1 * 256 + h2, components };
    if (marker === 0xda || marker === 0xd9) return null;
    offset += 2 + high * 256 + low;
  }
  return null;
}
