// The records of the catalog, as they lie in the browser's database. Times are milliseconds since 1970, UTC.

import type { Change, Conflict } from '@/core/catalog/change';
import type { HistoryLine } from '@/core/catalog/history';
import type { Versions } from '@/core/fields/merge';
import type { FileState } from '@/core/fixity/copies';
import type { FieldValues } from '@/core/fields/registry';
import type { Pattern } from '@/core/names/pattern';
import type { PictureMeasures } from '@/core/picture/measures';
import type { Problem, TrackProblem } from '@/core/problems/problem';
import type { PhotoReading } from '@/core/metadata/reading/reading';
import type { Accession, AccessionFile } from '@/core/take-in/accession';
import type { Run } from '@/core/take-in/sheet';
import type { SentFile } from '@/core/send-out/delivery';
import type { DeliveryProfile } from '@/core/send-out/delivery-profile';
import type { TrackKind } from '@/core/locate/tracks/read-track';
import type { Dropped, Track, TrackFacts } from '@/core/locate/tracks/track';

/** A folder that the host serves: its id there, and its path as it was told. */
export interface ServedPlace {
  folder: string;
  path: string;
}

export interface DriveRecord {
  id: string;
  name: string;
  kind: 'folder' | 'practice';
  /** The folder's handle; `null` for a practice drive, whose folder bears its id. */
  handle: FileSystemDirectoryHandle | null;
  /** Where it lies on this machine, if the host serves it; then there is no handle. */
  served?: ServedPlace | null;
  access: 'write' | 'read';
  /** A practice drive that the person took out, as one would a cable. */
  takenOut: boolean;
  addedAt: number;
  scannedAt: number | null;
  /** When it was last seen connected; absent before that was noted. */
  seenAt?: number;
  /** ISO date of the day on which its daily portion was last checked. */
  portionOn?: string;
  /** Bytes of all photos at the last scan. */
  bytes: number;
  /** Whether fields are also written into the image files, where their format takes them. */
  embeds: boolean;
  /**
   * Whether it bears its mark. Copies on a drive without one do not count as verified: nothing tells it from another.
   */
  marked: boolean;
  /** How far the history of each catalog is written on it: the number of the last act. */
  historyThrough?: Record<string, number>;
}

export interface PhotoRecord extends Omit<PhotoReading, 'fields' | 'captured'> {
  /** The fingerprint of the first file that was read of it; stays, whatever is written into files later. */
  id: string;
  bytes: number;
  /** What holds now: the sidecars' word before the image's own, with all edits. */
  fields: FieldValues;
  /** The versions of fields that were ever changed; absent before there were any. */
  versions?: Versions;
  /** What its image file said by itself when it was first read. */
  embedded: FieldValues;
  /** Digest of all bytes as first read in full; the measure for every copy of the same bytes. */
  sha256: string | null;
  /**
   * Digest of the picture alone: the measure for every file of the photo. `null` until read, or where a format has
   * none.
   */
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
  /**
   * The measure: the first digest of all its bytes that was ever recorded. Only a change made by Wembo, metadata
   * another program wrote beside an unchanged picture, or the person gives it another.
   */
  sha256: string | null;
  /** The measure of the picture alone. */
  imageSha256: string | null;
  /** Where the measure comes from; `null` without one. */
  measuredFrom: 'reading' | 'drive' | 'copy' | 'writing' | null;
  /** The digest that was read instead, of a file that is damaged; the other measure, of one that is in doubt. */
  foundSha256: string | null;
  /** What this image file itself says, where that is not what the photo's first file said. */
  embedded: FieldValues | null;
  /** When all its bytes were last read and matched, on a drive that bears its mark. */
  verifiedAt: number | null;
  sidecar: SidecarRecord | null;
  /** Where its sidecar is to be written. */
  sidecarTarget: string;
  /** The path it is to get when the outbox comes to its drive; `null` where it has the one it should. */
  wantedPath: string | null;
  /**
   * The path it is being moved to, noted before it is: where it may lie already when the page was closed in the middle.
   */
  movingTo: string | null;
  problems: Problem[];
  /** When the photo came with it into the catalog, or into the one before: the drive's own records keep it. */
  addedAt?: number;
}

