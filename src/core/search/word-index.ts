// Words and where they stand: for each word the photos, by slot, that carry it, and beside each the number of the set of
// places in which the word stands there. Words are kept sorted for prefixes; words seen since the last sort wait in a short
// list that is read through.

import { lowerBound } from './lower-bound';
import { PlaceSets } from './place-sets';

const RECENT_WORDS_LIMIT = 2000;

interface Posting {
  slots: number[];
  /** Numbers of place sets. */
  places: number[];
}

export type WordPlaces = Map<string, number>;

export class WordIndex {
  private readonly postings = new Map<string, Posting>();
  private readonly placeSets = new PlaceSets();
  private sortedWords: string[] = [];
  private recentWords: string[] = [];

  /** Adds a word of a photo's `place` to what is known of it so far. */
  note(words: WordPlaces, word: string, place: string): void {
    words.set(word, this.placeSets.with(words.get(word), place));
  }

  /** An edit changes a few words of many: only those are posted anew. */
  change(slot: number, before: WordPlaces | null, after: WordPlaces): void {
    for (const [word, places] of before ?? []) if (after.get(word) !== places) this.unpost(slot, word);
    for (const [word, places] of after) if (before?.get(word) !== places) this.post(slot, word, places);
  }

  /** 1 for every slot that carries a word with this beginning in a place that passes. */
  withPrefix(prefix: string, length: number, passes: (place: string) => boolean): Uint8Array {
    const sets = this.placeSets.withAny(passes);
    const found = new Uint8Array(length);
    for (const word of this.wordsWith(prefix)) {
      const posting = this.postings.get(word);
      posting?.slots.forEach((slot, index) => {
        if (sets[posting.places[index] ?? 0] === 1) found[slot] = 1;
      });
    }
    return found;
  }

  private post(slot: number, word: string, places: number): void {
    let posting = this.postings.get(word);
    if (!posting) {
      posting = { slots: [], places: [] };
      this.postings.set(word, posting);
      this.recentWords.push(word);
    }
    const last = posting.slots.at(-1);
    if (last === undefined || last < slot) {
      posting.slots.push(slot);
      posting.places.push(places);
      return;
    }
    const at = lowerBound(posting.slots, slot);
    posting.slots.splice(at, 0, slot);
    posting.places.splice(at, 0, places);
  }

  private unpost(slot: number, word: string): void {
    const posting = this.postings.get(word);
    if (!posting) return;
    const at = lowerBound(posting.slots, slot);
    if (posting.slots[at] !== slot) return;
    posting.slots.splice(at, 1);
    posting.places.splice(at, 1);
  }

  private wordsWith(prefix: string): string[] {
    if (this.recentWords.length > RECENT_WORDS_LIMIT) {
      this.sortedWords = [...this.postings.keys()].sort();
      this.recentWords = [];
    }
    const words = this.recentWords.filter((word) => word.startsWith(prefix));
    for (let at = lowerBound(this.sortedWords, prefix); this.sortedWords[at]?.startsWith(prefix); at++) words.push(this.sortedWords[at] ?? '');
    return words;
  }
}
