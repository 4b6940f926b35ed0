// Which bytes of a file are its picture: the definition, container by container, is in docs/FORMATS.md. What is left
// out is metadata, which programs change without touching the picture.

import type { ByteSource } from '../../bytes/source';
import { ByteView } from '../../bytes/view';
import { readBoxes } from '../../formats/containers/boxes';
import type { Format } from '../../formats/containers/formats';
import { readGifParts } from '../../formats/containers/gif';
import { readHeif } from '../../formats/containers/heif';
import { readChunks } from '../../formats/containers/png';
import { readRiff } from '../../formats/containers/riff';
import { jpegRanges } from './jpeg-ranges';
import type { Range } from './range';
import { tiffRanges } from './tiff-ranges';

type Finder = (source: ByteSource) => Promise<Range[]>;

const PNG_PICTURE = new Set(['IHDR', 'PLTE', 'tRNS', 'IDAT', 'acTL', 'fcTL', 'fdAT']);
const WEBP_PICTURE = new Set(['VP8 ', 'VP8L', 'ALPH', 'ANIM', 'ANMF']);

/** Type and data of the chunks that hold pixels. */
const pngRanges: Finder = async (source) =>
  (await readChunks(source)).list
    .filter(({ type }) => PNG_PICTURE.has(type))
    .map(({ offset, length }) => ({ offset: offset + 4, length: length + 4 }));

/** Name, length and content of the chunks that hold pixels. */
const webpRanges: Finder = async (source) =>
  (await readRiff(source)).list
    .filter(({ type }) => WEBP_PICTURE.has(type))
    .map(({ offset, length }) => ({ offset, length: length + 8 }));

const aviRanges: Finder = async (source) => {
  const ranges: Range[] = [];
  for (const { type, offset, length } of (await readRiff(source)).list) {
    if (type === 'LIST' && new ByteView(await source.read(offset + 8, 4)).ascii(0, 4) === 'movi')
      ranges.push({ offset, length: length + 8 });
  }
  return ranges;
};

/** The content of all `mdat` boxes. */
const videoRanges: Finder = async (source) =>
  (await readBoxes(source, 0, source.size)).list
    .filter(({ type }) => type === 'mdat')
    .map(({ start, size }) => ({ offset: start, length: size }));

const jxlRanges: Finder = async (source) => {
  if ((await source.read(0, 1))[0] === 0xff) return [{ offset: 0, length: source.size }];
  return (await readBoxes(source, 0, source.size)).list
    .filter(({ type }) => type === 'jxlc' || type === 'jxlp')
    .map(({ start, size }) => ({ offset: start, length: size }));
};

const NO_PICTURE = new Set(['Exif', 'mime', 'uri ']);

/** The extents of all items but metadata and thumbnails, in the order of their numbers. */
const heifRanges: Finder = async (source) => {
  const heif = await readHeif(source);
  if (!heif) return [];
  const thumbnails = new Set(heif.references.filter(({ type }) => type === 'thmb').map(({ from }) => from));
  const items = [...heif.items.values()]
    .filter(({ id, type }) => !NO_PICTURE.has(type) && !thumbnails.has(id))
    .sort((a, b) => a.id - b.id);
  return items.flatMap(({ extents }) => extents);
};

/** Size, depth and mode from the header, the colour table, and everything after the image resources. */
const psdRanges: Finder = async (source) => {
  const colourBytes = new ByteView(await source.read(26, 4)).u32(0) ?? 0;
  const resourcesAt = 30 + colourBytes;
  const resourcesBytes = new ByteView(await source.read(resourcesAt, 4)).u32(0);
  if (resourcesBytes === null) return [];
  const rest = resourcesAt + 4 + resourcesBytes;
  return [
    { offset: 12, length: 18 + colourBytes },
    { offset: rest, length: Math.max(0, source.size - rest) },
  ];
};

/** The sensor's data, as the header places them. */
const rafRanges: Finder = async (source) => {
  const head = new ByteView(await source.read(0x64, 8));
  const [offset, length] = [head.u32(0) ?? 0, head.u32(4) ?? 0];
  return length > 0 ? [{ offset, length }] : [];
};

/** Screen, colour tables, frames and what controls them; neither comments nor application extensions. */
const gifRanges: Finder = async (source) => {
  const GRAPHIC_CONTROL = 0xf9;
  const { screenEnd, list } = await readGifParts(source);
  const parts = list.filter(({ kind, label }) => kind === 'frame' || label === GRAPHIC_CONTROL);
  return [{ offset: 6, length: screenEnd - 6 }, ...parts.map(({ offset, end }) => ({ offset, length: end - offset }))];
};

const FINDERS: Readonly<Record<Exclude<Format, 'unknown'>, Finder>> = {
  jpeg: jpegRanges,
  tiff: tiffRanges,
  raw: tiffRanges,
  cr3: videoRanges,
  raf: rafRanges,
  png: pngRanges,
  webp: webpRanges,
  gif: gifRanges,
  heif: heifRanges,
  avif: heifRanges,
  jxl: jxlRanges,
  psd: psdRanges,
  video: videoRanges,
  avi: aviRanges,
  xmp: async () => [],
};

/**
 * The bytes of the picture, in the order in which they are digested; empty where the file does not show which they are.
 */
export async function imageRanges(source: ByteSource, format: Format): Promise<Range[]> {
  if (format === 'unknown') return [];
  const ranges = await FINDERS[format](source);
  const bounded = ranges.map(({ offset, length }) => ({
    offset,
    length: Math.max(0, Math.min(length, source.size - offset)),
  }));
  return bounded.filter(
    ({ offset, length }) => Number.isInteger(offset) && Number.isInteger(length) && offset >= 0 && length > 0,
  );
}
