// What the search index is told of a photo, and what it answers.

import type { FieldValues } from '../fields/registry';
import type { CopyStatus, FileMark } from '../fixity/copies';
import type { Lack } from '../fixity/safe';
import type { PictureMeasures } from '../picture/measures';
import type { SetKind, Shot } from '../sift/sets';

export interface SearchRecord {
  id: string;
  names: string[];
  folders: string[];
  /** Each folder with its drive, as the search asks for it. */
  driveFolders: string[];
  /** Each once. */
  drives: string[];
  camera: string;
  lens: string;
  format: string;
  /** Its colour profile, as `profileWord` says it. */
  profile: string;
  video: boolean;
  /** Day number (20190704) and second of the day of capture, with its fraction; 0 for none. */
  day: number;
  second: number;
  /** When it came into the catalog, milliseconds since 1970, UTC. */
  addedAt: number;
  /** Width over height as shown. */
  aspect: number;
  /** 0 where the size is not known. */
  megapixels: number;
  /** Verified copies, on drives that are in use. */
  copies: number;
  /** What is to be said of files of it, each once. */
  marks: FileMark[];
  /** What it has too few of. */
  lacks: Lack[];
  /** Milliseconds since 1970, UTC, until which it stays safe if nothing is done; 0 where it lacks something. */
  safeUntil: number;
  /** How it stands on each drive, by the drive's id. */
  onDrives: { driveId: string; status: CopyStatus; verifiedAt: number | null }[];
  /** Names of drives it is not safe without: it is verified nowhere else. */
  onlyOn: string[];
  /** Whether anything written about it is not what its file said. */
  edited: boolean;
  /** Where it was sent to, each once. */
  sent: string[];
  /** The measures of its picture; `null` until a preview was measured. */
  measures: PictureMeasures | null;
  /** Whether a large preview was drawn. */
  large: boolean;
  placed: boolean;
  /** What tells which photos belong to one set. */
  shot: Shot;
  fields: FieldValues;
}

export interface FacetCount {
  value: string;
  count: number;
}

export const countOf = (facets: readonly FacetCount[] | undefined, value: string | number): number =>
  facets?.find((facet) => facet.value === String(value))?.count ?? 0;

/** Where a group of the sorted photos begins: a day number, a rating, a word. */
export interface Head {
  start: number;
  value: number | string;
}

export interface SearchOrder {
  scope: string;
  /** Show one photo for each set, except for the sets in `opened`, which are named by any of their photos. */
  closed: boolean;
  opened: string[];
  /** Photos, by slot, that stay although they may no longer fit. */
  stay: Uint32Array | null;
}

/** The scope as it is: every photo of every set, and none that does not fit. */
export const plainly = (scope: string): SearchOrder => ({ scope, closed: false, opened: [], stay: null });

/** Kinds of sets by a number that fits a byte. */
export const SET_CODES: readonly (SetKind | null)[] = [null, 'bracket', 'burst', 'panorama', 'companion', 'chosen'];

export const FLAG = {
  blank: 1,
  unplaced: 2,
  large: 4,
  wrongCode: 8,
  fraction: 16,
  raw: 32,
  edited: 64,
  video: 128,
  measured: 256,
  damaged: 512,
  missing: 1024,
  doubt: 2048,
  unread: 4096,
  twice: 8192,
  fewCopies: 16_384,
  noneElsewhere: 32_768,
  notice: 65_536,
  cameraName: 131_072,
  corrected: 262_144,
} as const;

/**
 * Photos in an order of one's own, as the wall and the strip want them; those that are not in the catalog are left out.
 */
export type Ordered = Pick<SearchResult, 'slots' | 'sets' | 'setKinds' | 'setSizes' | 'ratings'>;

/** Everything by position in the order asked for, unless it says otherwise. */
export interface SearchResult {
  /** The photos of the scope by their slots; the page knows which photo has which. */
  slots: Uint32Array;
  heads: Head[];
  days: Int32Array;
  aspects: Float32Array;
  ratings: Int8Array;
  copies: Uint8Array;
  flags: Uint8Array;
  /** Index into `driveSets`. */
  onDrives: Uint16Array;
  driveSets: string[][];
  /** Which set of the catalog it is in, −1 for none; its kind (`SET_CODES`) and how many photos it has. */
  sets: Int32Array;
  setKinds: Uint8Array;
  setSizes: Uint16Array;
  /** Index into `labels`, 0 for no marker. */
  onMarkers: Uint16Array;
  labels: readonly string[];
  /**
   * Photos that fit the scope, those behind a closed set and those that only stay included or not: shown = fitting +
   * staying − behind.
   */
  fitting: number;
  staying: number;
  behind: number;
  /** All photos of the catalog. */
  all: number;
  /**
   * Photos by year and month (201907) that fit the scope but for its dates: the ground of the almanac. 0 for undated.
   */
  months: ReadonlyMap<number, number>;
  /** Photos on each rung, by its number. */
  ladder: FacetCount[];
}
