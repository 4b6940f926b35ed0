// The heavy work on one file. In the application it is done by workers (`workers/file-task-client.ts`); in tests and on
// the command line directly. Both give the same answers.

import type { BagAlgorithm } from '@/core/bagit/tag-files';
import type { ByteSource } from '@/core/bytes/source';
import { type FileDigests, type NewDigest, digestBoth } from '@/core/metadata/picture-digest/image-digest';
import type { Format } from '@/core/formats/containers/formats';
import type { FieldValues } from '@/core/fields/registry';
import { fingerprint } from '@/core/bytes/digest';
import type { Problem } from '@/core/problems/problem';
import { Undecodable, pictureProblemOf } from '@/core/problems/undecodable';
import { type Property, listProperties } from '@/core/metadata/reading/properties';
import { DEFAULT_GAP_SECONDS } from '@/core/locate/match';
import { type PhotoReading, readPhoto } from '@/core/metadata/reading/reading';
import { zoneOfPlace } from '@/core/time/zone-of-place';
import { type TrackFile, readTrack } from '@/core/locate/tracks/read-track';
import { type TrackFacts, factsOf, pointAt } from '@/core/locate/tracks/track';
import type { Measure } from '@/core/fixity/found-file';
import { type Drive, DriveError, type OpenedFile, type LazyBytes } from '../drives/drive';
import { type EmbedResult, embedInto } from './embed-into';
import { blobSource, bytesOf } from '../drives/safe-write';
import { type DecodeMade, type DeliverOrder, type Delivered, type MakePicture, deliver } from './deliver';
import { type Checksums, checksumsOf } from './checksums';
import { type CopyResult, type PlacedCopy, type Target, copyVerified } from './verified-copy';
import { newSha256, sha256, sha256Hex } from '../drives/sha256';
import { type ZipOrder, packZip } from './zip';

export interface ReadResult {
  reading: PhotoReading;
  fingerprint: string;
}

export interface MadePreview {
  /** A JPEG of at most `PREVIEW_PIXELS` of its size on its long edge; `null` where none could be made. */
  blob: Blob | null;
  /** Why not, where it should have been possible. */
  problem: Problem | null;
}

export interface CopyOrder {
  drive: Drive;
  path: string;
  file: LazyBytes;
  /** The source's name, which says how its picture is found in it. */
  name: string;
  expected: string | null;
}

export interface TakeInOrder {
  file: OpenedFile;
  /** Its path on the source. */
  name: string;
  targets: Target[];
  /** Whether it is a photo or video: then its metadata are read and a preview is made from the same reading. */
  isPhoto: boolean;
}

export interface TakenIn {
  /** `null` for what is no photo. */
  read: ReadResult | null;
  /** `null` where it could be placed nowhere and was too long to be held in memory. */
  digests: FileDigests | null;
  preview: Blob | null;
  /** The bytes of what is no photo, where they are few: those of a sidecar are wanted at once. */
  bytes: Uint8Array | null;
  /** In the order of the targets. */
  placed: PlacedCopy[];
}

export interface EmbedOrder {
  drive: Drive;
  path: string;
  fields: FieldValues;
  /** What the file is held against before it is written into. */
  expected: Measure | null;
}

export interface ReadTrack {
  sha256: string;
  file: TrackFile;
  facts: TrackFacts | null;
  /** Zone of its first point. */
  zone: string | null;
}

