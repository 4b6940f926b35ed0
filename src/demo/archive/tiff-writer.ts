// Writes the EXIF and IIM blocks of the demo's photos. Small and plain: it writes new blocks, it edits none.
// TIFF 6.0 and EXIF 2.32, big-endian; IIM 4.2 in a Photoshop resource.

type Value =
  | { type: 2; text: string }
  | { type: 3 | 4; numbers: number[] }
  | { type: 5 | 10; ratios: [top: number, bottom: number][] }
  | { type: 1 | 7; bytes: number[] };

export type Entries = Map<number, Value>;

export const ascii = (text: string): Value => ({ type: 2, text });
export const short = (...numbers: number[]): Value => ({ type: 3, numbers });
export const ratio = (...ratios: [number, number][]): Value => ({ type: 5, ratios });
export const signedRatio = (...ratios: [number, number][]): Value => ({ type: 10, ratios });
export const raw = (...bytes: number[]): Value => ({ type: 7, bytes });
export const long = (...numbers: number[]): Value => ({ type: 4, numbers });
export const byte = (...bytes: number[]): Value => ({ type: 1, bytes });

const UNIT = { 1: 1, 2: 1, 3: 2, 4: 4, 5: 8, 7: 1, 10: 8 } as const;

function bytesOf(value: Value): Buffer {
  if (value.type === 2) return Buffer.concat([Buffer.from(value.text, 'utf8'), Buffer.from([0])]);
  if ('bytes' in value) return Buffer.from(value.bytes);
  if ('numbers' in value) {
    const out = Buffer.alloc(value.numbers.length * UNIT[value.type]);
    value.numbers.forEach((number, index) =>
      value.type === 3 ? out.writeUInt16BE(number, index * 2) : out.writeUInt32BE(number, index * 4),
    );
    return out;
  }
  const out = Buffer.alloc(value.ratios.length * 8);
  value.ratios.forEach(([top, bottom], index) => {
    if (value.type === 10) out.writeInt32BE(top, index * 8);
    else out.writeUInt32BE(top, index * 8);
    out.writeInt32BE(bottom, index * 8 + 4);
  });
  return out;
}

/** A directory at `offset`, with its values right behind it. */
export function directory(entries: Entries, offset: number): Buffer {
  const sorted = [...entries].sort(([a], [b]) => a - b);
  const table = Buffer.alloc(2 + sorted.length * 12 + 4);
  table.writeUInt16BE(sorted.length, 0);
  const values: Buffer[] = [];
  let at = offset + table.length;
  sorted.forEach(([tag, value], index) => {
    const bytes = bytesOf(value);
    const entry = 2 + index * 12;
    table.writeUInt16BE(tag, entry);
    table.writeUInt16BE(value.type, entry + 2);
    table.writeUInt32BE(bytes.length / UNIT[value.type], entry + 4);
    if (bytes.length <= 4) bytes.copy(table, entry + 8);
    else {
      table.writeUInt32BE(at, entry + 8);
      const padded = bytes.length % 2 === 1 ? Buffer.concat([bytes, Buffer.alloc(1)]) : bytes;
      values.push(padded);
      at += padded.length;
    }
  });
  return Buffer.concat([table, ...values]);
}

const EXIF_POINTER = 0x8769;
const GPS_POINTER = 0x8825;

/** A whole TIFF block: the main directory, then EXIF, then GPS where there is one. */
export function writeExif(main: Entries, exif: Entries, gps: Entries | null): Buffer {
  const placeholder: Value = { type: 4, numbers: [0] };
  const all = new Map(main).set(EXIF_POINTER, placeholder);
  if (gps) all.set(GPS_POINTER, placeholder);
  const exifAt = 8 + directory(all, 8).length;
  const exifBytes = directory(exif, exifAt);
  const gpsAt = exifAt + exifBytes.length;
  all.set(EXIF_POINTER, { type: 4, numbers: [exifAt] });
  if (gps) all.set(GPS_POINTER, { type: 4, numbers: [gpsAt] });
  const header = Buffer.from([0x4d, 0x4d, 0, 42, 0, 0, 0, 8]);
  return Buffer.concat([header, directory(all, 8), exifBytes, ...(gps ? [directory(gps, gpsAt)] : [])]);
}

/**
 * IIM record 2 in a Photoshop resource. Text is Latin-1 and says nothing of it, as old programs wrote; or UTF-8 with
 * 1:90.
 */
export function writeIim(datasets: [dataset: number, text: string][], encoding: 'latin1' | 'utf8'): Buffer {
  const dataset = (record: number, number: number, bytes: Buffer) => {
    const head = Buffer.from([0x1c, record, number, 0, 0]);
    head.writeUInt16BE(bytes.length, 3);
    return Buffer.concat([head, bytes]);
  };
  const parts = encoding === 'utf8' ? [dataset(1, 90, Buffer.from('\x1b%G', 'latin1'))] : [];
  parts.push(
    dataset(2, 0, Buffer.from([0, 2])),
    ...datasets.map(([number, text]) => dataset(2, number, Buffer.from(text, encoding))),
  );
  const iim = Buffer.concat(parts);
  const head = Buffer.from('8BIM\x04\x04\0\0\0\0\0\0', 'latin1');
  head.writeUInt32BE(iim.length, 8);
  return Buffer.concat([head, iim, ...(iim.length % 2 === 1 ? [Buffer.alloc(1)] : [])]);
}

const segment = (marker: number, body: Buffer) => {
  const head = Buffer.from([0xff, marker, 0, 0]);
  head.writeUInt16BE(body.length + 2, 2);
  return Buffer.concat([head, body]);
};

export interface JpegBlocks {
  exif?: Buffer;
  photoshop?: Buffer;
  xmp?: Buffer;
}

/** Puts metadata segments into a JPEG straight from the encoder, in place of its JFIF segment when there is EXIF. */
export function withBlocks(jpeg: Buffer, { exif, photoshop, xmp }: JpegBlocks): Buffer {
  const jfif = jpeg[2] === 0xff && jpeg[3] === 0xe0 ? 4 + jpeg.readUInt16BE(4) : 2;
  const segments: Buffer[] = [];
  if (exif) segments.push(segment(0xe1, Buffer.concat([Buffer.from('Exif\0\0', 'latin1'), exif])));
  if (xmp) segments.push(segment(0xe1, Buffer.concat([Buffer.from('http://ns.adobe.com/xap/1.0/\0', 'latin1'), xmp])));
  if (photoshop) segments.push(segment(0xed, Buffer.concat([Buffer.from('Photoshop 3.0\0', 'latin1'), photoshop])));
  return Buffer.concat([jpeg.subarray(0, 2), ...segments, jpeg.subarray(exif ? jfif : 2)]);
}
