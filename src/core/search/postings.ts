// Words and where they stand: for each word the photos, by slot, that carry it, and beside each the number of the set
// of places in which the word stands there. What is settled lies in sorted arrays, which are saved and opened as they
// are, and in which all words with one beginning lie side by side; a word whose list changed has a list of its own
// until it is settled again.

import { type Bits, setBit } from './bit-set';
import { lowerBound } from '../text/lower-bound';
import type { Sections } from './sections';

/** Words that are new since the last sorting wait in a short list that is read through. */
const RECENT_WORDS_LIMIT = 2000;

class OwnList {
  slots: Uint32Array;
  codes: Uint16Array;
  length: number;

  constructor(slots: Uint32Array, codes: Uint16Array) {
    this.length = slots.length;
    const room = Math.max(2, Math.ceil(slots.length * 1.25));
    this.slots = new Uint32Array(room);
    this.codes = new Uint16Array(room);
    if (slots.length === 0) return;
    this.slots.set(slots);
    this.codes.set(codes);
  }

  put(slot: number, code: number): void {
    if (this.length === 0 || (this.slots[this.length - 1] as number) < slot) {
      if (this.length === this.slots.length) this.grow();
      this.slots[this.length] = slot;
      this.codes[this.length] = code;
      this.length += 1;
      return;
    }
    const at = lowerBound(this.slots.subarray(0, this.length), slot);
    if (this.slots[at] === slot) {
      this.codes[at] = code;
      return;
    }
    if (this.length === this.slots.length) this.grow();
    this.slots.copyWithin(at + 1, at, this.length);
    this.codes.copyWithin(at + 1, at, this.length);
    this.slots[at] = slot;
    this.codes[at] = code;
    this.length += 1;
  }

  take(slot: number): void {
    const at = lowerBound(this.slots.subarray(0, this.length), slot);
    if (at >= this.length || this.slots[at] !== slot) return;
    this.slots.copyWithin(at, at + 1, this.length);
    this.codes.copyWithin(at, at + 1, this.length);
    this.length -= 1;
  }

  private grow(): void {
    const [slots, codes] = [this.slots, this.codes];
    this.slots = new Uint32Array(this.length * 2);
    this.codes = new Uint16Array(this.length * 2);
    this.slots.set(slots);
    this.codes.set(codes);
  }
}

export class Postings {
  private words: readonly string[] = [];
  private starts = new Uint32Array(1);
  private slots = new Uint32Array(0);
  private codes = new Uint16Array(0);
  /** Of the settled words, those that have a list of their own now. */
  private readonly own = new Map<string, OwnList>();
  private stale = new Uint8Array(0);
  private newWords: string[] = [];
  private recentWords: string[] = [];

  /** Photos that carry the word, about: what a query costs. */
  countOf(word: string): number {
    const own = this.own.get(word);
    if (own) return own.length;
    const at = this.settledAt(word);
    return at < 0 ? 0 : (this.starts[at + 1] ?? 0) - (this.starts[at] ?? 0);
  }

  put(word: string, slot: number, code: number): void {
    this.ownOf(word).put(slot, code);
  }

  take(word: string, slot: number): void {
    this.ownOf(word).take(slot);
  }

  /** Sets the bit of every photo that carries a word with this beginning where `passes`, by code, is not 0. */
  mark(prefix: string, predicate: Uint8Array, into: Bits): void {
    const from = lowerBound(this.words, prefix);
    let to = from;
    while (to < this.words.length && this.words[to]?.startsWith(prefix)) to += 1;
    for (let at = from; at < to; at++)
      if (this.stale[at] !== 1)
        this.markRange(this.slots, this.codes, this.starts[at] ?? 0, this.starts[at + 1] ?? 0, predicate, into);
    if (this.own.size === 0) return;
    for (let at = from; at < to; at++) if (this.stale[at] === 1) this.markOwn(this.words[at] ?? '', predicate, into);
    this.sortNew();
    for (let at = lowerBound(this.newWords, prefix); this.newWords[at]?.startsWith(prefix); at++)
      this.markOwn(this.newWords[at] ?? '', predicate, into);
    for (const word of this.recentWords) if (word.startsWith(prefix)) this.markOwn(word, predicate, into);
  }

  /** The same for just this word. */
  markWord(word: string, predicate: Uint8Array, into: Bits): void {
    if (this.own.has(word)) return this.markOwn(word, predicate, into);
    const at = this.settledAt(word);
    if (at >= 0)
      this.markRange(this.slots, this.codes, this.starts[at] ?? 0, this.starts[at + 1] ?? 0, predicate, into);
  }

