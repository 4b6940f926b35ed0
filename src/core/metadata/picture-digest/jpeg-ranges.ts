// The picture in a JPEG: every segment but APPn and COM, with APP14 kept because it says how colours were transformed,
// then the scans up to and including the end marker. What follows that (further pictures, rubbish) is not part of it.

import type { ByteSource } from '../../bytes/source';
import { readSegments } from '../../formats/containers/jpeg';
import type { Range } from './range';

const SCAN_READ_BYTES = 1024 * 1024;

const isMetadata = (marker: number) => (marker >= 0xe0 && marker <= 0xef && marker !== 0xee) || marker === 0xfe;

export async function jpegRanges(source: ByteSource): Promise<Range[]> {
  const { list, scan } = await readSegments(source);
  const ranges = list
    .filter(({ marker }) => !isMetadata(marker))
    .map(({ offset, content }) => ({ offset, length: content.length + 4 }));
  if (scan !== null) ranges.push(...(await scanRanges(source, scan)));
  return ranges;
}

/**
 * From the first scan on: coded data up to the next marker that is not part of it; segments between scans by their
 * length.
 */
async function scanRanges(source: ByteSource, from: number): Promise<Range[]> {
  const ranges: Range[] = [];
  let start = from;
  let at = from;
  for (;;) {
    const [, marker = 0, high = 0, low = 0] = await source.read(at, 4);
    if (marker === 0xd9 || at >= source.size) {
      ranges.push({ offset: start, length: Math.min(at + 2, source.size) - start });
      return ranges;
    }
    const end = at + 2 + high * 256 + low;
    if (isMetadata(marker)) {
      ranges.push({ offset: start, length: at - start });
      start = end;
    }
    at = await nextMarker(source, end);
  }
}

/** The next 0xFF that is followed by neither a stuffed zero, a restart marker nor another fill byte. */
async function nextMarker(source: ByteSource, from: number): Promise<number> {
  for (let offset = from; offset < source.size;) {
    const bytes = await source.read(offset, SCAN_READ_BYTES);
    for (let at = bytes.indexOf(0xff); at >= 0 && at + 1 < bytes.length; at = bytes.indexOf(0xff, at + 1)) {
      const next = bytes[at + 1] ?? 0;
      if (next !== 0 && next !== 0xff && !(next >= 0xd0 && next <= 0xd7)) return offset + at;
    }
    if (bytes.length < 2) break;
    offset += bytes.length - 1;
  }
  return source.size;
}
