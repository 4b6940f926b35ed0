// One photo file, read: container, technical data, descriptive fields with where each came from, previews, problems.
// Whatever happens inside, the answer is a reading; a file that lies costs its lie and nothing else.

import { type ByteSource, withHead } from '../bytes/source';
import { type Blocks, type Preview, noBlocks } from '../containers/blocks';
import { type Format, sniffFormat } from '../containers/formats';
import { readJpegBlocks } from '../containers/jpeg';
import { readPngBlocks } from '../containers/png';
import { readWebpBlocks } from '../containers/webp';
import { MAIN } from '../exif/exif-tags';
import { NO_TECHNICAL, type Technical, fullSizeOf, previewsOf, technicalOf, textOf } from '../exif/exif';
import { type Tiff, readTiff } from '../exif/tiff';
import { FIELDS, type FieldKey, type FieldValues } from '../fields/registry';
import { fromStrings } from '../fields/values';
import type { IimDataset } from '../iim/datasets';
import { iimOfPhotoshop, parseIim } from '../iim/iim';
import type { Problem } from '../problems/problem';
import { parseCaptured } from '../time/captured';
import { type Packet, getValues, parsePacket } from '../xmp/packet';

/** The larger part of the headers seen fits; raws ask for more by themselves. */
export const HEAD_BYTES = 128 * 1024;

/** Which family of metadata a value came from. */
export type Family = 'xmp' | 'iim' | 'exif';

export interface PhotoReading extends Technical {
  format: Format;
  /** Pixel size as shown, that is, with the orientation applied. */
  width: number | null;
  height: number | null;
  fields: FieldValues;
  sources: Partial<Record<FieldKey, Family>>;
  /** Embedded JPEGs, largest first. */
  previews: Preview[];
  problems: Problem[];
}

export async function readPhoto(whole: ByteSource, name: string): Promise<PhotoReading> {
  if (whole.size === 0) return emptyReading('unknown', [{ code: 'file/empty' }]);
  const source = await withHead(whole, HEAD_BYTES);
  const head = await source.read(0, 32);
  const format = sniffFormat(head, name);
  if (format === 'unknown' || format === 'gif' || format === 'isobmff' || format === 'psd') {
    return emptyReading(format, format === 'unknown' ? [{ code: 'file/not-understood', found: describeHead(head) }] : []);
  }
  const { blocks, tiff } = await readContainer(source, format);
  const described = describe(blocks, tiff);
  const technical = tiff ? technicalOf(tiff) : NO_TECHNICAL;
  const full = tiff && blocks.width === null ? fullSizeOf(tiff) : null;
  const [width, height] = turned(technical.orientation, blocks.width ?? full?.width ?? null, blocks.height ?? full?.height ?? null);
  const previews = tiff && blocks.exif ? previewsOf(tiff, blocks.exif.offset).sort((a, b) => b.length - a.length) : [];
  const captured = technical.captured ?? capturedFromXmp(described.packets);
  return {
    ...technical, captured, format, width, height, previews,
    fields: described.fields, sources: described.sources,
    problems: [...blocks.problems, ...(tiff?.problems ?? []), ...described.problems],
  };
}

const emptyReading = (format: Format, problems: Problem[]): PhotoReading =>
  ({ ...NO_TECHNICAL, format, width: null, height: null, fields: {}, sources: {}, previews: [], problems });

const describeHead = (head: Uint8Array) => [...head.subarray(0, 8)].map((byte) => byte.toString(16).padStart(2, '0')).join(' ');

async function readContainer(source: ByteSource, format: Format): Promise<{ blocks: Blocks; tiff: Tiff | null }> {
  if (format === 'tiff' || format === 'raw') {
    const blocks = noBlocks();
    blocks.exif = { source, offset: 0 };
    const tiff = await readTiff(source);
    const main = tiff?.directories[0]?.tags;
    const xmp = main?.get(MAIN.xmp)?.view.bytes;
    const photoshop = main?.get(MAIN.photoshop)?.view.bytes;
    if (xmp) blocks.xmp.push(xmp);
    if (photoshop) blocks.photoshop.push(photoshop);
    if (!tiff) blocks.problems.push({ code: 'tiff/bad-header' });
    return { blocks, tiff };
  }
  const blocks = await { jpeg: readJpegBlocks, png: readPngBlocks, webp: readWebpBlocks }[format as 'jpeg' | 'png' | 'webp'](source);
  const tiff = blocks.exif ? await readTiff(blocks.exif.source) : null;
  if (blocks.exif && !tiff) blocks.problems.push({ code: 'tiff/bad-header' });
  return { blocks, tiff };
}

/** Orientations 5 to 8 lie on their side (EXIF 2.32, tag 0x0112). */
const turned = (orientation: number, width: number | null, height: number | null): [number | null, number | null] =>
  orientation >= 5 ? [height, width] : [width, height];

/** The fields of the image file: XMP before IIM before EXIF, as long as the deeper rules of reconciliation are not built. */
function describe(blocks: Blocks, tiff: Tiff | null) {
  const problems: Problem[] = [];
  const packets: Packet[] = [];
  for (const bytes of blocks.xmp) {
    const packet = parsePacket(bytes);
    if (packet.state === 'read') packets.push(packet.value);
    else if (packet.state === 'unreadable') problems.push(...packet.problems);
  }
  const main = tiff?.directories.find(({ kind }) => kind === 'main')?.tags;
  const loose = main?.get(MAIN.iim)?.view.bytes;
  const iim = new Map<string, string[]>();
  for (const bytes of [...blocks.photoshop.flatMap(iimOfPhotoshop), ...(loose ? [loose] : [])]) {
    const reading = parseIim(bytes);
    problems.push(...reading.problems);
    for (const [key, values] of reading.values) iim.set(key, [...(iim.get(key) ?? []), ...values]);
  }
  const fields: FieldValues = {};
  const sources: Partial<Record<FieldKey, Family>> = {};
  for (const row of FIELDS) {
    const families: [Family, string[]][] = [
      ['xmp', packets.flatMap((packet) => getValues(packet, row.xmp) ?? [])],
      ['iim', row.iim ? iimStrings(iim, row.iim) : []],
      ['exif', row.exifTag && main ? exifStrings(textOf(main.get(row.exifTag)), row.type === 'names') : []],
    ];
    for (const [family, strings] of families) {
      const value = fromStrings(row, strings);
      if (value === undefined) continue;
      fields[row.key] = value;
      sources[row.key] = family;
      break;
    }
  }
  return { fields, sources, packets, problems };
}

function iimStrings(values: Map<string, string[]>, { record, dataset, padded }: IimDataset): string[] {
  const strings = values.get(`${record}:${dataset}`) ?? [];
  return padded ? strings.map((text) => text.trimEnd()) : strings;
}

/** EXIF keeps several artists in one text, with semicolons between (MWG guidelines 2.0, section 5.5). */
const exifStrings = (text: string | null, severalNames: boolean): string[] =>
  text === null ? [] : severalNames ? text.split(';').map((part) => part.trim()) : [text];

function capturedFromXmp(packets: Packet[]) {
  for (const packet of packets) {
    for (const name of [{ prefix: 'photoshop', name: 'DateCreated' }, { prefix: 'xmp', name: 'CreateDate' }] as const) {
      const text = getValues(packet, name)?.[0];
      const captured = text ? parseCaptured(text) : null;
      if (captured) return captured;
    }
  }
  return null;
}

