// Columns of values that repeat: each photo has a number, the values stand once each beside them. A number takes one,
// two or four bytes, as many as the values ask for.

import { type Sections } from './sections';
import { grown, Strings } from './strings';
import { plain } from '../text/fold';

type Numbers = Uint8Array<ArrayBuffer> | Uint16Array<ArrayBuffer> | Uint32Array<ArrayBuffer>;

/** Whole numbers from 0, by slot; 0 where nothing was set. */
export class NumberColumn {
  private numbers: Numbers = new Uint8Array(0);

  get(slot: number): number {
    return this.numbers[slot] ?? 0;
  }

  set(slot: number, value: number): void {
    if (value > 255 && this.numbers instanceof Uint8Array) this.numbers = new Uint16Array(this.numbers);
    if (value > 65_535 && !(this.numbers instanceof Uint32Array)) this.numbers = new Uint32Array(this.numbers);
    if (slot >= this.numbers.length) {
      if (value === 0) return;
      this.numbers = grown(this.numbers, slot + 1);
    }
    this.numbers[slot] = value;
  }

  /** For loops over many photos: one of the three kinds of array, perhaps shorter than there are photos. */
  get raw(): Numbers {
    return this.numbers;
  }

  save(sections: Sections, name: string, size: number): void {
    sections.put(name, this.numbers.slice(0, size));
  }

  static open(sections: Sections, name: string): NumberColumn {
    const column = new NumberColumn();
    for (const kind of [Uint8Array, Uint16Array, Uint32Array]) {
      const found = sections.get<Numbers>(name, kind as new (length: number) => Numbers);
      if (found.length > 0) column.numbers = found;
    }
    return column;
  }
}

/** One text a photo, or none. */
export class TextColumn {
  private numbers = new NumberColumn();
  strings = new Strings();

  /** 0 for none. */
  number(slot: number): number {
    return this.numbers.get(slot);
  }

  get raw(): Numbers {
    return this.numbers.raw;
  }

  /** How many numbers there are, 0 included. */
  get numberCount(): number {
    return this.strings.size + 1;
  }

  text(slot: number): string {
    return this.textOf(this.numbers.get(slot));
  }

  textOf(number: number): string {
    return number === 0 ? '' : this.strings.text(number - 1);
  }

  /** The number of a text; −1 where no photo ever had it. */
  find(text: string): number {
    return text === '' ? 0 : this.strings.find(text) + 1 || -1;
  }

  /** @returns whether that changed anything */
  set(slot: number, text: string): boolean {
    const number = text === '' ? 0 : this.strings.number(text) + 1;
    if (number === this.numbers.get(slot)) return false;
    this.numbers.set(slot, number);
    return true;
  }

  save(sections: Sections, name: string, size: number): void {
    this.numbers.save(sections, `${name}.numbers`, size);
    this.strings.save(sections, name);
  }

  static open(sections: Sections, name: string): TextColumn {
    const column = new TextColumn();
    column.numbers = NumberColumn.open(sections, `${name}.numbers`);
    column.strings = Strings.open(sections, name);
    return column;
  }
}

/** A list of words a photo. What a change leaves behind in the array goes when it is saved. */
export class ListColumn {
  private starts = new Uint32Array(0);
  private counts = new Uint16Array(0);
  private items = new Uint32Array(64);
  private end = 0;
  private strings = new Strings();
  /** Of each word, by its number, the number of its plain form: spellings of one word share it. */
  private formOf = new Uint32Array(0);
  private plainForms = new Strings();

  get words(): Strings {
    return this.strings;
  }

  /**
   * Of these photos how many carry each form, by its number; a photo that has two spellings of one word counts once.
   */
  countForms(slots: ArrayLike<number>): Uint32Array {
    const { items, starts, counts: lengths, formOf } = this;
    const counts = new Uint32Array(this.plainForms.size);
    if (counts.length === this.strings.size) {
      // one spelling each: words and forms have the same numbers
      this.countInto(slots, counts);
      return counts;
    }
    const last = new Uint32Array(counts.length); // the photo that was counted last, one up
    for (let index = 0; index < slots.length; index++) {
      const slot = slots[index] as number;
      const start = starts[slot] ?? 0;
      const end = start + (lengths[slot] ?? 0);
      for (let at = start; at < end; at++) {
        const form = formOf[items[at] as number] as number;
        if (last[form] === slot + 1) continue;
        last[form] = slot + 1;
        counts[form] = (counts[form] as number) + 1;
      }
    }
    return counts;
  }

