// What crosses between the page and the host, the application's own server, of folders that the host serves. Questions
// are asked many in one request and answered line by line as they are done (NDJSON); bytes go both ways as they are.
// What the host is asked is `unknown` there until its schema here has read it.

import { z } from 'zod';
import type { FileDigests } from '@/core/metadata/picture-digest/image-digest';
import type { Property } from '@/core/metadata/reading/properties';
import { fieldValue } from '../archive/schemas';
import type { SentFailure } from '../drives/failure';
import type { EmbedResult } from '../file-tasks/embed-into';
import type { ReadResult, ReadTrack, TakenIn } from '../file-tasks/file-tasks';
import type { CopyResult } from '../file-tasks/verified-copy';

/** In a header of its own: a cookie would go to every port of this address. */
export const TOKEN_HEADER = 'x-wembo-token';

export const HOST_ADDRESS = {
  ask: '/api/host/ask',
  bytes: '/api/host/bytes',
  part: '/api/host/part',
  media: '/api/host/media',
} as const;

/** A piece of a file that is sent to the host; a request that takes minutes is cut off by the server. */
export const PIECE_BYTES = 8 * 1024 * 1024;
/** Questions in one request. */
export const QUESTIONS_LIMIT = 200;
/** Ranges of bytes in one request. */
export const RANGES_LIMIT = 200;
/** Of all questions of one request, written as JSON; a sidecar is a few kilobytes. */
export const ASK_BYTES_LIMIT = 48 * 1024 * 1024;
/** A file up to this length comes along when it is opened. */
export const COMES_ALONG_BYTES = 16 * 1024;
/** What is replaced in one question; longer files are sent as parts. */
export const REPLACED_BYTES_LIMIT = 512 * 1024;
/** Files of one question, whose names are given in one go; more questions are answered beside each other. */
export const REPLACED_AT_ONCE = 32;

const text = (limit: number) => z.string().max(limit);
/** Below the folder, as the drive spells it; whether it stays in there is looked at where it is opened. */
const path = text(4096);
/** Of a folder that is served. */
const folder = z.string().regex(/^[0-9a-f]{16}$/);
/** Of a drive that must be there; `null` for a folder without a mark. */
const mark = z
  .string()
  .regex(/^[0-9A-Za-z-]{8,64}$/)
  .nullable();
const bytes = z.base64().max(Math.ceil((REPLACED_BYTES_LIMIT * 4) / 3) + 4);
const sha256 = z.string().regex(/^[0-9a-f]{64}$/);
/** A file, and what it was when it was opened. */
const file = z.object({ folder, path, size: z.number(), modifiedMs: z.number() });
const place = z.object({ folder, mark, path });
const lease = text(64).nullable();

/** An S3-compatible bucket, or a folder in one, and the pair of keys that opens it. */
export const storeAddress = z.object({
  endpoint: z
    .url({ protocol: /^https?$/ })
    .max(500)
    .transform((address) => address.replace(/\/+$/, '')),
  region: z.string().regex(/^[\w-]{1,64}$/),
  bucket: z.string().regex(/^[A-Za-z0-9][\w.-]{1,253}$/),
  /** A folder in it, without a slash before or after; empty for all of it. */
  prefix: z
    .string()
    .regex(/^$|^[^/\p{Cc}]+(\/[^/\p{Cc}]+)*$/u)
    .max(500),
  accessKeyId: text(256).min(1),
  secretAccessKey: text(256).min(1),
});
export type StoreAddress = z.input<typeof storeAddress>;

/** Shorter ones are guessed. */
export const PASSPHRASE_LENGTH = 12;