export interface FileTasks {
  read(file: OpenedFile, name: string, signal?: AbortSignal): Promise<ReadResult>;
  preview(file: OpenedFile, reading: Previewable, size: PreviewSize, signal?: AbortSignal): Promise<MadePreview>;
  /** SHA-256 of all bytes, and of the picture alone. */
  digest(file: OpenedFile, onBytes: (bytes: number) => void, signal?: AbortSignal): Promise<FileDigests>;
  /** Of all bytes, by each of the algorithms. */
  checksums(
    file: OpenedFile,
    algorithms: readonly BagAlgorithm[],
    onBytes: (bytes: number) => void,
    signal?: AbortSignal,
  ): Promise<Checksums>;
  /** Everything the file says, raw. */
  properties(file: OpenedFile, name: string): Promise<Property[]>;
  readTrack(file: OpenedFile, signal?: AbortSignal): Promise<ReadTrack>;
  embed(order: EmbedOrder): Promise<EmbedResult>;
  /** Copies, digests, metadata and preview from one reading of the file. */
  takeIn(order: TakeInOrder, onBytes: (bytes: number) => void, signal?: AbortSignal): Promise<TakenIn>;
  copy(order: CopyOrder, onBytes: (bytes: number) => void, signal?: AbortSignal): Promise<CopyResult>;
  /** A photo made ready and placed where it is sent. */
  deliver(order: DeliverOrder, onBytes: (bytes: number) => void, signal?: AbortSignal): Promise<Delivered>;
  /** Files packed into one. */
  zip(order: ZipOrder, onBytes: (bytes: number) => void, signal?: AbortSignal): Promise<{ path: string }>;
}

/** `small` is for walls, `large` fills a screen; `full` has real pixels, to judge sharpness by while the drive is away. */
export type PreviewSize = 'small' | 'large' | 'full';
export type LargePreviewSize = Exclude<PreviewSize, 'small'>;

/** Long edge in pixels. */
/** Of pictures larger than the last one, which no browser draws on one canvas for sure, that many. */
export const PREVIEW_PIXELS: Record<PreviewSize, number> = { small: 640, large: 2560, full: 12_000 };

/** Bytes a pixel of a preview takes (measured over the demo and over grain: 0.1 to 0.5). */
const PREVIEW_BYTES_A_PIXEL = 0.3;

/** What previews of real pixels of these photos will take, about. */
export const fullPreviewBytes = (photos: readonly Pick<Previewable, 'width' | 'height'>[]): number =>
  photos.reduce((sum, { width, height }) => sum + (width ?? 0) * (height ?? 0) * PREVIEW_BYTES_A_PIXEL, 0);

/** What drawing a preview needs to know of a photo. */
export type Previewable = Pick<PhotoReading, 'format' | 'orientation' | 'width' | 'height' | 'profile' | 'previews'>;

/** More pixels than this are not held whole, but decoded part by part: four bytes each, and two such pictures at hand. */
const WHOLE_LIMIT_PIXELS = 50_000_000;

export const isLarge = ({ width, height }: Pick<Previewable, 'width' | 'height'>): boolean =>
  (width ?? 0) * (height ?? 0) > WHOLE_LIMIT_PIXELS;

/** A preview is a JPEG that lies upright and has no others in it. */
export const OF_PREVIEW: Previewable = {
  format: 'jpeg',
  orientation: 1,
  width: null,
  height: null,
  profile: null,
  previews: [],
};

/** What of a photo is handed to whoever draws it. */
export const previewableOf = ({ format, orientation, width, height, profile, previews }: Previewable): Previewable => ({
  format,
  orientation,
  width,
  height,
  profile,
  previews,
});

/** Raised when drawing learns something: what could not be drawn is tried again. */
export const DRAWING_VERSION = 1;

/** An embedded JPEG shorter than this is a thumbnail of 160 pixels, too small for a wall. */
export const WALL_PREVIEW_BYTES = 24 * 1024;
const DECODED_AT_ONCE: ReadonlySet<Format> = new Set<Format>(['jpeg', 'png', 'webp', 'gif', 'avif', 'jxl']);

/** Whether its preview comes of itself while the file is read; others take seconds, and are drawn when there is time. */
export const isDrawnAtOnce = ({ format, previews }: Pick<Previewable, 'format' | 'previews'>): boolean =>
  DECODED_AT_ONCE.has(format) ||
  previews.some(({ coding, length }) => coding === 'jpeg' && length >= WALL_PREVIEW_BYTES);

const NOT_YET: MadePreview = { blob: null, problem: null };

/** No sidecar is longer. */
const FEW_BYTES = 4 * 1024 * 1024;

