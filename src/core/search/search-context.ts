// What a question is answered from: all that the index has, and what it was told besides. And the forms an answer can
// have.

import type { Bits } from './bit-set';
import type { Columns } from './columns';
import type { FieldMasks } from './field-masks';
import type { FolderTree } from './folder-tree';
import type { Sets } from './photo-sets';
import type { Postings } from './postings';
import type { VocabularyWords } from './vocabulary-words';

export interface SearchContext {
  columns: Columns;
  words: Postings;
  /** Words of the lists, whole and plain, each behind its list's name. */
  listed: Postings;
  places: FieldMasks;
  vocabulary: VocabularyWords;
  sets(): Sets;
  /** Photos of a collection, by its name or path; `null` where there is none. */
  collection(name: string): Bits | null;
  /** What conditions found, by how they are written; emptied whenever a photo or the vocabulary changes. */
  cache: Map<string, Bits>;
  folders: Pick<FolderTree, 'named'>;
  /** Day number of today, and now in milliseconds since 1970, UTC. */
  today: number;
  nowMs: number;
}

export type Predicate = (slot: number) => boolean;

/** Answered either way: for each of the few photos that are left, or for all at once. */
export interface LazySet {
  predicate: Predicate;
  bits: () => Bits;
}

export type Match = Bits | Predicate | LazySet;
