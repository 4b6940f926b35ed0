// What an act on the vocabulary does to the photos of the catalog, counted first and then made as one change.

import type { Change } from '@/core/catalog/change';
import type { FieldEdit } from '@/core/fields/edits';
import { type ActPlan, type WordChange, planAct, planOnPhotos } from '@/core/vocabulary/plan';
import { type Vocabulary, type VocabularyWord, vocabularyOf } from '@/core/vocabulary/vocabulary';
import { planSet } from '@/core/fields/edits';
import { wordsIn } from '@/core/fields/values';
import type { CatalogDatabase } from './database';
import { photoBatches, photosOf } from './describing';

/** Photos read at once. */
const CHUNK = 2000;

export interface ActOnCatalog {
  change: Change;
  /** Photos that are changed, and those that have the word without saying which of several it is. */
  photos: number;
  untold: number;
}

/** How reading many photos is followed and broken off. */
export interface Following {
  signal?: AbortSignal;
  onRead?: (photos: number) => void;
}

/**
 * Rejects when it is broken off; nothing is changed by planning.
 * @param carriers the photos that carry the word the plan is about
 */
export async function planActOnCatalog(
  db: CatalogDatabase,
  vocabulary: Vocabulary,
  { words, onPhotos }: Exclude<ActPlan, { refused: unknown }>,
  carriers: readonly string[],
  { signal, onRead }: Following = {},
): Promise<ActOnCatalog> {
  const edits: FieldEdit[] = [];
  let untold = 0;
  for (let at = 0; onPhotos && at < carriers.length; at += CHUNK) {
    signal?.throwIfAborted();
    onRead?.(at);
    const photos = await photosOf(db, carriers.slice(at, at + CHUNK));
    const found = planOnPhotos(vocabulary, photos, onPhotos);
    for (const edit of found.edits) edits.push(edit);
    untold += found.untold;
  }
  const changes: Change[] = [
    { kind: 'words', changes: words },
    ...(edits.length > 0 ? [{ kind: 'fields' as const, origin: 'person' as const, edits }] : []),
  ];
  return {
    change: changes.length === 1 && changes[0] ? changes[0] : { kind: 'together', changes },
    photos: edits.length,
    untold,
  };
}

/** A keyword, exactly as it is written, and the word that is to stand in its place. */
export interface Righting {
  wrong: string;
  right: string;
}

/** Keywords put right in bulk, on the photos that carry them and in the vocabulary, as one change. */
export async function planRightings(
  db: CatalogDatabase,
  vocabulary: Vocabulary,
  rightings: readonly Righting[],
  carriers: readonly string[],
  at: number,
): Promise<Change> {
  const to = new Map(rightings.map(({ wrong, right }) => [wrong, right]));
  const edits: FieldEdit[] = [];
  for await (const { photos } of photoBatches(db, carriers, CHUNK)) {
    for (const photo of photos) {
      edits.push(
        ...planSet(
          [photo],
          'keywords',
          orNothing([...new Set(wordsIn(photo.fields.keywords).map((word) => followed(word, to)))]),
        ),
      );
    }
  }
  return {
    kind: 'together',
    changes: [
      { kind: 'words', changes: planWords(vocabulary, rightings, at) },
      { kind: 'fields', origin: 'person', edits },
    ],
  };
}

const orNothing = (words: string[]): string[] | undefined => (words.length > 0 ? words : undefined);

/** A word that was put right may itself be put right; what goes round in a ring stays where it is. */
function followed(word: string, to: ReadonlyMap<string, string>): string {
  const seen = new Set([word]);
  let at = word;
  for (let next = to.get(at); next !== undefined && !seen.has(next); next = to.get(at)) {
    seen.add(next);
    at = next;
  }
  return at;
}

/** Wrong words of the vocabulary become synonyms of the right ones, or, where those are not in it, get their names. */
function planWords(vocabulary: Vocabulary, rightings: readonly Righting[], at: number): WordChange[] {
  const before = vocabulary.byId;
  let now = vocabulary;
  const touched = new Map<string, VocabularyWord>();
  for (const { wrong, right } of rightings) {
    const exactly = (name: string) => now.named(name).find(({ word }) => word === name);
    const [from, into] = [exactly(wrong), exactly(right)];
    if (!from) continue;
    const plan = planAct(
      now,
      into ? { kind: 'merge', id: from.id, into: into.id } : { kind: 'rename', id: from.id, word: right },
      at,
      () => '',
    );
    if ('refused' in plan) continue;
    for (const { after } of plan.words) touched.set(after.id, after);
    now = vocabularyOf([...before.values()].map((word) => touched.get(word.id) ?? word));
  }
  return [...touched.values()].map((after) => ({ before: before.get(after.id) ?? null, after }));
}