export interface TrackRecord {
  /** SHA-256 of the file's bytes. */
  id: string;
  /** File name. */
  name: string;
  kind: TrackKind | null;
  /** What the file calls it. */
  title: string | null;
  track: Track | null;
  facts: TrackFacts | null;
  dropped: Dropped | null;
  /** What is wrong with it, although points could be read. */
  problem: TrackProblem | null;
  /** Zone of its first point. */
  zone: string | null;
  places: { driveId: string; path: string; sizeBytes: number; modifiedMs: number }[];
  /** The file itself, of one that was handed over. */
  kept: Blob | null;
  /** Whether photos are matched to it. */
  used: boolean;
  addedAt: number;
}

export interface PreviewRecord {
  photoId: string;
  blob: Blob;
}

/** Absent for one that fills a screen, as all were before there were others. */
export interface LargePreviewRecord extends PreviewRecord {
  size?: 'large' | 'full';
}

/** A photo of which no preview could be drawn: why, and by which version of drawing. */
export interface UndrawnRecord {
  photoId: string;
  problem: Problem | null;
  version: number;
}

/** Whether the pictures of two photos overlap at an edge: asked once, for panoramas. */
export interface OverlapRecord {
  /** `a b` */
  id: string;
  a: string;
  b: string;
  overlaps: boolean;
}

/** How sharp the picture of a photo is; of what it was measured, and by which version of the measure. */
export interface SharpnessRecord {
  photoId: string;
  figure: number;
  of: 'original' | 'preview';
  version: number;
}

/** The measures of a photo's preview; by which version of the measure. `null` where it cannot be decoded. */
export interface PictureMeasuresRecord {
  photoId: string;
  measures: PictureMeasures | null;
  version: number;
}

/**
 * What changed of which photos, or on a whole drive, in one act. The first one names the catalog, so that no other
 * catalog's index is taken for its own.
 */
export interface UnindexedRecord {
  seq?: number;
  photoIds: string[];
  driveIds: string[];
  catalog?: string;
}

export interface JournalRecord {
  seq?: number;
  at: number;
  change: Change;
  /**
   * Undone entries can be redone until the next new change drops them. `noted`: for the history alone; undo does not
   * come to it.
   */
  state: 'done' | 'undone' | 'dropped' | 'noted';
  /** The photos it is about. */
  photoIds: string[];
  /** The entry that this one takes back, or does again. */
  of?: { seq: number; how: 'undo' | 'redo' };
}

/** What waits to be done on a drive. Where a task says nothing else, it is done with what the catalog holds then. */
export type OutboxTask =
  | { kind: 'sidecar'; fileId: string }
  /** The file is to get its `wantedPath`, and its sidecar with it. */
  | { kind: 'move'; fileId: string }
  /** A copy of what lies on another drive; of a photo, or (`photoId` null) of what was taken in beside one. */
  | {
      kind: 'copy';
      photoId: string | null;
      from: { driveId: string; path: string };
      path: string;
      sha256: string;
      accessionFileId: string;
    }
  /** The drive's mark, all that is kept under names, and the tracks that were handed over. */
  | { kind: 'archive' }
  /** The history of what was changed. With `restMs` only when nothing was changed for so long. */
  | { kind: 'history'; restMs: number }
  /**
   * Manifest, proofs and identities. With `restMs` only when nothing asked for it again for so long: it costs a look at
   * every file of the drive.
   */
  | { kind: 'manifest'; restMs?: number }
  /** A file that was set aside is to be erased, with its sidecar and what lies beside it. */
  | { kind: 'erase'; fileId: string }
  | { kind: 'accession'; accessionId: string };

/** Whether it is about files of the person's, and not about Wembo's own records of the drive. */
export const isOfFiles = ({ kind }: OutboxTask): boolean =>
  kind === 'sidecar' || kind === 'move' || kind === 'copy' || kind === 'erase';

/** Waits only for the writing to come to rest. */
export const isResting = ({ task, problem }: OutboxRecord): boolean =>
  (task.kind === 'manifest' || task.kind === 'history') && (task.restMs ?? 0) > 0 && problem === null;

/**
 * A path on a drive whose line in the manifest is to go: its file was moved or removed by an act of ours, or the person
 * settled that it is gone.
 */
export interface RetiredRecord {
  /** `driveId/path`. */
  id: string;
  driveId: string;
}

export interface OutboxRecord {
  id: string;
  driveId: string;
  task: OutboxTask;
  queuedAt: number;
  /**
   * Another one whenever it is queued: by this it is seen that something changed again while it was done, whatever the
   * clock says.
   */
  ticket?: string;
  /** Why the last attempt did not work; `null` while it simply waits. */
  problem: string | null;
}

export type ConflictRecord = Conflict;