  /** For each of these forms the spelling most of these photos have. */
  spellings(forms: readonly number[], slots: ArrayLike<number>): Map<number, string> {
    const wanted = new Set(forms);
    const best = new Map<number, number>();
    // without, each form has one spelling
    const counts = this.strings.size > this.plainForms.size ? new Uint32Array(this.strings.size) : null;
    if (counts) this.countInto(slots, counts);
    for (let number = 0; number < this.strings.size; number++) {
      const form = this.formOf[number] as number;
      const before = wanted.has(form) ? best.get(form) : null;
      if (before === undefined || (before !== null && counts && (counts[number] ?? 0) > (counts[before] ?? 0)))
        best.set(form, number);
    }
    return new Map(Array.from(best, ([form, number]) => [form, this.strings.text(number)]));
  }

  /** Numbers of the words, as they stand. */
  numbers(slot: number): Uint32Array {
    const start = this.starts[slot] ?? 0;
    return this.items.subarray(start, start + (this.counts[slot] ?? 0));
  }

  texts(slot: number): string[] {
    return Array.from(this.numbers(slot), (number) => this.strings.text(number));
  }

  /** Adds, for these photos, how many carry each word, by its number. */
  countInto(slots: ArrayLike<number>, counts: Uint32Array): void {
    const { items, starts, counts: lengths } = this;
    for (let index = 0; index < slots.length; index++) {
      const slot = slots[index] as number;
      const start = starts[slot] ?? 0;
      const end = start + (lengths[slot] ?? 0);
      for (let at = start; at < end; at++) counts[items[at] as number] = (counts[items[at] as number] as number) + 1;
    }
  }

  set(slot: number, words: readonly string[]): void {
    if (slot >= this.starts.length) {
      if (words.length === 0) return;
      this.starts = grown(this.starts, slot + 1);
      this.counts = grown(this.counts, slot + 1);
    }
    const numbers = [...new Set(words.slice(0, 65_535).map((word) => this.numberOf(word)))];
    const start = numbers.length <= (this.counts[slot] ?? 0) ? (this.starts[slot] ?? 0) : this.end;
    if (start + numbers.length > this.items.length) this.items = grown(this.items, start + numbers.length);
    this.items.set(numbers, start);
    this.starts[slot] = start;
    this.counts[slot] = numbers.length;
    this.end = Math.max(this.end, start + numbers.length);
  }

  private numberOf(word: string): number {
    const before = this.strings.size;
    const number = this.strings.number(word);
    if (number < before) return number;
    if (number >= this.formOf.length) this.formOf = grown(this.formOf, number + 1);
    this.formOf[number] = this.plainForms.number(plain(word));
    return number;
  }

  save(sections: Sections, name: string, size: number): void {
    const counts = this.counts.slice(0, size);
    const starts = new Uint32Array(counts.length);
    const items = new Uint32Array(counts.reduce((sum, number) => sum + number, 0));
    let end = 0;
    for (let slot = 0; slot < counts.length; slot++) {
      starts[slot] = end;
      const first = this.starts[slot] as number;
      const last = first + (counts[slot] as number);
      for (let at = first; at < last; at++) items[end++] = this.items[at] as number;
    }
    sections.put(`${name}.starts-of`, starts);
    sections.put(`${name}.counts`, counts);
    sections.put(`${name}.items`, items);
    this.strings.save(sections, name);
    sections.put(`${name}.form-of`, this.formOf.slice(0, this.strings.size));
    this.plainForms.save(sections, `${name}.forms`);
  }

  static open(sections: Sections, name: string): ListColumn {
    const column = new ListColumn();
    column.starts = sections.get(`${name}.starts-of`, Uint32Array);
    column.counts = sections.get(`${name}.counts`, Uint16Array);
    column.items = sections.get(`${name}.items`, Uint32Array);
    column.end = column.items.length;
    column.strings = Strings.open(sections, name);
    column.formOf = sections.get(`${name}.form-of`, Uint32Array);
    column.plainForms = Strings.open(sections, `${name}.forms`);
    return column;
  }
}