  /** Words with this beginning that some photo carries, at most `limit` looked at, with how many photos do. */
  wordsWith(prefix: string, limit: number): { word: string; count: number }[] {
    const found: { word: string; count: number }[] = [];
    const add = (word: string) => {
      const count = this.countOf(word);
      if (count > 0) found.push({ word, count });
    };
    for (let at = lowerBound(this.words, prefix); found.length < limit && this.words[at]?.startsWith(prefix); at++)
      add(this.words[at] ?? '');
    this.sortNew();
    for (
      let at = lowerBound(this.newWords, prefix);
      found.length < limit && this.newWords[at]?.startsWith(prefix);
      at++
    )
      add(this.newWords[at] ?? '');
    for (const word of this.recentWords) if (word.startsWith(prefix)) add(word);
    return found;
  }

  *allWords(): Iterable<string> {
    yield* this.words;
    yield* this.newWords;
    yield* this.recentWords;
  }

  /** Everything into the sorted arrays: words between those with lists of their own are copied as one run. */
  settle(): void {
    if (this.own.size === 0) return;
    let total = this.slots.length;
    for (let at = 0; at < this.stale.length; at++)
      if (this.stale[at] === 1) total -= (this.starts[at + 1] ?? 0) - (this.starts[at] ?? 0);
    for (const { length } of this.own.values()) total += length;
    const [slots, codes] = [new Uint32Array(total), new Uint16Array(total)];
    const words: string[] = [];
    const starts: number[] = [0];
    let [from, end] = [0, 0];
    const takeOver = (to: number) => {
      const first = this.starts[from] ?? 0;
      slots.set(this.slots.subarray(first, this.starts[to]), end);
      codes.set(this.codes.subarray(first, this.starts[to]), end);
      for (let at = from; at < to; at++) {
        words.push(this.words[at] as string);
        starts.push(end + (this.starts[at + 1] as number) - first);
      }
      end = starts.at(-1) ?? 0;
      from = to;
    };
    for (const word of [...this.own.keys()].sort()) {
      const at = lowerBound(this.words, word);
      takeOver(at);
      if (this.words[at] === word) from = at + 1;
      const list = this.own.get(word);
      if (!list || list.length === 0) continue;
      slots.set(list.slots.subarray(0, list.length), end);
      codes.set(list.codes.subarray(0, list.length), end);
      words.push(word);
      starts.push((end += list.length));
    }
    takeOver(this.words.length);
    this.own.clear();
    this.newWords = [];
    this.recentWords = [];
    [this.words, this.starts, this.slots, this.codes] = [words, Uint32Array.from(starts), slots, codes];
    this.stale = new Uint8Array(words.length);
  }

  save(sections: Sections, name: string): void {
    this.settle();
    sections.put(`${name}.words`, new TextEncoder().encode(this.words.join('\n')));
    sections.put(`${name}.starts`, this.starts);
    sections.put(`${name}.slots`, this.slots);
    sections.put(`${name}.codes`, this.codes);
  }

  static open(sections: Sections, name: string): Postings {
    const postings = new Postings();
    const words = new TextDecoder().decode(sections.get(`${name}.words`, Uint8Array));
    postings.words = words === '' ? [] : words.split('\n');
    postings.starts = sections.get(`${name}.starts`, Uint32Array);
    postings.slots = sections.get(`${name}.slots`, Uint32Array);
    postings.codes = sections.get(`${name}.codes`, Uint16Array);
    postings.stale = new Uint8Array(postings.words.length);
    return postings;
  }

  private markRange(
    slots: Uint32Array,
    codes: Uint16Array,
    from: number,
    to: number,
    predicate: Uint8Array,
    into: Bits,
  ): void {
    for (let at = from; at < to; at++) {
      if (predicate[codes[at] as number] !== 1) continue;
      const slot = slots[at] as number;
      into[slot >>> 5] = (into[slot >>> 5] as number) | (1 << (slot & 31));
    }
  }

  private markOwn(word: string, predicate: Uint8Array, into: Bits): void {
    const list = this.own.get(word);
    if (!list) return;
    for (let at = 0; at < list.length; at++)
      if (predicate[list.codes[at] ?? 0] === 1) setBit(into, list.slots[at] ?? 0);
  }

  private ownOf(word: string): OwnList {
    const known = this.own.get(word);
    if (known) return known;
    const at = this.words.length === 0 ? -1 : this.settledAt(word);
    const [from, to] = at < 0 ? [0, 0] : [this.starts[at], this.starts[at + 1]];
    const own = new OwnList(this.slots.subarray(from, to), this.codes.subarray(from, to));
    this.own.set(word, own);
    if (at >= 0) this.stale[at] = 1;
    else this.recentWords.push(word);
    return own;
  }

  private settledAt(word: string): number {
    const at = lowerBound(this.words, word);
    return this.words[at] === word ? at : -1;
  }

  private sortNew(): void {
    if (this.recentWords.length <= RECENT_WORDS_LIMIT) return;
    this.newWords = [...this.newWords, ...this.recentWords].sort();
    this.recentWords = [];
  }
}
