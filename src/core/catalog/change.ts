// The change: every edit is a plain value that carries its inverse. Nothing in the catalog is edited in another way.

import type { FieldKey, FieldValues } from '../fields/registry';
import { type FieldEdit, editOf } from '../fields/edits';
import type { Versions } from '../fields/merge';
import { type Collection, type Gathering, inverseGathering } from './collection';
import type { Delivery } from '../send-out/delivery';
import type { DeliveryProfile } from '../send-out/delivery-profile';
import type { Kit } from '../describe/kit';
import type { LadderView, LeftOut, Marker } from '../sift/judging';
import type { Decided, Round } from '../sift/round';
import type { KeptClock, Spot } from '../locate/kept';
import type { NamePattern, Routine } from '../take-in/sheet';
import type { LearntWord } from '../vocabulary/learnt';
import type { WordChange } from '../vocabulary/plan';
import type { VocabularyWord } from '../vocabulary/vocabulary';
import type { ShorthandList } from '../describe/shorthand';
import type { Versioned } from '../fields/version';

/**
 * A choice of the person's that belongs to the archive and not to a screen: which fields are shown, what is pinned,
 * whether a drive is written into.
 */
export interface Setting extends Versioned {
  /** What it is the choice of. */
  id: string;
  value: SettingValue;
}

export type SettingValue = string | number | boolean | null | SettingValue[] | { [member: string]: SettingValue };

/** What is kept under a name on every drive, by its kind. */
export interface SavedItems {
  collections: Collection;
  deliveries: Delivery;
  deliveryProfiles: DeliveryProfile;
  kits: Kit;
  patterns: NamePattern;
  routines: Routine;
  ladder: LadderView;
  markers: Marker;
  rounds: Round;
  leftOut: LeftOut;
  vocabulary: VocabularyWord;
  shorthand: ShorthandList;
  learnt: LearntWord;
  clocks: KeptClock;
  spots: Spot;
  settings: Setting;
}

export type SavedKind = keyof SavedItems;

export type SavedChange = {
  [S in SavedKind]: { kind: 'kept'; savedKind: S; before: SavedItems[S] | null; after: SavedItems[S] };
}[SavedKind];

/** A file gets another path on its drive. */
export interface FileMove {
  photoId: string;
  driveId: string;
  before: string;
  after: string;
}

/**
 * What was found of a file when it was read, or what was done about it: its bytes are not its measure, two measures
 * disagree, it was brought back from a copy, the person settled that it is right as it is, or that
 * it is gone, or it was removed to free room on its drive.
 */
export const FILE_FINDINGS = ['damaged', 'doubt', 'brought-back', 'right', 'gone', 'freed'] as const;
export type FileFinding = (typeof FILE_FINDINGS)[number];

export interface FoundOf {
  photoId: string;
  driveId: string;
  path: string;
  what: FileFinding;
}

/**
 * Where a change of fields comes from: the person here, a sidecar or an image file that another program or another
 * catalog wrote.
 */
export type Origin = 'person' | 'sidecar' | 'file';

/** What is said of a photo here and at one of its files, differently, until the person decides. */
export interface Conflict {
  fileId: string;
  photoId: string;
  keys: FieldKey[];
  theirs: FieldValues;
  /** The versions of theirs; absent in older ones. */
  versions?: Versions;
  /** Where their version stands; absent in older records: the sidecar. */
  from?: 'sidecar' | 'file';
  /** Of the fields those of which the image file says something else, and not the sidecar. */
  inImage?: FieldKey[];
  sidecarSha256: string;
  foundAt: number;
}