/** A file of ours on a drive that could not be understood, wholly or in parts. */
export interface ArchiveProblemRecord {
  /** `driveId/path`. */
  id: string;
  driveId: string;
  path: string;
  /**
   * `newer`: written by a later version, left as it is. `broken`: kept aside under another name. `items`: some of what
   * stands in it, which stays there.
   */
  kind: 'newer' | 'broken' | 'items';
  reason: string;
  items: number;
  keptAs: string | null;
  foundAt: number;
}

/** A sidecar beside which no photo of its name lies, as a scan found it. */
export interface LeftBehindRecord {
  /** `driveId/path`. */
  id: string;
  driveId: string;
  path: string;
  sizeBytes: number;
  modifiedMs: number;
}

/** A line of history that another catalog wrote. */
export interface PastRecord {
  /** `catalog/seq/part`. */
  id: string;
  catalog: string;
  seq: number;
  at: number;
  photoIds: string[];
  line: HistoryLine;
}

/** A file of history on a drive, as it was when it was last read or written. */
export interface HistoryFileRecord {
  /** `driveId/path`. */
  id: string;
  driveId: string;
  sizeBytes: number;
  modifiedMs: number;
}

/** A card or folder that photos are taken in from: never written to, never cataloged. */
export interface SourceRecord {
  id: string;
  name: string;
  kind: 'folder' | 'practice';
  handle: FileSystemDirectoryHandle | null;
  served?: ServedPlace | null;
  access: 'read' | 'write';
  takenOut: boolean;
  usedAt: number;
}

/** A map of the person’s own; `own` is the only one. */
export interface MapFileRecord {
  id: string;
  handle: FileSystemFileHandle;
}

export interface AccessionRecord extends Accession {
  sourceId: string;
  /** When its record was last written on a drive; `null` before. */
  recordedAt: number | null;
  runs: Run[];
}

export interface AccessionFileRecord extends AccessionFile {
  /** `accessionId/from` */
  id: string;
  accessionId: string;
  /** The frame it belongs to, by its key. */
  frame: string;
  to: string;
  second: string | null;
  photoId: string | null;
  /** Whether what is written on arrival was put on it. */
  described: boolean;
}

/** A delivery that was begun: the profile as it was then. What arrived is noted as a delivery of the same id. */
export interface DeliveryRunRecord {
  id: string;
  profile: DeliveryProfile;
  /** ISO 8601 date. */
  day: string;
  /** Milliseconds since 1970, UTC. */
  begunAt: number;
  /** Where its ZIP goes; `null` where it is none. */
  zipPath: string | null;
}

export interface DeliveryItemRecord {
  /** `runId/photoId` */
  id: string;
  runId: string;
  photoId: string;
  /** Its place in the delivery. */
  order: number;
  /** Where it goes; within a ZIP, from its root. */
  driveId: string;
  path: string;
  pixels: { width: number; height: number } | null;
  /** Once it has arrived. */
  sent: SentFile | null;
}

/** What a person agreed to who has a card emptied, or room freed on a drive, where the rule says how many copies. */
export interface Agreed {
  files: number;
  copies: number;
  awayCounts: boolean;
}

/** What a person asks of a bag. */
export interface BagAsked {
  name: string;
  /** Of the drive it is made on; it holds nothing else. */
  folder: string;
  algorithm: 'sha256' | 'sha512';
  organization: string;
  contact: string;
  description: string;
}

/** Photos go to a folder of another drive. */
export interface GoingOver {
  /** The folder whose tree is kept; `null` where all of them go into one folder. */
  from: string | null;
  to: string;
  /** What lies here is set aside once it is there, verified. */
  leaves: boolean;
}

export type JobKind =
  'scan' | 'copy' | 'check' | 'drill' | 'take-in' | 'empty' | 'free' | 'bag' | 'backup' | 'previews' | 'deliver';
export type JobState = 'running' | 'paused' | 'interrupted' | 'done' | 'cancelled' | 'failed';

export interface JobProgress {
  phase:
    | 'listing'
    | 'reading'
    | 'digesting'
    | 'copying'
    | 'removing'
    | 'waiting'
    | 'drawing'
    | 'sending'
    | 'recording'
    | 'finishing';
  doneItems: number;
  totalItems: number;
  doneBytes: number;
  totalBytes: number;
}

