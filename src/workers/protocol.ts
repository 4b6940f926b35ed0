// What crosses between the page and its workers. Codes and values cross intact; every request ends in one answer.

import type { BagAlgorithm } from '@/core/bagit/tag-files';
import type { DictionaryLanguage } from '@/core/text/dictionaries';
import type { FileDigests } from '@/core/metadata/picture-digest/image-digest';
import type { Measure } from '@/core/fixity/found-file';
import type { Keeping } from '@/core/fixity/keeping';
import type { FieldValues } from '@/core/fields/registry';
import type { LatLon } from '@/core/geo/position';
import type { Box } from '@/core/geo/sphere';
import type { Corrections } from '@/core/looks/corrections';
import type { Edges } from '@/core/picture/print-size';
import type { PictureMeasures } from '@/core/picture/measures';
import type { Fit } from '@/core/locate/fit';
import type { Property } from '@/core/metadata/reading/properties';
import type { AlikeGroups } from '@/core/search/alike-groups';
import type { KeptCollection } from '@/core/search/collections';
import type { Completion } from '@/core/search/complete';
import type { Explained } from '@/core/search/explain';
import type { DriveLoss, DriveYears } from '@/core/search/drive-years';
import type { Habits } from '@/core/search/habits';
import type { YearTallies } from '@/core/search/year-tallies';
import type { FolderCount } from '@/core/search/folder-tree';
import type { FacetCounts, FacetName } from '@/core/search/facets';
import type { StringParts } from '@/core/search/strings';
import type { KnownWord } from '@/core/search/vocabulary-words';
import type { Cluster } from '@/core/search/map-photos';
import type { Placing } from '@/core/search/placing';
import type { Ordered, SearchOrder, SearchRecord, SearchResult } from '@/core/search/search-record';
import type { Suggestion } from '@/core/search/word-uses';
import type { Track } from '@/core/locate/tracks/track';
import type { UsedWord } from '@/core/vocabulary/alike';
import type { Histogram } from '@/core/picture/histogram';
import type { SheetPhoto, SheetSettings } from '@/core/send-out/sheet';
import type { SetKind } from '@/core/sift/sets';
import type { SentFailure } from '@/storage/drives/failure';
import type { DeliverOrder, Delivered, MadeBlob } from '@/storage/file-tasks/deliver';
import type { Checksums } from '@/storage/file-tasks/checksums';
import type { EmbedResult } from '@/storage/file-tasks/embed-into';
import type { DemoPack } from '@/storage/connections/practice';
import type { CopyResult } from '@/storage/file-tasks/verified-copy';
import type {
  MadePreview,
  PreviewSize,
  Previewable,
  ReadResult,
  ReadTrack,
  TakenIn,
} from '@/storage/file-tasks/file-tasks';
import type { HandedDrive, HandedFile } from './handing';
import type { DecodeOrder, Decoded, MakeOrder, OpenedPicture, PictureWanted } from './decoding/decoding';

export interface ClustersInView {
  clusters: Cluster[];
  /** Photos of the scope that have a position. */
  placed: number;
  bounds: Box | null;
}

/** A photo of a contact sheet, with the JPEG that stands for it. */
export interface SheetSource extends Omit<SheetPhoto, 'width' | 'height'> {
  picture: Blob | null;
}

export interface SheetOrder {
  settings: SheetSettings;
  photos: SheetSource[];
  title: string;
}

