// What crosses between the page and its workers. Codes and values cross intact; every request ends in one answer.

import type { FileDigests } from '@/core/digest/image-digest';
import type { FieldValues } from '@/core/fields/registry';
import type { Property } from '@/core/reading/properties';
import type { PhotoReading } from '@/core/reading/reading';
import type { SearchRecord, SearchResult } from '@/core/search/search-index';
import type { DriveFault } from '@/storage/drives/drive';
import type { EmbedResult } from '@/storage/drives/embed-into';
import type { DemoPack } from '@/storage/drives/practice';
import type { CopyResult } from '@/storage/drives/safe-write';
import type { Preview, ReadResult } from '@/storage/jobs/hands';

export interface Requests {
  read: { order: { file: File; name: string }; answer: ReadResult };
  preview: { order: { file: File; reading: PhotoReading }; answer: Preview };
  digest: { order: { file: File }; answer: FileDigests };
  properties: { order: { file: File; name: string }; answer: Property[] };
  embed: { order: { root: FileSystemDirectoryHandle; path: string; fields: FieldValues }; answer: EmbedResult };
  copy: { order: { root: FileSystemDirectoryHandle; path: string; file: Blob; expected: string | null }; answer: CopyResult };
  layPack: { order: { root: FileSystemDirectoryHandle; pack: DemoPack }; answer: { path: string; modified: number }[] };
  search: { order: { scope: string }; answer: SearchResult };
  count: { order: { scopes: string[] }; answer: number[] };
  put: { order: { records: SearchRecord[]; gone: string[] }; answer: number };
}

export type RequestKind = keyof Requests;

export type ToWorker = { id: number; kind: 'cancel' } | { [K in RequestKind]: { id: number; kind: K; order: Requests[K]['order'] } }[RequestKind];

export type Failure = { name: string; message: string; drive?: { fault: DriveFault; path: string } };

export type FromWorker =
  | { id: number; kind: 'bytes'; bytes: number }
  | { id: number; kind: 'done'; answer: unknown }
  | { id: number; kind: 'failed'; failure: Failure };