export interface JobRecord {
  id: string;
  kind: JobKind;
  /** The drive it works on, or reads from; of large previews none. */
  driveId: string;
  /**
   * Copy, freeing room and large previews: the photos chosen, or `null` for all of the drive; and the drive a copy goes to.
   */
  photoIds: string[] | null;
  targetDriveId: string | null;
  /** Copy only, where the photos do not go into the same folders there, but into folders by this pattern. */
  folders?: Pattern | null;
  /** Or over there, into one folder. */
  over?: GoingOver;
  /** Copy of a whole drive only: its files that are no photos go along. */
  whole?: boolean;
  /** Then only: the drive it is copied to takes its place. */
  replaces?: boolean;
  /** Check only: of the bytes on the drive the share that is read; absent for all. */
  share?: number;
  /** Deliveries only: further drives they go to. */
  alsoDriveIds?: string[];
  /** Take in and emptying only. */
  accessionId: string | null;
  /** Deliveries only. */
  deliveryId?: string;
  sourceId: string | null;
  /**
   * Emptying and freeing room only: what the person agreed to. Nothing is removed when more files turn out to be such
   * that may go.
   */
  agreed: Agreed | null;
  /**
   * Large previews only: whether it works between ten in the evening and six in the morning, by this computer's clock.
   */
  byNight: boolean;
  /** Large previews only: how large; absent for those that fill a screen. */
  previewSize?: 'large' | 'full';
  /** Bags only. */
  bag?: BagAsked;
  /** Bytes a second it may read and write, on average; absent or `null` for all there are. */
  limit?: number | null;
  /** Started because files were noticed in a known folder. */
  noticed: boolean;
  state: JobState;
  progress: JobProgress;
  /** What it did so far, or in all; `null` while it runs. */
  report: JobReport | null;
  /** What stopped it as a whole. */
  problem: { reason: string; path: string } | null;
  startedAt: number;
  endedAt: number | null;
}

export interface ItemProblem {
  path: string;
  problem: Problem | { code: 'drive/problem'; reason: string };
}

export type JobReport =
  | {
      kind: 'scan';
      photos: number;
      added: number;
      addedPaths: string[];
      changed: number;
      moved: { from: string; to: string }[];
      missing: string[];
      damaged: string[];
      nested: string[];
      /** Bags that were made here, which are left alone. */
      bags?: string[];
      sidecarsTaken: number;
      conflicts: number;
      leftovers: string[];
      /** Sidecars without their photo; absent in older reports. */
      leftBehind?: number;
      /** Files that were sent from here, which are no photos of their own; absent in older reports. */
      sentHere?: number;
      problems: ItemProblem[];
    }
  | {
      kind: 'copy';
      copied: number;
      alreadyThere: number;
      /** Photos that left the drive they came from; absent where none were to. */
      left?: number;
      /** Files that are no photos; absent where only photos were to go. */
      others?: { copied: number; there: number };
      /** Whether the drive took the other's place; absent where it was not to. */
      replaced?: boolean;
      bytes: number;
      inDoubt: number;
      damaged: string[];
      problems: ItemProblem[];
    }
  | {
      kind: 'drill';
      /** Restored, their bytes right by the drive's own manifest. */
      photos: number;
      bytes: number;
      damaged: string[];
      /** Of which what lies on the drive does not say what the catalog says. */
      words: string[];
      problems: ItemProblem[];
    }
  | { kind: 'check'; sound: number; damaged: string[]; missing: string[]; added: string[]; problems: ItemProblem[] }
  | {
      kind: 'take-in';
      number: string;
      photos: number;
      beside: number;
      renamed: { from: string; to: string }[];
      bytes: number;
      line: string;
      waiting: number;
      /** Of the card as it is, where that was asked for. */
      asItIs?: { files: number; bytes: number };
      problems: ItemProblem[];
    }
  | {
      kind: 'deliver';
      name: string;
      asked: number;
      arrived: number;
      /** Of those that arrived, how many lay there already. */
      there: number;
      bytes: number;
      /** Photos of which no drive is connected. */
      away: string[];
      damaged: string[];
      problems: ItemProblem[];
    }
  | { kind: 'previews'; drawn: number; there: number; away: number; problems: ItemProblem[] }
  | { kind: 'empty'; removed: number; bytes: number; kept: string[]; damaged: string[]; problems: ItemProblem[] }
  | { kind: 'backup'; rows: number; bytes: number; path: string; outlived: number; problems: ItemProblem[] }
  | { kind: 'free'; removed: number; bytes: number; damaged: string[]; problems: ItemProblem[] }
  | {
      kind: 'bag';
      folder: string;
      photos: number;
      /** With sidecars and what lies beside. */
      files: number;
      bytes: number;
      /** Whether it is a bag: all that was asked for is in it. */
      finished: boolean;
      away: string[];
      damaged: string[];
      problems: ItemProblem[];
    };