export const HOST_ORDERS = {
  /** Folders that are served, each with what is known of where it lies. */
  folders: z.object({}),
  /** What lies in a folder of this machine that is not served yet: folders only. `null`: where one may begin. */
  browse: z.object({ path: path.nullable() }),
  makeFolderAt: z.object({ path, name: text(255) }),
  serve: z.object({ path }),
  forget: z.object({ folder }),
  /** The volume on which a served folder lies. */
  volume: z.object({ folder }),
  lock: z.object({ folder, owner: text(64) }),
  unlock: z.object({ folder, lease: text(64) }),
  list: z.object({ folder, below: path, shallow: z.boolean() }),
  open: z.object({ folder, path }),
  finish: z.object({ folder, part: path, path, over: z.enum(['free', 'old']), lease }),
  remove: z.object({ folder, path, lease }),
  move: z.object({ folder, from: path, to: path, lease }),
  makeFolder: z.object({ folder, path }),
  replace: z.object({
    folder,
    mark,
    files: z.array(z.object({ path, bytes, expected: bytes.nullable() })).max(REPLACED_AT_ONCE),
  }),
  read: z.object({ file }),
  digest: z.object({ file }),
  properties: z.object({ file }),
  readTrack: z.object({ file }),
  copy: z.object({ file, target: place, expected: sha256.nullable() }),
  takeIn: z.object({ file, targets: z.array(place).max(10), isPhoto: z.boolean() }),
  embed: z.object({
    place,
    fields: z.record(text(64), fieldValue),
    expected: z.object({ sha256, imageSha256: sha256.nullable() }).nullable(),
  }),
  /** For what of the browser fetches by an address alone: it holds for a while, for this file. */
  ticket: z.object({ file }),
  watch: z.object({ folders: z.array(folder).max(100) }),
  /** What lies in a store that is not reached yet. */
  lookAtStore: z.object({ store: storeAddress }),
  serveStore: z.object({
    store: storeAddress,
    /** `new`: everything is sealed with age by a new key; `open`: by the key that is there, from its sheet or by passphrase. */
    sealing: z.discriminatedUnion('how', [
      z.object({ how: z.literal('none') }),
      z.object({
        how: z.literal('new'),
        passphrase: text(1000).min(PASSPHRASE_LENGTH).nullable(),
        /** Names of files and folders, too. */
        sealsNames: z.boolean(),
      }),
      z.object({ how: z.literal('open'), secret: text(1000).min(1) }),
    ]),
  }),
  /** What a store was set up with, without what opens it. */
  storeFacts: z.object({ folder }),
  /** The key that a store is sealed by, for its sheet. */
  storeKey: z.object({ folder }),
  setShare: z.object({ folder, dailyBytes: z.number().int().positive().nullable() }),
  /** The store that the demo starts beside itself. */
  standIn: z.object({}),
} as const;

export type HostKind = keyof typeof HOST_ORDERS;
export type HostOrder<K extends HostKind> = z.input<(typeof HOST_ORDERS)[K]>;

/** A folder, or a store, that the host serves. */
export interface ServedFolder {
  id: string;
  kind: 'folder' | 'store';
  /** Absolute, with every link in it followed; of a store its address. */
  path: string;
  name: string;
  /** Whether it is there now. */
  isThere: boolean;
  /** Whether the host may write there. */
  isWritable: boolean;
  /** Named when the server was started. */
  isAtStart: boolean;
  /** Drives it lies in, by their marks, and where there. */
  above: { id: string; path: string }[];
}

/** Where a folder lies. */
export interface Volume {
  path: string;
  /** As it was named when it was formatted; `null` where that is not told. */
  label: string | null;
  /** Of its file system, as the system tells it. */
  uuid: string | null;
  fileSystem: string | null;
  sizeBytes: number;
  freeBytes: number;
  isRemovable: boolean;
}

export interface BrowsedFolder {
  path: string;
  /** `null` at the top. */
  parent: string | null;
  folders: string[];
  /** More than are told. */
  more: number;
  /** The name on its mark where it is a drive of some catalog. */
  drive: string | null;
  /** Whether what the host's user may do there includes writing. */
  isWritable: boolean;
  photos: number;
}

/** What lies in a store. */
export interface FoundStore {
  holds: 'nothing' | 'drive' | 'other';
  /** Sealed with age; by a key that a passphrase opens, or by one that must be there. */
  sealed: 'by-passphrase' | 'by-key' | null;
}

export interface StoreFacts {
  endpoint: string;
  bucket: string;
  prefix: string;
  isSealed: boolean;
  /** Whether a passphrase gets its key back from the store itself. */
  hasPassphrase: boolean;
  dailyBytes: number | null;
  sentToday: number;
}

