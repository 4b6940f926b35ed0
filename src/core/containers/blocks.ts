import type { ByteSource } from '../bytes/source';
import type { Problem } from '../problems/problem';

/** The metadata blocks found in a container, still as raw bytes. */
export interface Blocks {
  /** Stored pixel size, before orientation. `null` where the container does not say. */
  width: number | null;
  height: number | null;
  /** A TIFF structure with EXIF directories, and the file offset its own offsets count from. */
  exif: { source: ByteSource; offset: number } | null;
  /** XMP packets, in file order. */
  xmp: Uint8Array[];
  /** Photoshop image resource blocks (which hold IIM), in file order. */
  photoshop: Uint8Array[];
  problems: Problem[];
}

/** An embedded JPEG: where it lies in the file, in bytes. Its pixel size where the container says. */
export interface Preview {
  offset: number;
  length: number;
  width: number | null;
  height: number | null;
}

export const noBlocks = (): Blocks => ({ width: null, height: null, exif: null, xmp: [], photoshop: [], problems: [] });