export type Change =
  | { kind: 'fields'; edits: FieldEdit[]; origin: Origin }
  /** Conflicts are decided, or (`open`) are to be decided again. */
  | { kind: 'decided'; conflicts: Conflict[]; edits: FieldEdit[]; open: boolean }
  /** New names, and what is written about the old ones. */
  | { kind: 'names'; moves: FileMove[]; edits: FieldEdit[] }
  | SavedChange
  /** Words of the vocabulary, any number of them as one act. */
  | { kind: 'words'; changes: WordChange[] }
  /** Files go into the set-aside folder of their drive, or come back from there. */
  | { kind: 'aside'; moves: FileMove[] }
  /** Photos leave the catalog, or come back into it; their files stay. */
  | { kind: 'left-out'; photos: { id: string; name: string }[]; out: boolean }
  /** Photos are judged in a round. */
  | {
      kind: 'round';
      roundId: string;
      decisions: { photoId: string; before: Decided | null; after: Decided | null }[];
      edits: FieldEdit[];
    }
  /** Several changes that are one act. */
  | { kind: 'together'; changes: Change[] }
  /** Photos come into a collection by hand, leave it, or get another place in it. */
  | { kind: 'gather'; collectionId: string; name: string; gathering: Gathering }
  | { kind: 'drive-name'; driveId: string; before: string; after: string }
  /** Changes nothing that could be taken back: for the history alone. */
  | { kind: 'found'; of: FoundOf[] };

/** The change that takes `change` back. What was kept anew is taken back by its tombstone. */
export function inverse(change: Change, at: number): Change {
  switch (change.kind) {
    case 'fields':
      return { kind: 'fields', edits: inverseEdits(change.edits), origin: 'person' };
    case 'decided':
      return { ...change, edits: inverseEdits(change.edits), open: !change.open };
    case 'names':
      return { kind: 'names', moves: inverseMoves(change.moves), edits: inverseEdits(change.edits) };
    case 'aside':
      return { kind: 'aside', moves: inverseMoves(change.moves) };
    case 'left-out':
      return { ...change, out: !change.out };
    case 'round':
      return {
        ...change,
        decisions: change.decisions.map(({ photoId, before, after }) => ({ photoId, before: after, after: before })),
        edits: inverseEdits(change.edits),
      };
    case 'together':
      return { kind: 'together', changes: change.changes.map((one) => inverse(one, at)).reverse() };
    case 'drive-name':
      return { ...change, before: change.after, after: change.before };
    case 'found':
      return change;
    case 'words':
      return {
        kind: 'words',
        changes: change.changes
          .map(({ before, after }) => ({
            before: after,
            after: { ...(before ?? { ...after, deleted: true }), updatedAt: at },
          }))
          .reverse(),
      };
    case 'gather':
      return { ...change, gathering: inverseGathering(change.gathering) };
    case 'kept':
      return {
        ...change,
        before: change.after,
        after: { ...(change.before ?? { ...change.after, deleted: true }), updatedAt: at },
      } as SavedChange;
  }
}

/** The photos a change is about. */
export function photosOfChange(change: Change): string[] {
  switch (change.kind) {
    case 'fields':
      return photosOf(change.edits);
    case 'decided':
      return [...new Set([...photosOf(change.edits), ...photosOf(change.conflicts)])];
    case 'names':
      return [...new Set([...photosOf(change.moves), ...photosOf(change.edits)])];
    case 'aside':
      return photosOf(change.moves);
    case 'left-out':
      return change.photos.map(({ id }) => id);
    case 'round':
      return [...new Set([...photosOf(change.decisions), ...photosOf(change.edits)])];
    case 'gather':
      return photosOf([...change.gathering.take, ...change.gathering.put]);
    case 'together':
      return [...new Set(change.changes.flatMap(photosOfChange))];
    case 'found':
      return photosOf(change.of);
    case 'kept':
    case 'words':
    case 'drive-name':
      return [];
  }
}

const photosOf = (list: readonly { photoId: string }[]): string[] => [...new Set(list.map(({ photoId }) => photoId))];

const inverseMoves = (moves: readonly FileMove[]): FileMove[] =>
  moves.map((move) => ({ ...move, before: move.after, after: move.before })).reverse();
const inverseEdits = (edits: readonly FieldEdit[]): FieldEdit[] =>
  edits.map(({ photoId, key, before, after }) => editOf(photoId, key, after, before)).reverse();
