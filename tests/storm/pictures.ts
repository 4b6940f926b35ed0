// Pictures for the storm: small files that any reader takes for JPEG, each with coded data of its own. "Edged" ones are
// as long as each other and begin and end alike, as uncompressed scans with white margins do: they share a fingerprint
// and nothing else.

import { ascii, short, withBlocks, writeExif, writeIim } from '@/demo/archive/tiff-writer';

const FRAME = Buffer.from([0xff, 0xd8, 0xff, 0xc0, 0, 11, 8, 0, 12, 0, 16, 1, 1, 0x11, 0]);
const SCAN = Buffer.from([0xff, 0xda, 0, 2]);
const END = Buffer.from([0xff, 0xd9]);

export interface Content {
  /** Which picture it is; two contents of one picture differ in what is written beside it. */
  picture: string;
  isBent: boolean;
}

/** Longer than the two edges a fingerprint reads. */
const EDGED_BYTES = 40_000;

/** @param words what a program wrote into its metadata; none for as the camera left it */
export function pictureBytes(number: number, edged: boolean, words = ''): Uint8Array<ArrayBuffer> {
  const coded = edged ? Buffer.alloc(EDGED_BYTES, 1) : Buffer.alloc(120, 1 + (number % 200));
  coded.writeUInt16BE(0x0100 + (number % 0x7000), edged ? EDGED_BYTES / 2 : 60);
  const date = edged
    ? '2020:01:01 10:00:00'
    : `2020:01:${String((number % 27) + 1).padStart(2, '0')} 10:${String(number % 60).padStart(2, '0')}:00`;
  const exif = writeExif(
    new Map([
      [0x0110, ascii('Norda K4')],
      [0x0112, short(1)],
    ]),
    new Map([[0x9003, ascii(date)]]),
    null,
  );
  return new Uint8Array(
    withBlocks(Buffer.concat([FRAME, SCAN, coded, END]), {
      exif,
      ...(words && { photoshop: writeIim([[105, words]], 'utf8') }),
    }),
  );
}

/** One bit turned, in the middle of the coded data. */
export function bent(bytes: Uint8Array): Uint8Array<ArrayBuffer> {
  const other = Uint8Array.from(bytes);
  const at = Math.max(0, bytes.length - (bytes.length > EDGED_BYTES ? EDGED_BYTES / 2 - 60 : 20));
  other[at] = (other[at] ?? 0) ^ 0x02;
  return other;
}

/** The coded data of a picture, by which it is known whatever is written beside it. */
export function codedIn(bytes: Uint8Array): string | null {
  const buffer = Buffer.from(bytes);
  const at = buffer.lastIndexOf(SCAN);
  return at < 0 ? null : buffer.subarray(at).toString('latin1');
}