export type MakePreview = (file: LazyBytes, reading: Previewable, size: PreviewSize) => Promise<Blob | null>;

/** What only a browser can do. */
export interface Drawing {
  makePreview: MakePreview;
  makePicture: MakePicture;
  decodeMade: DecodeMade;
}

const NO_DRAWING: Drawing = {
  makePreview: async () => null,
  makePicture: () => Promise.reject(new Undecodable({ code: 'picture/no-decoder', format: 'any' })),
  decodeMade: () => Promise.reject(new Undecodable({ code: 'picture/no-decoder', format: 'any' })),
};

/** Work done right here. */
export function directFileTasks(
  drawing: Partial<Drawing> = {},
  { newDigest, heldBytes }: { newDigest: NewDigest; heldBytes?: number } = { newDigest: newSha256 },
): FileTasks {
  const { makePreview, makePicture, decodeMade } = { ...NO_DRAWING, ...drawing };
  const read = async (source: ByteSource, name: string): Promise<ReadResult> => ({
    reading: await readPhoto(source, name),
    fingerprint: await fingerprint(source, sha256),
  });
  const preview = async (file: LazyBytes, reading: Previewable, size: PreviewSize): Promise<MadePreview> => {
    try {
      return { blob: await makePreview(file, reading, size), problem: null };
    } catch (error) {
      return { blob: null, problem: pictureProblemOf(error) };
    }
  };
  return {
    read: (file, name) => read(blobSource(file), name),
    preview,
    takeIn: async ({ file, name, targets, isPhoto }, onBytes, signal) => {
      const { digests, placed, source, blob } = await copyVerified(file, name, targets, {
        newDigest,
        onBytes,
        signal,
        ...(heldBytes && { heldBytes }),
      });
      if (!isPhoto)
        return {
          read: null,
          digests,
          preview: null,
          bytes: blob.size <= FEW_BYTES ? await bytesOf(blob) : null,
          placed,
        };
      const result = await read(source, name);
      const drawn = isDrawnAtOnce(result.reading) ? await preview(blob, result.reading, 'small') : NOT_YET;
      if (drawn.problem) result.reading.problems.push(drawn.problem);
      return { read: result, digests, preview: drawn.blob, bytes: null, placed };
    },
    digest: (file, onBytes, signal) =>
      digestBoth(blobSource(file), file.name, newDigest, (bytes) => {
        signal?.throwIfAborted();
        onBytes(bytes);
      }),
    checksums: (file, algorithms, onBytes, signal) =>
      checksumsOf(blobSource(file), algorithms, (bytes) => {
        signal?.throwIfAborted();
        onBytes(bytes);
      }),
    properties: (file, name) => listProperties(blobSource(file), name),
    readTrack: async (file) => {
      const bytes = await bytesOf(file);
      const read = readTrack(bytes);
      const track = read.state === 'read' ? read.reading.track : null;
      return {
        sha256: await sha256Hex(bytes),
        file: read,
        facts: track && factsOf(track, DEFAULT_GAP_SECONDS),
        zone: track && zoneOfPlace(pointAt(track, 0)),
      };
    },
    embed: ({ drive, path, fields, expected }) => embedInto(drive, path, fields, expected, newDigest),
    copy: async ({ drive, path, file, name, expected }, onBytes, signal) => {
      const { digests, placed } = await copyVerified(file, name, [{ drive, path }], {
        newDigest,
        onBytes,
        signal,
        expected,
        ...(heldBytes && { heldBytes }),
      });
      const [one] = placed;
      if (one?.state !== 'placed' || !digests)
        throw new DriveError(one?.state === 'failed' ? one.problem : 'failed', path);
      return { ...one, sha256: digests.file, imageSha256: digests.image };
    },
    zip: (order, onBytes, signal) => packZip(order, { newDigest, onBytes, signal }),
    deliver: (order, onBytes, signal) =>
      deliver(order, { makePicture, decodeMade, newDigest, sha256, onBytes, signal }),
  };
}
