// A layered document flattened: the PSD that other programs see (file format specification, from memory; read by
// ExifTool in tests/reference). One picture of three planes in PackBits, with EXIF among its image resources.

const u16 = (...values: number[]): Buffer => {
  const bytes = Buffer.alloc(values.length * 2);
  values.forEach((value, index) => bytes.writeUInt16BE(value, index * 2));
  return bytes;
};
const u32 = (value: number): Buffer => {
  const bytes = Buffer.alloc(4);
  bytes.writeUInt32BE(value);
  return bytes;
};

const EXIF_RESOURCE = 0x0422;

function resource(id: number, data: Buffer): Buffer {
  return Buffer.concat([Buffer.from('8BIM'), u16(id, 0), u32(data.length), data, Buffer.alloc(data.length % 2)]);
}

/** PackBits (TIFF 6.0, section 9): runs of three and more are told once. */
function packed(row: Buffer): Buffer {
  const parts: Buffer[] = [];
  let from = 0;
  const runAt = (at: number): number => {
    let length = 1;
    while (length < 128 && at + length < row.length && row[at + length] === row[at]) length += 1;
    return length;
  };
  for (let at = 0; at < row.length;) {
    const run = runAt(at);
    const isRun = run >= 3;
    if (isRun || at - from === 128) {
      if (at > from) parts.push(Buffer.from([at - from - 1]), row.subarray(from, at));
      if (isRun) parts.push(Buffer.from([257 - run, row[at]!]));
      at += isRun ? run : 0;
      from = at;
    } else at += 1;
  }
  if (row.length > from) parts.push(Buffer.from([row.length - from - 1]), row.subarray(from));
  return Buffer.concat(parts);
}

/** @param pixels sRGB, three bytes a pixel */
export function writePsd(pixels: Buffer, width: number, height: number, exif: Buffer): Buffer {
  const rows: Buffer[] = [];
  for (let channel = 0; channel < 3; channel++)
    for (let y = 0; y < height; y++) {
      const row = Buffer.alloc(width);
      for (let x = 0; x < width; x++) row[x] = pixels[(y * width + x) * 3 + channel]!;
      rows.push(packed(row));
    }
  const resources = resource(EXIF_RESOURCE, exif);
  return Buffer.concat([
    Buffer.from('8BPS'),
    u16(1, 0, 0, 0, 3),
    u32(height),
    u32(width),
    u16(8, 3),
    u32(0), // no palette
    u32(resources.length),
    resources,
    u32(0), // no layers: flattened
    u16(1),
    u16(...rows.map(({ length }) => length)),
    ...rows,
  ]);
}
