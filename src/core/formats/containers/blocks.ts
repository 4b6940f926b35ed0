import { type ByteSource, sectionOf } from '../../bytes/source';
import type { DirectoryKind } from '../tiff/tiff';
import type { Position } from '../../geo/position';
import type { Problem } from '../../problems/problem';

/** A TIFF structure with EXIF directories, and the file offset its own offsets count from. */
export interface TiffBlock {
  source: ByteSource;
  offset: number;
  /** What its first directory is; `main` but in raws that keep each directory apart. */
  kind: DirectoryKind;
}

/** What a video says of itself. */
export interface Video {
  seconds: number | null;
  /**
   * ISO 8601, as written. The standard atoms are in UTC by their rule, and say `Z`; others carry their own offset or
   * none.
   */
  created: string | null;
  make: string | null;
  model: string | null;
  gps: Position | null;
  /** How its picture and its sound are coded, as the container names it; `null` where there is none or it is not said. */
  codec: string | null;
  sound: string | null;
}

/** The metadata blocks found in a container, still as raw bytes. */
export interface Blocks {
  /** Stored pixel size, before orientation. `null` where the container does not say. */
  width: number | null;
  height: number | null;
  /** Orientation the container itself applies (1 to 8, as in EXIF); `null` where EXIF decides. */
  orientation: number | null;
  tiffs: TiffBlock[];
  /** XMP packets, in file order; an extended one is put together and stands after its own. */
  xmp: Uint8Array[];
  /** Image resource blocks (which hold IIM), in file order: the parts of one run. */
  resources: Uint8Array[];
  /** IIM that stands alone. */
  iim: Uint8Array[];
  /** Description of the colour profile. */
  profile: string | null;
  previews: EmbeddedPreview[];
  video: Video | null;
  problems: Problem[];
}

/** A smaller picture in the file: where it lies, in bytes. Its pixel size where the container says. */
export interface EmbeddedPreview {
  /** A JPEG can be shown as it is; the others need the decoder's settings that lie elsewhere in the file. */
  coding: 'jpeg' | 'hevc' | 'av1';
  offset: number;
  length: number;
  width: number | null;
  height: number | null;
}

export const noBlocks = (): Blocks => ({
  width: null,
  height: null,
  orientation: null,
  tiffs: [],
  xmp: [],
  resources: [],
  iim: [],
  profile: null,
  previews: [],
  video: null,
  problems: [],
});

/** EXIF as a block of its own; some writers put JPEG's `Exif\0\0` before the TIFF header where it does not belong. */
export function exifBlock(source: ByteSource, offset: number, head: Uint8Array): TiffBlock {
  const skip = String.fromCharCode(...head.subarray(0, 6)) === 'Exif\0\0' ? 6 : 0;
  return { source: sectionOf(source, skip, source.size - skip), offset: offset + skip, kind: 'main' };
}

/** No metadata is longer; a block that says so is named and left. */
export const METADATA_LIMIT_BYTES = 64 * 1024 * 1024;
