// Which words the photos use, and which of them go together: counts for the vocabulary, the carriers of a word, words
// that are likely for a selection, and the words of texts for the spell checker.

import { wordsIn } from '../fields/values';
import type { UsedWord } from '../vocabulary/alike';
import { slotsIn } from './bit-set';
import type { Columns } from './columns';
import { plain } from '../text/fold';

const live = (columns: Columns): Uint32Array => slotsIn(columns.live);

/** Every keyword as it is written, with the number of photos that carry it. */
export function countKeywords(columns: Columns): UsedWord[] {
  const list = columns.list('keywords');
  const counts = new Uint32Array(list.words.size);
  list.countInto(live(columns), counts);
  return Array.from(counts, (count, number) => ({ word: count > 0 ? list.words.text(number) : '', count })).filter(
    ({ count }) => count > 0,
  );
}

/** The photos that carry any of these words, however it is written. */
export function carriersOf(columns: Columns, words: readonly string[]): string[] {
  const list = columns.list('keywords');
  const wanted = new Set(words.map(plain));
  const asked = Uint8Array.from({ length: list.words.size }, (_, number) =>
    wanted.has(plain(list.words.text(number))) ? 1 : 0,
  );
  return Array.from(live(columns))
    .filter((slot) => list.numbers(slot).some((number) => asked[number] === 1))
    .map((slot) => columns.ids.text(slot));
}

/**
 * Why a word is likely: photos taken within the hour have it, others of the accession, or it goes with a word the
 * selection has.
 */
export type SuggestedFor = { kind: 'near' } | { kind: 'accession' } | { kind: 'with'; word: string };

export interface Suggestion {
  word: string;
  because: SuggestedFor;
  /** 0 to 3: the sum of the shares of photos that speak for it. */
  weight: number;
}

const NEAR_SECONDS = 3600;
/** Words that go together in fewer photos than this say nothing. */
const TOGETHER_AT_LEAST = 2;

/** Words that are likely for these photos and that not all of them have, the likeliest first. */
export function suggestWords(columns: Columns, chosenIds: readonly string[], limit: number): Suggestion[] {
  const list = columns.list('keywords');
  const [day, second, numbers] = [columns.column('day'), columns.column('second'), columns.textColumn('accession')];
  const chosen = chosenIds.map((id) => columns.slotOf(id)).filter((slot) => slot >= 0);
  if (chosen.length === 0) return [];
  const days = spansByDay(chosen, columns);
  const accessions = new Set(chosen.map((slot) => accessionOf(numbers.text(slot))).filter((number) => number !== ''));
  const had = new Set(chosen.flatMap((slot) => [...list.numbers(slot)]));
  const isChosen = new Set(chosen);
  const near = new Tally();
  const accession = new Tally();
  const together = new Map<number, Tally>([...had].map((word) => [word, new Tally()]));
  for (const slot of live(columns)) {
    const words = list.numbers(slot);
    for (const word of words) together.get(word)?.note(words);
    if (isChosen.has(slot)) continue;
    const span = days.get(day[slot] ?? 0);
    const at = second[slot] ?? 0;
    if (span && at >= span[0] - NEAR_SECONDS && at <= span[1] + NEAR_SECONDS) near.note(words);
    else if (accessions.size > 0 && accessions.has(accessionOf(numbers.text(slot)))) accession.note(words);
  }
  const found = new Map<number, Suggestion>();
  const add = (word: number, share: number, because: SuggestedFor) => {
    const known = found.get(word);
    if (known) known.weight += share;
    else found.set(word, { word: list.words.text(word), because, weight: share });
  };
  for (const [word, count] of near.counts) add(word, count / near.photos, { kind: 'near' });
  for (const [word, count] of accession.counts) add(word, (0.5 * count) / accession.photos, { kind: 'accession' });
  for (const [own, tally] of together)
    for (const [word, count] of tally.counts)
      if (word !== own && count >= TOGETHER_AT_LEAST)
        add(word, (0.5 * count) / tally.photos / together.size, { kind: 'with', word: list.words.text(own) });
  for (const word of had) if (chosen.every((slot) => list.numbers(slot).includes(word))) found.delete(word);
  return [...found.values()].sort((a, b) => b.weight - a.weight || (a.word < b.word ? -1 : 1)).slice(0, limit);
}

