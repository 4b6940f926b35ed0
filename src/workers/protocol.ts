// What crosses between the page and its workers. Codes and values cross intact; every request ends in one answer.

import type { FileDigests } from '@/core/digest/image-digest';
import type { FieldValues } from '@/core/fields/registry';
import type { Property } from '@/core/reading/properties';
import type { SearchRecord, SearchResult } from '@/core/search/search-index';
import type { DriveFault } from '@/storage/drives/drive';
import type { EmbedResult } from '@/storage/drives/embed-into';
import type { CopyResult } from '@/storage/drives/safe-write';
import type { ReadResult } from '@/storage/jobs/hands';

export interface Requests {
  read: { order: { file: File; name: string }; answer: ReadResult };
  digest: { order: { file: File }; answer: FileDigests };
  properties: { order: { file: File; name: string }; answer: Property[] };
  embed: { order: { root: FileSystemDirectoryHandle; path: string; fields: FieldValues }; answer: EmbedResult };
  copy: { order: { root: FileSystemDirectoryHandle; path: string; file: Blob; expected: string | null }; answer: CopyResult };
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
