// What a scan of a drive works on: the drive with all that is known of it, and a file as far as it was read.

import type { FileDigests } from '@/core/metadata/picture-digest/image-digest';
import type { Words } from '@/core/fields/merge';
import type { Claim, Kin, Measure } from '@/core/fixity/found-file';
import type { DriveRecords } from '../archive/fixity-file';
import type { SentHere } from '../catalog/sendable';
import type { FileRecord, JobReport, PhotoRecord } from '../catalog/records';
import type { FoundSidecar } from '../catalog/sidecars';
import type { Drive, DriveEntry, OpenedFile } from '../drives/drive';
import type { ReadResult } from '../file-tasks/file-tasks';
import type { JobTools } from './job-tools';

export interface ScanItem {
  entry: DriveEntry;
  known: FileRecord | null;
  sidecar: DriveEntry | null;
  sidecarTarget: string;
  /** How often it was read; absent for once. */
  readings?: number;
}

export type Sidecars = Map<string, { found: FoundSidecar | null; forEnding: string | null }>;

/** A drive that is scanned, and what is known of it. */
export interface ScanContext {
  tools: JobTools;
  driveId: string;
  drive: Drive;
  /** Whether the drive bears its mark. */
  marked: boolean;
  report: JobReport & { kind: 'scan' };
  sidecars: Sidecars;
  /** What the drive's own records say. */
  records: DriveRecords;
  /** Photos of files that were written into, by the fingerprint the file has since. */
  identities: ReadonlyMap<string, string>;
  /** Whether this catalog knows better than the drive's records, and has not written it there yet. */
  isPending: boolean;
  /** Paths of photos that are there. */
  there: ReadonlySet<string>;
  /** What was sent from here. */
  sent: SentHere;
  /** Files of the catalog on this drive, by their paths. */
  known: ReadonlyMap<string, FileRecord>;
}

/** A file that was opened and read as far as it had to be. */
export interface Opened {
  file: OpenedFile;
  result: ReadResult;
  digests: FileDigests | null;
  kin: Kin[];
  claim: Claim | null;
}

export const asRecorded = (
  entry: DriveEntry,
  record: { sizeBytes: number; modifiedMs: number } | null | undefined,
): boolean =>
  record !== null &&
  record !== undefined &&
  record.sizeBytes === entry.sizeBytes &&
  record.modifiedMs === entry.modifiedMs;

export const measureOf = ({ sha256, imageSha256 }: Pick<FileRecord, 'sha256' | 'imageSha256'>): Measure | null =>
  sha256 === null ? null : { sha256, imageSha256 };

export function newFile(context: ScanContext, { entry, known, sidecarTarget }: ScanItem): FileRecord {
  return {
    id: `${context.driveId}/${entry.path}`,
    driveId: context.driveId,
    path: entry.path,
    photoId: null,
    sizeBytes: entry.sizeBytes,
    modifiedMs: entry.modifiedMs,
    state: 'present',
    fingerprint: null,
    sha256: null,
    imageSha256: null,
    measuredFrom: null,
    foundSha256: null,
    embedded: null,
    verifiedAt: null,
    sidecar: known?.sidecar ?? null,
    sidecarTarget,
    wantedPath: known?.wantedPath ?? null,
    movingTo: known?.movingTo ?? null,
    problems: [],
    addedAt: known?.addedAt ?? addedAt(context, entry.path),
  };
}

/** When it came into the catalog: as the drive remembers it, else now. */
function addedAt(context: ScanContext, path: string): number {
  return context.records.byPath.get(path)?.addedAt ?? context.tools.now();
}

export function newPhoto(
  context: ScanContext,
  item: ScanItem,
  { reading }: ReadResult,
  id: string,
  measure: Measure | null,
  words: Words | null,
): PhotoRecord {
  const { fields: embedded, captured: _, ...technical } = reading;
  return {
    ...technical,
    id,
    bytes: item.entry.sizeBytes,
    embedded,
    fields: words?.fields ?? embedded,
    versions: words?.versions ?? {},
    sha256: measure?.sha256 ?? null,
    imageSha256: measure?.imageSha256 ?? null,
    addedAt: addedAt(context, item.entry.path),
  };
}