/** From the first to the last of these photos, by day. */
function spansByDay(slots: readonly number[], columns: Columns): Map<number, [from: number, to: number]> {
  const [day, second] = [columns.column('day'), columns.column('second')];
  const days = new Map<number, [from: number, to: number]>();
  for (const slot of slots) {
    const [on, at] = [day[slot] ?? 0, second[slot] ?? 0];
    if (on === 0) continue;
    const [from, to] = days.get(on) ?? [at, at];
    days.set(on, [Math.min(from, at), Math.max(to, at)]);
  }
  return days;
}

const accessionOf = (number: string): string => number.slice(0, Math.max(0, number.lastIndexOf('.')));

class Tally {
  photos = 0;
  readonly counts = new Map<number, number>();

  note(words: Uint32Array): void {
    this.photos += 1;
    for (const word of words) this.counts.set(word, (this.counts.get(word) ?? 0) + 1);
  }
}

/** People shown in photos of the same day or accession, the most frequent first, then those of the whole catalog. */
export function peopleNear(columns: Columns, photoId: string, limit: number): string[] {
  const photo = columns.slotOf(photoId);
  if (photo < 0) return [];
  const list = columns.list('personShown');
  const [day, numbers] = [columns.column('day'), columns.textColumn('accession')];
  const own = accessionOf(numbers.text(photo));
  const here = new Tally();
  const all = new Tally();
  for (const slot of live(columns)) {
    const people = list.numbers(slot);
    if (people.length > 0)
      ((day[slot] === day[photo] && (day[photo] ?? 0) > 0) || (own !== '' && accessionOf(numbers.text(slot)) === own)
        ? here
        : all
      ).note(people);
  }
  const sorted = ({ counts }: Tally) =>
    [...counts]
      .map(([number, count]) => ({ name: list.words.text(number), count }))
      .sort((a, b) => b.count - a.count || (a.name < b.name ? -1 : 1))
      .map(({ name }) => name);
  return [...new Set([...sorted(here), ...sorted(all)])].slice(0, limit);
}

/** The fields whose words are spelt. */
export const SPELT = ['caption', 'headline', 'title', 'keywords', 'altText', 'extendedDescription'] as const;
const TEXT_WORD = /\p{L}[\p{L}\p{M}]*(?:['’]\p{L}[\p{L}\p{M}]*)*/gu;
/** Longer than any word of any language that a dictionary has. */
const LONGEST = 60;
/** Blanks and fill-ins are no text. */
const HOLES = /\[[?=][^[\]]*\]/g;

/**
 * Words of two letters and more in the texts of all photos, as they are written, with the number of photos that have
 * them.
 */
export function textWords(columns: Columns): UsedWord[] {
  const counts = new Map<string, number>();
  for (const slot of live(columns)) {
    const words = new Set<string>();
    for (const key of SPELT) {
      const value = columns.field(key, slot);
      for (const text of typeof value === 'string' ? [value] : wordsIn(value))
        for (const [word] of text.replace(HOLES, ' ').matchAll(TEXT_WORD))
          if (word.length > 1 && word.length <= LONGEST) words.add(word.normalize('NFC').replaceAll('’', "'"));
    }
    for (const word of words) counts.set(word, (counts.get(word) ?? 0) + 1);
  }
  return [...counts].map(([word, count]) => ({ word, count }));
}

/** The text with a word put in the place of another, wherever that stands as a whole word. */
export function replaceInText(text: string, word: string, right: string): string {
  return text.replace(TEXT_WORD, (found) => (found.normalize('NFC').replaceAll('’', "'") === word ? right : found));
}