/** One folder of a listing. */
export interface ListedFolder {
  /** Below the root, empty for the root itself. */
  path: string;
  /** Name, bytes, milliseconds since 1970. */
  files: [name: string, sizeBytes: number, modifiedMs: number][];
  leftovers: string[];
  /** An archive folder lies in it. */
  isArchive: boolean;
  unlisted: { path: string; failure: SentFailure }[];
}

export interface HostAnswers {
  folders: ServedFolder[];
  /** Volumes only where one may begin. */
  browse: { at: BrowsedFolder | null; volumes: Volume[]; home: string };
  makeFolderAt: { path: string };
  serve: ServedFolder;
  forget: null;
  volume: Volume;
  /** `null`: somebody else has it still. */
  lock: { lease: string | null };
  unlock: null;
  list: null;
  /** Base64 of a short file. */
  open: { size: number; modifiedMs: number; bytes: string | null };
  finish: null;
  remove: null;
  move: null;
  makeFolder: null;
  /** Of each file what became of it; `null` where it was replaced. */
  replace: (SentFailure | null)[];
  read: ReadResult;
  digest: FileDigests;
  properties: Property[];
  readTrack: ReadTrack;
  copy: CopyResult;
  takeIn: Omit<TakenIn, 'preview' | 'bytes'> & { bytes: string | null };
  embed: EmbedResult;
  ticket: { address: string };
  watch: null;
  lookAtStore: FoundStore;
  /** The key that was made for it. */
  serveStore: { served: ServedFolder; identity: string | null };
  storeFacts: StoreFacts;
  storeKey: { identity: string | null };
  setShare: null;
  standIn: StoreAddress | null;
}

export interface HostParts {
  list: ListedFolder;
  /** Folders in which something changed. */
  watch: { folder: string; paths: string[] };
}
/** What comes before the answer. */
export type HostPart<K extends HostKind> = K extends keyof HostParts ? HostParts[K] : never;

/** A line of an answer. */
export type HostLine = { id: string } & (
  { bytes: number } | { part: unknown } | { answer: unknown } | { failure: SentFailure }
);

const questionId = text(40);

/** Questions, or the id of one that nobody waits for any more. */
export const askBody = z.union([
  z.object({
    asks: z
      .array(z.object({ id: questionId, kind: z.string(), order: z.unknown() }))
      .min(1)
      .max(QUESTIONS_LIMIT),
  }),
  z.object({ cancel: questionId }),
]);

export const bytesBody = z.object({
  ranges: z
    .array(file.extend({ start: z.number().int().nonnegative(), end: z.number().int().nonnegative() }))
    .min(1)
    .max(RANGES_LIMIT),
});
export type AskedRange = z.infer<typeof bytesBody>['ranges'][number];

/** Before the bytes of each range: 1 and their number, or 0 and the number of bytes of a failure in JSON; little end first. */
export const RANGE_HEAD_BYTES = 9;

/** Of a piece of a part, in its request's headers. */
export const partHead = z.object({
  folder,
  /** The file it is to become. */
  path,
  /** Where the part lies; empty for its first piece. */
  part: path,
  at: z.coerce.number().int().nonnegative(),
  isLast: z.enum(['0', '1']),
  modifiedMs: z.coerce.number().nullable(),
});
export type PartHead = z.infer<typeof partHead>;

/** Questions that go in requests of their own kind: those that take long do not hold up the others. */
export type Lane = 'short' | 'long' | 'waits' | 'watch';

const LONG: ReadonlySet<HostKind> = new Set<HostKind>(['list', 'digest', 'copy', 'takeIn', 'embed', 'readTrack']);
/** Answered when nobody else gives names on the drive: those who do must not wait behind them. */
const WAITS: ReadonlySet<HostKind> = new Set<HostKind>(['lock', 'replace']);

export function laneOf(kind: HostKind): Lane {
  if (kind === 'watch') return 'watch';
  if (WAITS.has(kind)) return 'waits';
  return LONG.has(kind) ? 'long' : 'short';
}
