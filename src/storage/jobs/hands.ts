// The heavy work on one file. In the application it is done by workers (`workers/hands-client.ts`); in tests and on the
// command line directly. Both give the same answers.

import { type FileDigests, digestBoth } from '@/core/digest/image-digest';
import type { FieldValues } from '@/core/fields/registry';
import { fingerprint } from '@/core/fixity/digest';
import type { Problem } from '@/core/problems/problem';
import { type Property, listProperties } from '@/core/reading/properties';
import { type PhotoReading, readPhoto } from '@/core/reading/reading';
import type { Drive } from '../drives/drive';
import { type EmbedResult, embedInto } from '../drives/embed-into';
import { type CopyResult, blobSource, copyInto } from '../drives/safe-write';
import { newSha256, sha256 } from '../drives/sha256';

export interface ReadResult {
  reading: PhotoReading;
  fingerprint: string;
}

export interface Preview {
  /** A JPEG of at most `PREVIEW_PIXELS` on its long edge; `null` where none could be made. */
  blob: Blob | null;
  /** Why not, where it should have been possible. */
  problem: Problem | null;
}

export interface CopyOrder {
  drive: Drive;
  path: string;
  file: Blob;
  expected: string | null;
}

export interface EmbedOrder {
  drive: Drive;
  path: string;
  fields: FieldValues;
}

export interface Hands {
  read(file: File, name: string, signal?: AbortSignal): Promise<ReadResult>;
  preview(file: File, reading: PhotoReading, signal?: AbortSignal): Promise<Preview>;
  /** SHA-256 of all bytes, and of the picture alone. */
  digest(file: File, onBytes: (bytes: number) => void, signal?: AbortSignal): Promise<FileDigests>;
  /** Everything the file says, raw. */
  properties(file: File, name: string): Promise<Property[]>;
  embed(order: EmbedOrder): Promise<EmbedResult>;
  copy(order: CopyOrder, onBytes: (bytes: number) => void, signal?: AbortSignal): Promise<CopyResult>;
}

export const PREVIEW_PIXELS = 640;

export type MakePreview = (file: Blob, reading: PhotoReading) => Promise<Blob | null>;

/** Work done right here; `makePreview` is handed in, because only a browser can draw. */
export function directHands(makePreview: MakePreview = async () => null): Hands {
  return {
    read: async (file, name) => {
      const source = blobSource(file);
      return { reading: await readPhoto(source, name), fingerprint: await fingerprint(source, sha256) };
    },
    preview: async (file, reading) => {
      try {
        return { blob: await makePreview(file, reading), problem: null };
      } catch (error) {
        return { blob: null, problem: { code: 'preview/not-made', reason: error instanceof Error ? error.message : String(error) } };
      }
    },
    digest: (file, onBytes, signal) =>
      digestBoth(blobSource(file), file.name, newSha256, (bytes) => {
        signal?.throwIfAborted();
        onBytes(bytes);
      }),
    properties: (file, name) => listProperties(blobSource(file), name),
    embed: ({ drive, path, fields }) => embedInto(drive, path, fields, newSha256),
    copy: ({ drive, path, file, expected }, onBytes, signal) => copyInto(drive, path, file, { newDigest: newSha256, onBytes, signal, expected }),
  };
}
