// Every container by its format: one reader each.

import type { ByteSource } from '../../bytes/source';
import { type Blocks, METADATA_LIMIT_BYTES, noBlocks } from './blocks';
import { readVideoBlocks } from './video';
import type { Format } from './formats';
import { readGifBlocks } from './gif';
import { readHeifBlocks } from './heif';
import { readJpegBlocks } from './jpeg';
import { readJxlBlocks } from './jxl';
import { readPngBlocks } from './png';
import { readPsdBlocks } from './psd';
import { readCr3Blocks, readRafBlocks } from './raw';
import { readAviBlocks, readWebpBlocks } from './riff';

const tiffBlocks = async (source: ByteSource): Promise<Blocks> => ({
  ...noBlocks(),
  tiffs: [{ source, offset: 0, kind: 'main' }],
});

/** A sidecar: the whole file is one packet. */
const xmpBlocks = async (source: ByteSource): Promise<Blocks> => ({
  ...noBlocks(),
  xmp: [await source.read(0, METADATA_LIMIT_BYTES)],
});

const READERS: Readonly<Record<Exclude<Format, 'unknown'>, (source: ByteSource) => Promise<Blocks>>> = {
  jpeg: readJpegBlocks,
  tiff: tiffBlocks,
  raw: tiffBlocks,
  cr3: readCr3Blocks,
  raf: readRafBlocks,
  png: readPngBlocks,
  webp: readWebpBlocks,
  gif: readGifBlocks,
  heif: readHeifBlocks,
  avif: readHeifBlocks,
  jxl: readJxlBlocks,
  psd: readPsdBlocks,
  video: readVideoBlocks,
  avi: readAviBlocks,
  xmp: xmpBlocks,
};

export const readBlocks = (source: ByteSource, format: Exclude<Format, 'unknown'>): Promise<Blocks> =>
  READERS[format](source);
