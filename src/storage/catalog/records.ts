// The records of the catalog, as they lie in the browser's database. Times are milliseconds since 1970, UTC.

import type { Change, SmartCollection } from '@/core/changes/change';
import type { FileState } from '@/core/fixity/copies';
import type { FieldKey, FieldValues } from '@/core/fields/registry';
import type { Problem } from '@/core/problems/problem';
import type { PhotoReading } from '@/core/reading/reading';

export interface DriveRecord {
  id: string;
  name: string;
  kind: 'folder' | 'practice';
  /** The folder's handle; `null` for a practice drive, whose folder bears its id. */
  handle: FileSystemDirectoryHandle | null;
  access: 'write' | 'read';
  /** A practice drive that the person took out, as one would a cable. */
  takenOut: boolean;
  addedAt: number;
  scannedAt: number | null;
  /** Bytes of all photos at the last scan. */
  bytes: number;
  /** Whether fields are also written into the image files, where their format takes them. */
  embeds: boolean;
}

export interface PhotoRecord extends Omit<PhotoReading, 'fields' | 'captured'> {
  /** The fingerprint of the first file that was read of it; stays, whatever is written into files later. */
  id: string;
  bytes: number;
  /** What holds now: the sidecars' word before the image's own, with all edits. */
  fields: FieldValues;
  /** What its image file said by itself when it was first read. */
  embedded: FieldValues;
  /** Digest of all bytes as first read in full; the measure for every copy of the same bytes. */
  sha256: string | null;
  /** Digest of the picture alone: the measure for every file of the photo. `null` until read, or where a format has none. */
  imageSha256: string | null;
  addedAt: number;
}

export interface SidecarRecord {
  path: string;
  sizeBytes: number;
  modifiedMs: number;
  /** SHA-256 of the sidecar's bytes when we last read or wrote it. */
  sha256: string;
  /** The fields that held then, for telling who changed what. */
  base: FieldValues;
}

export interface FileRecord {
  /** `driveId/path`. */
  id: string;
  driveId: string;
  path: string;
  /** `null` for a file that could not be read as a photo. */
  photoId: string | null;
  sizeBytes: number;
  modifiedMs: number;
  state: FileState;
  fingerprint: string | null;
  sha256: string | null;
  imageSha256: string | null;
  /** What this image file itself says, where that is not what the photo's first file said. */
  embedded: FieldValues | null;
  provenAt: number | null;
  sidecar: SidecarRecord | null;
  /** Where its sidecar is to be written. */
  sidecarTarget: string;
  problems: Problem[];
}

export interface PreviewRecord {
  photoId: string;
  blob: Blob;
}

export interface JournalRecord {
  seq?: number;
  at: number;
  change: Change;
  /** Undone entries can be redone until the next new change drops them. */
  state: 'done' | 'undone' | 'dropped';
}

/** What waits to be written on a drive: a photo's sidecar, or the drive's own archive files. */
export interface OutboxRecord {
  id: string;
  driveId: string;
  /** `null` for the archive files of the drive. */
  fileId: string | null;
  queuedAt: number;
  /** Why the last attempt did not work; `null` while it simply waits. */
  trouble: string | null;
}

export interface ConflictRecord {
  fileId: string;
  photoId: string;
  keys: FieldKey[];
  theirs: FieldValues;
  /** Where their version stands; absent in older records: the sidecar. */
  from?: 'sidecar' | 'file';
  sidecarSha256: string;
  foundAt: number;
}

export type CollectionRecord = SmartCollection;

export type JobKind = 'scan' | 'copy' | 'check';
export type JobState = 'running' | 'paused' | 'interrupted' | 'done' | 'cancelled' | 'failed';

export interface JobProgress {
  phase: 'listing' | 'reading' | 'digesting' | 'copying' | 'finishing';
  doneItems: number;
  totalItems: number;
  doneBytes: number;
  totalBytes: number;
}

export interface JobRecord {
  id: string;
  kind: JobKind;
  driveId: string;
  /** Copy only: the photos chosen, or `null` for all of the source drive; and the drive they go to. */
  photoIds: string[] | null;
  targetDriveId: string | null;
  state: JobState;
  progress: JobProgress;
  /** What it did so far, or in all; `null` while it runs. */
  report: JobReport | null;
  /** What stopped it as a whole. */
  failure: { fault: string; path: string } | null;
  startedAt: number;
  endedAt: number | null;
}

export interface ItemTrouble {
  path: string;
  problem: Problem | { code: 'drive/fault'; fault: string };
}

export type JobReport =
  | { kind: 'scan'; photos: number; added: number; changed: number; moved: { from: string; to: string }[]; missing: string[]; sidecarsTaken: number; conflicts: number; leftovers: string[]; troubles: ItemTrouble[] }
  | { kind: 'copy'; copied: number; alreadyThere: number; bytes: number; troubles: ItemTrouble[] }
  | { kind: 'check'; sound: number; damaged: string[]; missing: string[]; added: string[]; troubles: ItemTrouble[] };