export interface Requests {
  read: { order: { file: HandedFile; name: string }; answer: ReadResult };
  preview: { order: { file: HandedFile; reading: Previewable; size: PreviewSize }; answer: MadePreview };
  digest: { order: { file: HandedFile }; answer: FileDigests };
  checksums: { order: { file: HandedFile; algorithms: readonly BagAlgorithm[] }; answer: Checksums };
  properties: { order: { file: HandedFile; name: string }; answer: Property[] };
  readTrack: { order: { file: HandedFile }; answer: ReadTrack };
  embed: {
    order: { drive: HandedDrive; path: string; fields: FieldValues; expected: Measure | null };
    answer: EmbedResult;
  };
  copy: {
    order: { drive: HandedDrive; path: string; file: HandedFile; name: string; expected: string | null };
    answer: CopyResult;
  };
  takeIn: {
    order: { file: HandedFile; name: string; targets: { drive: HandedDrive; path: string }[]; isPhoto: boolean };
    answer: TakenIn;
  };
  deliver: {
    order: Omit<DeliverOrder, 'drive' | 'file'> & { drive: HandedDrive | null; file: HandedFile };
    answer: Delivered;
  };
  zip: {
    order: { drive: HandedDrive; path: string; entries: { name: string; file: HandedFile; modifiedMs: number }[] };
    answer: { path: string };
  };
  layPack: { order: { root: FileSystemDirectoryHandle; pack: DemoPack }; answer: { path: string; modified: number }[] };
  show: { order: { file: HandedFile; reading: Previewable; wanted: PictureWanted }; answer: OpenedPicture };
  decode: { order: DecodeOrder; answer: Decoded };
  make: { order: MakeOrder; answer: MadeBlob };
  sheet: { order: SheetOrder; answer: Blob };
  sharpness: { order: { file: HandedFile; reading: Previewable }; answer: number };
  measures: { order: { preview: Blob }; answer: PictureMeasures };
  overlap: { order: { a: Blob; b: Blob }; answer: boolean };
  /** A picture that lies upright, as it is corrected; the bitmap is a copy. */
  correct: { order: { bitmap: ImageBitmap; corrections: Corrections; full: Edges }; answer: { bitmap: ImageBitmap } };
  /** A preview, as it is corrected. */
  redraw: { order: { preview: Blob; corrections: Corrections }; answer: Blob };
  histogram: {
    order: { file: HandedFile; reading: Previewable; corrections: Corrections };
    answer: { histogram: Histogram; clipped: ImageBitmap };
  };
  /** The index as it was kept; `null` where there is none that is whole. `upTo` is the last change it knows of. */
  openIndex: {
    order: { name: string; catalog: string };
    answer: { ids: StringParts; size: number; upTo: number } | null;
  };
  /** Answers with its length in bytes. */
  keepIndex: { order: { name: string; catalog: string; upTo: number }; answer: number };
  search: { order: SearchOrder; answer: SearchResult };
  count: { order: { scopes: string[] }; answer: number[] };
  /** The drives, and the folders in each of these, with the photos of all. */
  folders: { order: { open: string[] }; answer: Record<string, FolderCount[]> };
  /** How the photos of each year stand on each drive. */
  driveYears: { order: { verifiedWithinDays: number }; answer: DriveYears };
  /** The photos of each year in a scope, divided by a facet. */
  years: { order: { scope: string; by: FacetName | null; limit: number }; answer: YearTallies };
  habits: { order: { scope: string }; answer: Habits };
  driveLoss: { order: { driveId: string; keeping: Keeping }; answer: DriveLoss };
  facets: { order: { scope: string; names: readonly FacetName[]; limit: number }; answer: FacetCounts };
  explain: { order: { scope: string }; answer: Explained };
  complete: { order: { text: string; cursor: number; limit: number }; answer: Completion[] };
  days: { order: { scope: string; year: number }; answer: Map<number, number> };
  setsOf: { order: { ids: string[] }; answer: { kind: SetKind | null; ids: string[] }[] };
  ordered: { order: { ids: string[] }; answer: Ordered };
  questions: { order: { limit: number }; answer: [string, string][] };
  knowWords: { order: { words: KnownWord[] }; answer: null };
  knowCollections: { order: { collections: KeptCollection[] }; answer: null };
  /** Groups of photos that look alike, or have the same picture, in the order taken. */
  alike: { order: { scope: string; bits: number }; answer: AlikeGroups };
  keywordCounts: { order: Record<string, never>; answer: UsedWord[] };
  carriers: { order: { words: string[] }; answer: string[] };
  suggest: { order: { ids: string[]; limit: number }; answer: Suggestion[] };
  peopleNear: { order: { id: string; limit: number }; answer: string[] };
  placing: { order: { scope: string }; answer: Placing };
  fit: {
    order: { photos: { utcSeconds: number; position: LatLon | null }[]; tracks: Track[] };
    answer: { positions: Fit | null; stops: Fit | null };
  };
  clusters: { order: { scope: string; box: Box; zoom: number }; answer: ClustersInView };
  textWords: { order: Record<string, never>; answer: UsedWord[] };
  /** Words the dictionary does not know, of these. */
  misspelt: { order: { words: string[]; languages: DictionaryLanguage[] }; answer: string[] };
  /** What was most likely meant. */
  corrections: { order: { word: string; languages: DictionaryLanguage[] }; answer: string[] };
  put: { order: { records: SearchRecord[]; gone: string[] }; answer: { slots: Uint32Array; size: number } };
}

export type RequestKind = keyof Requests;

export type ToWorker =
  | { id: number; kind: 'cancel' }
  | { [K in RequestKind]: { id: number; kind: K; order: Requests[K]['order'] } }[RequestKind];

export type FromWorker =
  /** It waits for another worker and is well. */
  | { kind: 'alive' }
  | { id: number; kind: 'bytes'; bytes: number }
  | { id: number; kind: 'done'; answer: unknown }
  | { id: number; kind: 'failed'; failure: SentFailure };
